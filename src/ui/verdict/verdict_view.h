#pragma once

#include <QWidget>

#include "ui/verdict/verdict_model.h"

class QLabel;
class QListView;
class QPushButton;
class QStackedWidget;
class QTableWidget;

namespace bq::ui {

class ChanceBand;
class ComparePanel;
class EdgeGlyph;
class HalfHourPanel;
class LimitsBar;
class LimitsPanel;
class RankedEdgeModel;

/// Station Verdict. The answer stands over everything: the edge, the sentence, how sure it is as
/// one band, what speaks against it. Below a bar with the limits that are set, and the ranked
/// edges. What is looked up now and then opens beside them: limits and wishes, the reasons of the
/// chosen edge, two edges side by side. Three pages: which edge, the schools and the customs, the
/// best next half hour.
class VerdictView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { edge, schools, half_hour };
  explicit VerdictView(Workbench& workbench, QWidget* parent = nullptr);
  void open_page(Page page);
  [[nodiscard]] QString count_line() const;
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] RankedEdgeModel* edges() const { return edges_; }
  [[nodiscard]] LimitsPanel* limits() const { return limits_; }
  [[nodiscard]] LimitsBar* limits_bar() const { return bar_; }
  [[nodiscard]] const ChanceBand* band() const { return band_; }
  enum class Beside { none, why, compare };
  void open_beside(Beside what);
  [[nodiscard]] ComparePanel* compare() const { return compare_; }
  [[nodiscard]] HalfHourPanel* half_hour() const { return half_hour_; }
  [[nodiscard]] bool settled() const;
  /// Writes the report (.html, .pdf, .xlsx by the ending); a worker does it, told() or refused()
  /// follows.
  void write_report(const QString& path);
  [[nodiscard]] bool reporting() const { return reporting_.busy(); }

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void lay_out();
  void listen();
  QWidget* make_edge_page();
  QWidget* make_beside();
  QWidget* make_schools_page();
  void show_verdict();
  void show_first(const Recommendation& answer);
  void show_next(const Recommendation& answer);
  void show_marks();
  void begin_search();
  void show_reasons(int row);
  void show_schools();
  void save_report();
  void print_report();
  struct ReportWork;
  /// All that a report is made from, as it is now; null where there is nothing to report.
  [[nodiscard]] std::shared_ptr<ReportWork> report_work() const;
  void say_writing(bool writing);
  void save_card();

  Workbench& workbench_;
  LimitsPanel* limits_;
  VerdictModel* model_;
  RankedEdgeModel* edges_;
  LimitsBar* bar_;
  ChanceBand* band_;
  EdgeGlyph* glyph_;
  ComparePanel* compare_;
  HalfHourPanel* half_hour_;
  QStackedWidget *pages_, *beside_;
  std::vector<QPushButton*> tabs_;
  QPushButton *why_, *against_;
  QListView* list_;
  QWidget* ranking_;  ///< all that is shown of edges: away while there are none
  QLabel *sentence_, *marks_, *reasons_, *next_, *rule_, *schools_;
  QTableWidget* starting_;
  QPushButton *card_, *report_, *print_, *plan_;
  LatestJob<std::shared_ptr<QString>> reporting_;
};

}  // namespace bq::ui
