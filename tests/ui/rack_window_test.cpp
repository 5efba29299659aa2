// The station Rack through real clicks and keys.
#include <QListView>
#include <QTableView>

#include "ui/edge_window.h"
#include "ui/parts/number_entry.h"
#include "ui/rack/run_editor.h"
#include "ui/rack/run_table_model.h"
#include "ui/stones/stones_model.h"
#include "ui/stones/stones_view.h"

using namespace bq;
using namespace bq::ui;

namespace {
class RackWindow : public test::EdgeWindow {};
}  // namespace

TEST_F(RackWindow, ABladeThatAReaderPicksIsTheOneShown) {
  // Over the accessibility bus an entry is picked without being gone to.
  auto* view = rack("Marl Tough 1");
  const QString before = view->blade_page()->to_do();
  auto* list = named<QListView>(view, "Blades");
  ASSERT_TRUE(list);
  list->selectionModel()->select(list->model()->index(0, 0), QItemSelectionModel::ClearAndSelect);
  EXPECT_EQ(list->currentIndex().row(), 0);
  EXPECT_NE(view->blade_page()->to_do(), before);
}

TEST_F(RackWindow, TheRackMapsTheWholeEdgeAndTakesNotesAtAPlace) {
  auto* view = rack("Marl Tough 1");
  auto* page = view->blade_page();
  EXPECT_EQ(page->worst(),
            "34 mm from the heel: damage 90 µm deep, left side: the whole edge goes back to its "
            "bottom (Stones plans it), or it is lived with; do not grind here alone, that makes a "
            "hollow.");
  EXPECT_TRUE(page->to_do().contains("Grind the whole edge to the bottom of the damage, 0.09 mm"))
      << page->to_do().toStdString();
  EXPECT_TRUE(page->spread().startsWith("Micro-bevel: left 15.1°")) << page->spread().toStdString();
  QTest::mouseClick(page->strip(), Qt::LeftButton, {}, page->strip()->place_of(88) - QPoint(0, 4));
  EXPECT_EQ(named<NumberEntry>(page, "Place, from the heel")->value(), 88);
  auto* value = named<QLineEdit>(page, "Value");
  for (const char* bad : {"", "95", "x", "-3"}) {
    value->setText(bad);
    const std::size_t before = trial().blades[std::size_t(blade("Marl Tough 1"))].records.size();
    QTest::keyClick(value, Qt::Key_Return);
    EXPECT_EQ(trial().blades[std::size_t(blade("Marl Tough 1"))].records.size(), before) << bad;
  }
  value->setText("32 inclusive");
  const std::size_t unsaid = trial().blades[std::size_t(blade("Marl Tough 1"))].records.size();
  QTest::keyClick(value, Qt::Key_Return);
  EXPECT_EQ(trial().blades[std::size_t(blade("Marl Tough 1"))].records.size(), unsaid)
      << "this edge has a micro-bevel: which was measured is asked";
  named<QComboBox>(page, "Bevel that is measured")->setCurrentText("edge bevel");
  QTest::keyClick(value, Qt::Key_Return);
  const auto& record =
      std::get<AngleRecord>(trial().blades[std::size_t(blade("Marl Tough 1"))].records.back().data);
  EXPECT_EQ(record.angle_deg, 16);
  EXPECT_EQ(record.at_mm, 88);
  EXPECT_EQ(record.bevel, MeasuredBevel::edge_bevel);
  EXPECT_TRUE(page->spread().startsWith("Edge bevel: left 16.0°, right not measured"))
      << page->spread().toStdString();
  // The damage is gone: the next worst place is named.
  named<NumberEntry>(page, "Place, from the heel")->setValue(34);
  auto* what = named<QComboBox>(page, "What was measured or seen");
  what->setCurrentText("it is gone");
  emit what->activated(what->currentIndex());
  click(button(page, "Note it"));
  EXPECT_TRUE(page->worst().startsWith("88 mm from the heel: light glints"))
      << page->worst().toStdString();
  undo();
  EXPECT_TRUE(page->worst().startsWith("34 mm"));
  // Stones takes the list up, for this blade.
  click(button(page, "To the stones"));
  EXPECT_FALSE(page->isVisible());
  auto* stones = static_cast<StonesView*>(window_->station(Station::stones));
  EXPECT_TRUE(stones->isVisible());
  EXPECT_EQ(stones->model().blade(), blade("Marl Tough 1"));
}

