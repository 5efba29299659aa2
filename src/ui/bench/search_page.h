#pragma once

#include <QWidget>

#include "bluntness/damage_search.h"
#include "ui/bench/bench_model.h"
#include "ui/bench/search_sketch.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QLabel;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

class LookPanel;
class SearchSetup;

/// The rounds of a damage search as a staircase: angle upward, rounds to the right, what was seen
/// as a mark and a word.
class Staircase : public QWidget {
  Q_OBJECT
 public:
  explicit Staircase(QWidget* parent = nullptr);
  void show_search(const DamageSearch& search, const SearchProposal& next,
                   AngleConvention convention);
  [[nodiscard]] QString words() const;  ///< as it is read, for tests

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  DamageSearch search_;
  SearchProposal next_;
  AngleConvention convention_ = AngleConvention::per_side;
};

/// The search for the slimmest geometry that holds: proposes, takes what was seen, bounds the
/// damage rate, says when to stop.
class SearchPage : public QWidget {
  Q_OBJECT
 public:
  SearchPage(Workbench& workbench, BenchModel& model, QWidget* parent = nullptr);
  [[nodiscard]] QString instruction() const;
  [[nodiscard]] QString bound() const;
  [[nodiscard]] Staircase* staircase() const { return stairs_; }

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void showEvent(QShowEvent* event) override;

 private:
  void lay_out();
  QWidget* make_work();
  void reload();
  void begin();
  void show_setup(const DamageSearch* begun);
  void block_made();
  void keep_round(const LookEvent& look);
  void keep_end();
  [[nodiscard]] const BenchSession* session() const;
  [[nodiscard]] const DamageSearch* search() const;
  [[nodiscard]] SearchProposal proposal() const;
  void keep(DamageSearch search, const QString& what,
            const std::vector<EdgeRecordData>& records = {});

  Workbench& workbench_;
  BenchModel& model_;
  bool cautioned_ = false;   ///< the caution was read before a block of this sitting
  std::int64_t chosen_ = 0;  ///< id of the session; 0: a new one is being set up
  QComboBox* sessions_;
  SearchSetup* setup_;
  QStackedWidget* middle_;
  QLabel *instruction_, *figure_, *reason_, *bound_, *said_, *caution_;
  QPushButton *made_, *end_, *new_;
  NumberEntry *cuts_, *angle_, *bevel_, *micro_made_;
  LookPanel* look_;
  Staircase* stairs_;
  SearchSketch* sketch_;
};

}  // namespace bq::ui
