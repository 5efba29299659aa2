// The signal of a change says what was touched, and whoever shows nothing of that does not look
// again: what is on the screen then is what a look at everything would have shown.
#include <gtest/gtest.h>

#include <QAbstractItemView>
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <map>

#include "store/bench_json.h"
#include "store/plan_file.h"
#include "ui/findings/findings_view.h"
#include "ui/frame/enough_line.h"
#include "ui/verdict/verdict_view.h"
#include "ui/whole_station.h"
#include "workflow/gauge_table.h"
#include "workflow/limits.h"
#include "workflow/section_study.h"
#include "workflow/stone_truth.h"

using namespace bq;

namespace {

constexpr Station kMayStay[] = {Station::plan, Station::bench, Station::lens, Station::findings,
                                Station::verdict};

/// All that is said on a station, line by line.
QStringList said_on(QWidget* station) {
  QStringList out;
  for (QWidget* widget : station->findChildren<QWidget*>()) {
    if (!widget->isVisible()) continue;
    if (auto* label = qobject_cast<QLabel*>(widget)) out << label->text();
    if (auto* button = qobject_cast<QAbstractButton*>(widget))
      out << button->text() + (button->isChecked() ? " on" : "");
    if (auto* edit = qobject_cast<QLineEdit*>(widget)) out << edit->text();
    if (auto* box = qobject_cast<QComboBox*>(widget)) out << box->currentText();
    if (auto* view = qobject_cast<QAbstractItemView*>(widget); view && view->model())
      for (int row = 0; row < view->model()->rowCount(); ++row)
        for (int column = 0; column < view->model()->columnCount(); ++column)
          out << view->model()->index(row, column).data().toString();
  }
  return out;
}

struct Tried {
  const char* name;
  std::function<void(ProjectSession&)> does;
};

const std::vector<Tried>& acts() {
  static const std::vector<Tried> kActs{
      {"a section in hand",
       [](ProjectSession& s) {
         s.keep("section-draft:" + std::to_string(s.trial().blades[0].id),
                R"({"stock_mm":3,"height_mm":22,"grinds":[]})", "a section");
       }},
      {"limits",
       [](ProjectSession& s) { s.keep(kVerdictKey, R"({"least_life": 900})", "the limits"); }},
      {"the plans",
       [](ProjectSession& s) {
         auto book = *parse_plan_book(s.kept(kPlanBookKey));
         book.plans.at(0).plan.name += ", second try";
         s.keep(kPlanBookKey, plan_book_json(book), "the plans");
       }},
      {"instruments",
       [](ProjectSession& s) {
         InstrumentProfile gauge = usual_profile(InstrumentRole::gauge);
         gauge.name = "other gauge";
         s.keep(kInstrumentsKey, instruments_json({gauge}), "instruments");
       }},
      {"known stones",
       [](ProjectSession& s) {
         s.keep(kReferenceStonesKey, s.trial().shelf[0].name, "a known stone");
       }},
      {"questions of the section",
       [](ProjectSession& s) { s.keep(kSectionQuestionsKey, "{}", "the questions"); }},
      {"a gauge study", [](ProjectSession& s) { s.keep(kGaugeStudyKey, "{}", "a gauge study"); }},
      {"an abrasive",
       [](ProjectSession& s) {
         Abrasive stone = s.trial().shelf[0];
         stone.measured_um = 77;
         s.set_abrasive(stone);
       }},
      {"a steel",
       [](ProjectSession& s) {
         SteelCard card = s.trial().steels.at(0);
         card.hardness_hrc = 51;
         s.set_steel_card(card);
       }},
      {"a comparison",
       [](ProjectSession& s) {
         Comparison comparison = s.trial().comparisons.at(0);
         comparison.name += " again";
         s.set_comparison(comparison);
       }},
      {"a session at the bench",
       [](ProjectSession& s) {
         BenchSession session = s.bench_sessions().back();
         session.id = 0;
         s.set_bench_session(session, "a session");
       }},
      {"a blade's name",
       [](ProjectSession& s) {
         Blade blade = s.trial().blades[0];
         blade.name += " B";
         s.update_blade(0, blade);
       }},
      {"readings taken out",
       [](ProjectSession& s) { s.flag_readings({{0, 0}, {0, 1}}, "the gauge was off"); }},
      {"a picture's note",
       [](ProjectSession& s) {
         Micrograph picture = s.trial().micrographs.back();
         picture.note = "oiled";
         picture.magnification = "17x";
         s.set_micrograph(picture, "a note");
       }},
  };
  return kActs;
}

class Touching : public testing::Test {
 protected:
  void SetUp() override {
    window_ = test::window_on_demo(folder_);
    ASSERT_TRUE(window_);
    for (const Station which : kMayStay) ASSERT_TRUE(settled(which));
  }
  /// Goes there and waits until it has its answer.
  bool settled(Station which) {
    window_->go_to(which);
    QWidget* station = window_->station(which);
    auto* findings = qobject_cast<ui::FindingsView*>(station);
    auto* verdict = qobject_cast<ui::VerdictView*>(station);
    const bool done = test::wait_for([&] {
      return window_->workbench().all_kept() && !window_->workbench().fitting() &&
             (!findings || findings->settled()) && (!verdict || verdict->settled()) && sure();
    });
    QTest::qWait(5);
    return done;
  }
  bool sure() { return ui::EnoughLine::all_settled(*window_); }
  std::map<Station, QStringList> all_said() {
    std::map<Station, QStringList> out;
    for (const Station which : kMayStay) {
      EXPECT_TRUE(settled(which));
      out[which] = said_on(window_->station(which));
    }
    return out;
  }
  void same_as_after_a_whole_look(const char* what) {
    const auto shown = all_said();
    emit window_->workbench().changed(Touched::everything());
    const auto whole = all_said();
    for (const Station which : kMayStay)
      EXPECT_EQ(shown.at(which).join(QLatin1Char('\n')).toStdString(),
                whole.at(which).join(QLatin1Char('\n')).toStdString())
          << what;
  }
  test::Folder folder_;
  std::unique_ptr<ui::MainWindow> window_;
};

}  // namespace

TEST_F(Touching, WhatIsShownAfterAnActIsWhatALookAtEverythingShows) {
  for (const auto& act : acts()) {
    const auto changes = window_->workbench().session().changes();
    ASSERT_TRUE(window_->workbench().edit(act.does)) << act.name;
    EXPECT_GT(window_->workbench().session().changes(), changes) << act.name;
    same_as_after_a_whole_look(act.name);
  }
  for (auto act = acts().rbegin(); act != acts().rend(); ++act) window_->workbench().undo();
  same_as_after_a_whole_look("all taken back");
}

// A section that is being drawn asks nothing of the answers: they are not worked out again.
TEST_F(Touching, ATextInHandLeavesTheAnswersAlone) {
  auto* verdict = static_cast<ui::VerdictView*>(window_->station(Station::verdict));
  ASSERT_TRUE(settled(Station::verdict));
  ASSERT_TRUE(window_->workbench().edit(acts()[0].does));
  EXPECT_TRUE(verdict->settled());
  ASSERT_TRUE(window_->workbench().edit(acts()[8].does));  // a steel does
  EXPECT_FALSE(verdict->settled());
}