TEST_F(RackWindow, IntakeCardsDuplicatesAndRetirementAreKeptAndUndone) {
  auto* view = rack("Cairn Hard 2");
  auto* page = view->blade_page();
  const auto& blade_now = [&]() -> const Blade& {
    return trial().blades[std::size_t(blade("Cairn Hard 2"))];
  };
  for (auto* b : page->findChildren<QAbstractButton*>())
    if (b->accessibleName().startsWith("Corrosion")) click(b);
  auto* finding = dialog<QDialog>(page);
  ASSERT_NE(finding, nullptr);
  named<QComboBox>(finding, "Result of the check")->setCurrentIndex(1);
  named<QLineEdit>(finding, "Place")->setText("twelve");
  click(button(finding, "Keep"));
  EXPECT_TRUE(finding->isVisible()) << "a place that is no number is refused";
  named<QLineEdit>(finding, "Place")->setText("1,2 in");
  click(button(finding, "Keep"));
  const auto kept = edge_now(blade_now()).findings[std::size_t(IntakeCheck::corrosion)];
  EXPECT_TRUE(kept->trouble);
  EXPECT_NEAR(*kept->at_mm, 30.48, 1e-9);
  click(button(page, "Steel card"));
  auto* card = dialog<QDialog>(page);
  ASSERT_NE(card, nullptr);
  named<QLineEdit>(card, "Hardness")->setText("75");
  click(button(card, "Keep"));
  EXPECT_EQ(trial().steel_card("Cairn Hard")->hardness_hrc, 64);
  named<QLineEdit>(card, "Hardness")->setText("65.5");
  click(button(card, "Keep"));
  EXPECT_EQ(trial().steel_card("Cairn Hard")->hardness_hrc, 65.5);
  QTest::qWait(20);
  click(button(page, "Outline…"));
  auto* outline = dialog<QDialog>(page);
  ASSERT_NE(outline, nullptr);
  named<QComboBox>(outline, "Shape of the outline")->setCurrentText("hooked");
  named<NumberEntry>(outline, "Length of the edge")->setValue(90);
  click(button(outline, "Keep"));
  EXPECT_NEAR(edge_now(blade_now()).length_mm(), 90, 1e-9);
  const std::size_t blades = trial().blades.size();
  click(button(view, "Duplicate"));
  ASSERT_EQ(trial().blades.size(), blades + 1);
  EXPECT_EQ(trial().blades.back().name, "Cairn Hard 2 (2)");
  EXPECT_NEAR(edge_now(trial().blades.back()).length_mm(), 90, 1e-9);
  click(button(view, "Retire"));
  EXPECT_TRUE(trial().blades.back().retired);
  EXPECT_NE(button(view, "Back in use"), nullptr);
  for (int i = 0; i < 5; ++i) undo();
  EXPECT_EQ(trial().blades.size(), blades);
  EXPECT_EQ(trial().steel_card("Cairn Hard")->hardness_hrc, 64);
  EXPECT_FALSE(edge_now(blade_now()).findings[std::size_t(IntakeCheck::corrosion)]->trouble);
  // A line of the history can be taken out, and comes back.
  view = rack("Cairn Hard 2");
  auto* history = named<QListWidget>(page, "History of this edge, newest first");
  const std::size_t lines = blade_now().records.size();
  EXPECT_TRUE(history->item(0)->text().startsWith("Edge 6, sharpened 2026-03-12 for run F03 (now)"))
      << history->item(0)->text().toStdString();
  history->setCurrentRow(0);
  EXPECT_FALSE(button(page, "Take out")->isEnabled()) << "a heading is no record";
  history->setCurrentRow(1);
  click(button(page, "Take out"));
  EXPECT_EQ(blade_now().records.size(), lines - 1);
  undo();
  EXPECT_EQ(blade_now().records.size(), lines);
}

TEST_F(RackWindow, EditARunKeepChangesNothingTouchedChangesNothing) {
  Workbench& bench = window_->workbench();
  bq::Run odd;
  odd.facts.name = "odd";
  odd.facts.steel = "Marl Tough";  // of no blade, no cut said
  odd.facts.geometry = *EdgeGeometry::make({12.3456789, 17.1234567});
  odd.facts.finish = Finish{3.21098765, 1};
  ASSERT_TRUE(bench.edit([&](ProjectSession& session) { session.add_run(odd); }));
  for (const AngleConvention shown : {AngleConvention::per_side, AngleConvention::inclusive}) {
    auto display = bench.display();
    display.angles = shown;
    bench.set_display(display);
    for (std::size_t i = 0; i < trial().runs.size(); ++i) {
      const RunFacts before = trial().runs[i].facts;
      auto* editor = new RunEditor(bench, i, QString(), window_.get());
      editor->show();
      click(button(editor, "Keep changes"));
      EXPECT_TRUE(trial().runs[i].facts == before) << before.name;
    }
  }
  // What is shown and typed follows the switch.
  auto* editor = new RunEditor(bench, trial().runs.size() - 1, QString(), window_.get());
  editor->show();
  auto* left = named<QLineEdit>(editor, "Edge angle left");
  EXPECT_EQ(left->text(), "24.6914");
  left->setText("30");
  named<QLineEdit>(editor, "Edge angle right")->clear();
  named<QLineEdit>(editor, "Finish")->setText("P1000");
  click(button(editor, "Keep changes"));
  EXPECT_EQ(trial().runs.back().facts.geometry->edge().left_deg, 15);
  EXPECT_NEAR(trial().runs.back().facts.finish->mean_um(), 18.3, 0.1);
  EXPECT_EQ(trial().runs.back().facts.steel, "Marl Tough");
  EXPECT_FALSE(trial().runs.back().facts.cut_mode.has_value());
}

