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
  int style = 0;             ///< index of colour, marker and line pattern
  bool line = true;
  bool markers = false;
  bool upward_arrows = false;  ///< censored: more than this
  bool faint = false;
  bool label_at_end = false;
  bool label_at_start = false;
  bool ink = false;            ///< in the text colour, thin and dashed
  std::vector<double> y_low, y_high;  ///< a band when filled
};

struct PlotAxes {
  QString x_label, y_label;
  bool x_log = false, y_log = false;
  std::optional<std::pair<double, double>> x_range{};  ///< empty: from the data
};

/// A plot with what every plot of the program can do: zoom by wheel and drag, double click back,
/// readout under the cursor, copy as picture, save as SVG, PNG or PDF, copy data as CSV; and, where
/// asked for, a horizontal line that can be dragged.
class PlotView : public QWidget {
  Q_OBJECT
 public:
  explicit PlotView(QWidget* parent = nullptr);
  void show_plot(const PlotAxes& axes, const std::vector<PlotSeries>& series);
  /// Draws or moves the line; empty takes it away.
  void set_threshold(std::optional<double> y, const QString& label);
  /// Lines through a point to both axes, to read an answer off.
  void set_reading_lines(const std::vector<QPointF>& points);
  void set_empty_text(const QString& text);
  [[nodiscard]] QString data_as_csv() const;
  bool save(const QString& path);
  [[nodiscard]] std::optional<double> threshold() const { return threshold_; }
  /// Pixel row of the line, for tests that drag it.
  [[nodiscard]] QPoint threshold_handle() const;
  [[nodiscard]] QWidget* canvas() const;
  void retheme();

 signals:
  void threshold_dragged(double y);   ///< while it moves
  void threshold_dropped(double y);   ///< when it is let go

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void draw();
  void draw_series(const PlotSeries& series);
  void place_threshold();
  void show_readout(QPointF position);
  void open_menu(QPoint position);
  void fit_ranges();

  QCustomPlot* plot_;
  PlotAxes axes_;
  std::vector<PlotSeries> series_;
  std::vector<QPointF> reading_lines_;
  std::optional<double> threshold_;
  QString threshold_label_, empty_text_;
  QCPItemStraightLine* line_ = nullptr;
  QCPItemText* line_text_ = nullptr;
  QCPItemText* readout_ = nullptr;
  bool dragging_ = false;
};

}  // namespace bq::ui
