#pragma once

#include <QPointF>
#include <QString>
#include <QWidget>
#include <optional>
#include <vector>

class QCustomPlot;
class QCPAxis;
class QCPItemStraightLine;
class QCPItemText;

namespace bq::ui {

/// One thing drawn in a plot.
struct PlotSeries {
  QString name;
  std::vector<double> x, y;
  int style = 0;  ///< index of colour, marker and line pattern
  bool line = true;
  bool markers = false;
  bool upward_arrows = false;  ///< censored: more than this
  bool faint = false;
  bool label_at_end = false;
  bool label_at_start = false;
  bool ink = false;                   ///< in the text colour, thin and dashed
  std::vector<double> y_low, y_high;  ///< when filled a band, or bars where no line is drawn
  std::vector<QString>
      runs;  ///< the run of each point, where points belong to runs: they can be picked
};

struct PlotAxes {
  QString x_label, y_label;
  bool x_log = false, y_log = false;
  std::optional<std::pair<double, double>> x_range{};  ///< empty: from the data
  QStringList x_words{};  ///< names at x = 0, 1, 2 … instead of numbers
};

/// A plot with what every plot of the program can do: zoom by wheel and drag, double click back,
/// readout under the cursor, copy as picture, save as SVG, PNG or PDF, copy data as CSV; and, where
/// asked for, a horizontal line that can be dragged.
class PlotView : public QWidget {
  Q_OBJECT
 public:
  explicit PlotView(QWidget* parent = nullptr);
  void show_plot(const PlotAxes& axes, const std::vector<PlotSeries>& series);
  /// Draws or moves the line; empty takes it away. A fixed one cannot be dragged.
  void set_threshold(std::optional<double> y, const QString& label, bool fixed = false);
  /// Lines through a point to both axes, to read an answer off.
  void set_reading_lines(const std::vector<QPointF>& points);
  void set_empty_text(const QString& text);
  /// The run lit up in this picture; "" none.
  void light_run(const QString& run);
  [[nodiscard]] QString lit_run() const { return lit_; }
  /// Pixel of a run's first point, for tests that click it; null where it is not drawn.
  [[nodiscard]] QPoint point_of(const QString& run) const;
  [[nodiscard]] QString data_as_csv() const;
  /// What the plot shows, for whoever does not see it: axes, and each series' ends and range.
  [[nodiscard]] QString in_words() const;
  bool save(const QString& path);
  [[nodiscard]] std::optional<double> threshold() const { return threshold_; }
  /// Pixel row of the line, for tests that drag it.
  [[nodiscard]] QPoint threshold_handle() const;
  [[nodiscard]] QWidget* canvas() const;
  void retheme();

 signals:
  void threshold_dragged(double y);  ///< while it moves
  void threshold_dropped(double y);  ///< when it is let go
  void run_picked(const QString& run);

 protected:
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void draw();
  void draw_series(const PlotSeries& series);
  void spread_labels();
  void place_threshold();
  void show_readout(QPointF position);
  void open_menu(QPoint position);
  void fit_ranges();
  void draw_lit();
  [[nodiscard]] QString run_at(QPointF position) const;

  QCustomPlot* plot_;
  PlotAxes axes_;
  std::vector<PlotSeries> series_;
  std::vector<QPointF> reading_lines_;
  std::optional<double> threshold_;
  QString threshold_label_, empty_text_, lit_;
  QPoint pressed_;
  QCPItemStraightLine* line_ = nullptr;
  QCPItemText* line_text_ = nullptr;
  QCPItemText* readout_ = nullptr;
  std::vector<std::pair<QCPItemText*, double>> end_labels_;  ///< and where their lines end
  bool dragging_ = false, fixed_ = false;
};

}  // namespace bq::ui