TEST(RackOfHundreds, BladesAndRunsAreFoundPutInOrderAndRetiredTogether) {
  const test::Folder folder;
  {
    // 120 blades of three steels, a run each; life grows with the number.
    std::string table = "run,blade,steel,edge_angle,finish_um,medium,cuts,reading,unit\n";
    for (int b = 0; b < 120; ++b)
      for (const int cuts : {0, 50, 100, 200, 400})
        table += "R" + std::to_string(b) + ",K" + std::to_string(b) + "," +
                 (b % 3 == 0   ? "Cairn"
                  : b % 3 == 1 ? "Marl"
                               : "Fenland") +
                 "," + std::to_string(10 + b % 4) + ",6,mat," + std::to_string(cuts) + "," +
                 std::to_string(100 + cuts * (2.0 - 0.01 * b)) + ",gf\n";
    ProjectFile file = ProjectFile::create(folder / "many.bquarry", "many");
    file.import(test::table(table).trial, KnownRuns::refuse);
  }
  Workbench workbench;
  RackView rack(workbench);
  rack.resize(1140, 700);
  rack.show();
  workbench.open(QString::fromStdString((folder / "many.bquarry").string()));
  ASSERT_TRUE(test::wait_for([&] { return workbench.has_project() && !workbench.fitting(); }));
  auto* list = test::named<QListView>(&rack, "Blades");
  auto* find = test::named<QLineEdit>(&rack, "Find blades");
  EXPECT_EQ(list->model()->rowCount(), 120);
  QTest::keyClicks(find, "marl 13");
  EXPECT_EQ(list->model()->rowCount(), 11) << "ten of 13 degrees, and K13";
  QTest::keyClicks(find, "xyz");
  EXPECT_EQ(list->model()->rowCount(), 0);
  // Whoever is sent to a blade sees it.
  rack.choose_blade(5);
  EXPECT_TRUE(find->text().isEmpty());
  EXPECT_EQ(list->currentIndex().data().toString(), QStringLiteral("K5"));
  auto* order = test::named<QComboBox>(&rack, "Order of the blades");
  order->setCurrentIndex(2);
  emit order->activated(2);
  EXPECT_EQ(list->model()->index(1, 0).data().toString(), QStringLiteral("K3"))
      << "Cairn, K0, K3 …";
  EXPECT_EQ(list->currentIndex().data().toString(), QStringLiteral("K5")) << "it stays chosen";
  // Several together are one step of undo.
  list->setCurrentIndex(list->model()->index(0, 0));
  list->selectionModel()->select(
      QItemSelection(list->model()->index(0, 0), list->model()->index(4, 0)),
      QItemSelectionModel::Select);
  QPushButton* retire = nullptr;
  for (auto* button : rack.findChildren<QPushButton*>())
    if (button->text() == QStringLiteral("Retire 5")) retire = button;
  ASSERT_TRUE(retire);
  QTest::mouseClick(retire, Qt::LeftButton);
  const auto retired = [&] {
    return std::count_if(workbench.trial().blades.begin(), workbench.trial().blades.end(),
                         [](const Blade& blade) { return blade.retired; });
  };
  EXPECT_EQ(retired(), 5);
  workbench.undo();
  EXPECT_EQ(retired(), 0);
  // All runs, with blade and steel; figures in the order of figures, names in that of people.
  for (auto* button : rack.findChildren<QPushButton*>())
    if (button->text() == QStringLiteral("All runs")) QTest::mouseClick(button, Qt::LeftButton);
  auto* runs = test::named<QTableView>(&rack, "Runs");
  EXPECT_FALSE(runs->isColumnHidden(RunTableModel::steel));
  EXPECT_EQ(rack.run_model()->rowCount(), 120);
  runs->sortByColumn(RunTableModel::life, Qt::AscendingOrder);
  EXPECT_EQ(rack.run_model()->facts(0).name, "R0");
  EXPECT_EQ(rack.run_model()->facts(119).name, "R119");
  runs->sortByColumn(RunTableModel::name, Qt::DescendingOrder);
  EXPECT_EQ(rack.run_model()->facts(0).name, "R119");
  EXPECT_EQ(rack.run_model()->facts(110).name, "R9") << "R9 before R10";
  runs->selectRow(3);
  const std::string chosen = rack.run_model()->facts(3).name;
  runs->sortByColumn(RunTableModel::blade, Qt::AscendingOrder);
  EXPECT_EQ(rack.run_model()->facts(runs->currentIndex().row()).name, chosen);
  QTest::keyClicks(test::named<QLineEdit>(&rack, "Find runs"), "fenland 12");
  EXPECT_EQ(rack.run_model()->rowCount(), 10);
}
