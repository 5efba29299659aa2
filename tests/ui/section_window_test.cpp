// The station Section through real clicks and keys.
#include "ui/edge_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"

using namespace bq;
using namespace bq::ui;

namespace {
class SectionWindow : public test::EdgeWindow {};
}  // namespace

TEST_F(SectionWindow, TypingAnAngleChangesTheOutcomesIsKeptAndUndone) {
  auto* view = section("Marl Tough 1");
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 1), "30.0");
  auto* angle = view->grinds()->row(2)->angle_field();
  angle->setFocus();
  angle->selectAll();
  QTest::keyClicks(angle, "19");
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 1), "38.0")
      << "it follows while it is typed";
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 0), "30.0");
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 2), "+8.0");
  // No Enter, no leaving the field: a crash after the hand paused loses nothing.
  EXPECT_TRUE(test::wait_for([&] {
    return window_->workbench()
               .session()
               .kept("section-draft:" +
                     std::to_string(trial().blades[std::size_t(blade("Marl Tough 1"))].id))
               .find("\"angle_deg\":19") != std::string::npos;
  }));
  // Another window finds the draft; the blade's own section is what it was.
  window_.reset();
  open();
  view = section("Marl Tough 1");
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 1), "38.0");
  EXPECT_EQ(
      edge_now(trial().blades[std::size_t(blade("Marl Tough 1"))]).section->grinds[2].angle_deg,
      15);
  // Adopt it: the angles that were measured before become history.
  EXPECT_FALSE(
      edge_now(trial().blades[std::size_t(blade("Marl Tough 1"))]).micro_left.stations.empty());
  click(button(view, "It is ground like this"));
  const EdgeNow now = edge_now(trial().blades[std::size_t(blade("Marl Tough 1"))]);
  EXPECT_EQ(now.section->grinds[2].angle_deg, 19);
  EXPECT_TRUE(now.micro_left.stations.empty());
  undo();
  EXPECT_EQ(
      edge_now(trial().blades[std::size_t(blade("Marl Tough 1"))]).section->grinds[2].angle_deg,
      15);
  click(button(view, "Back to as it is"));
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 1), "30.0");
}

TEST_F(SectionWindow, AFacetIsDraggedTheWheelTurnsTheAngleAndRowsChangePlaces) {
  auto* view = section("Cairn Hard 1");
  auto* drawing = view->drawing();
  const double before = view->model().plan().grinds[1].angle_deg;
  const QPoint from = drawing->handle_of(1, EdgeSide::right).toPoint();
  QTest::mousePress(drawing, Qt::LeftButton, {}, from);
  QTest::mouseMove(drawing, from + QPoint(6, 0));
  QTest::mouseMove(drawing, from + QPoint(14, 0));
  EXPECT_GT(view->model().plan().grinds[1].angle_deg, before) << "pulled outward it is steeper";
  EXPECT_LT(view->model().plan().grinds[1].angle_deg, before + 6)
      << "and follows the hand: 14 pixels are a few degrees";
  const int height = drawing->height();
  QTest::mouseRelease(drawing, Qt::LeftButton, {}, from + QPoint(14, 0));
  const double dragged = view->model().plan().grinds[1].angle_deg;
  QTest::qWait(20);
  EXPECT_LT(drawing->height(), height) << "the caution came up after the hand let go, not under it";
  undo();
  EXPECT_EQ(view->model().plan().grinds[1].angle_deg, before);
  QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
  EXPECT_EQ(view->model().plan().grinds[1].angle_deg, dragged);
  auto* angle = view->grinds()->row(1)->angle_field();
  angle->setFocus();
  QWheelEvent wheel(QPointF(5, 5), angle->mapToGlobal(QPointF(5, 5)), {}, {0, 120}, Qt::NoButton,
                    Qt::NoModifier, Qt::NoScrollPhase, false);
  QApplication::sendEvent(angle, &wheel);
  EXPECT_NEAR(view->model().plan().grinds[1].angle_deg, dragged + 0.5, 1e-9);
  // Dragged by its grip a row changes places; the mouse does what Alt+Down does.
  QLabel* grip = nullptr;
  for (auto* label : view->grinds()->row(1)->findChildren<QLabel*>())
    if (label->text() == "2") grip = label;
  ASSERT_NE(grip, nullptr);
  const Grind second = view->model().plan().grinds[1];
  const QPoint hold = grip->rect().center();
  QTest::mousePress(grip, Qt::LeftButton, {}, hold);
  QTest::mouseMove(grip, hold + QPoint(0, 40));
  QTest::mouseRelease(grip, Qt::LeftButton, {}, hold + QPoint(0, view->grinds()->row(1)->height()));
  EXPECT_EQ(view->model().plan().grinds[2], second);
  undo();
  EXPECT_EQ(view->model().plan().grinds[1], second);
  // Alt+Down moves a grind; an order that cannot be ground is said, with the last drawing kept.
  const auto plan = view->model().plan();
  view->grinds()->row(0)->setFocus();
  QTest::keyClick(view->grinds()->row(0), Qt::Key_Down, Qt::AltModifier);
  EXPECT_EQ(view->model().plan().grinds[1], plan.grinds[0]);
  EXPECT_FALSE(view->model().refusal().isEmpty());
  EXPECT_TRUE(view->model().refusal().contains("grind 2"));
  EXPECT_NE(view->model().study(), nullptr);
  EXPECT_FALSE(button(view, "It is ground like this")->isEnabled());
  undo();
  EXPECT_EQ(view->model().plan(), plan);
  EXPECT_TRUE(view->model().refusal().isEmpty());
  click(button(view, "Add grind"));
  EXPECT_EQ(view->model().plan().grinds.size(), 4U);
  QTest::keyClick(view->grinds()->row(3), Qt::Key_Delete);
  EXPECT_TRUE(test::wait_for([&] { return view->model().plan().grinds.size() == 3; }));
}

TEST_F(SectionWindow, TheBevelOfAChiselIsInThePictureAtEveryZoom) {
  auto* view = section("Cairn Hard 1");
  auto* drawing = view->drawing();
  for (const GrindSide side : {GrindSide::left, GrindSide::right}) {
    const EdgeSide face = side == GrindSide::left ? EdgeSide::left : EdgeSide::right;
    SectionPlan plan = view->model().plan();
    Grind bevel;
    bevel.side = side;
    bevel.angle_deg = 25;
    plan.stock_mm = 4;
    plan.profile.clear();
    plan.grinds = {bevel};
    view->model().set_plan(plan, true);
    ASSERT_TRUE(view->model().refusal().isEmpty()) << view->model().refusal().toStdString();
    for (const double lens : {0.05, 0.5, 2.0, 8.0, 20.0}) {
      drawing->set_lens(lens);
      const QPoint handle = drawing->handle_of(0, face).toPoint();
      EXPECT_TRUE(drawing->rect().adjusted(10, 0, -10, 0).contains(handle))
          << "lens " << lens << ": " << handle.x() << ", " << handle.y();
      // Metal on one side of the face, none on the other.
      const QImage picture = drawing->grab().toImage();
      const int out = side == GrindSide::left ? -1 : 1;
      const double scale = picture.devicePixelRatio();
      const auto colour = [&](int dx) {
        return picture.pixelColor(QPointF(QPointF(handle + QPoint(dx, 0)) * scale).toPoint());
      };
      EXPECT_NE(colour(6 * out), colour(-6 * out)) << lens;
    }
    drawing->set_lens(6);
    const QPoint from = drawing->handle_of(0, face).toPoint();
    QTest::mousePress(drawing, Qt::LeftButton, {}, from);
    QTest::mouseMove(drawing, from + QPoint(face == EdgeSide::left ? -30 : 30, 0));
    QTest::mouseRelease(drawing, Qt::LeftButton, {}, from);
    EXPECT_GT(view->model().plan().grinds[0].angle_deg, 25) << "pulled outward it is steeper";
  }
}

TEST_F(SectionWindow, FieldsNeverRoundAwayWhatNobodyTouched) {
  auto* view = section("Marl Tough 4");
  SectionPlan plan;
  plan.stock_mm = 2.3456;
  plan.height_mm = 24.0625;
  plan.apex_um = 0.71828;
  const auto grind = [&](GrindShape shape, GrindSide side, double angle, GrindUntil until) {
    Grind g;
    g.shape = shape;
    g.side = side;
    g.angle_deg = angle;
    g.until = until;
    plan.grinds.push_back(g);
    return plan.grinds.size() - 1;
  };
  plan.grinds[grind(GrindShape::hollow, GrindSide::both, 4.0517, UntilThickness{0.41234567})]
      .radius_mm = 123.456;
  plan.grinds[grind(GrindShape::flat, GrindSide::both, 12.34567, UntilApex{})].angle_right_deg =
      13.98765;
  plan.grinds[grind(GrindShape::convex, GrindSide::both, 17.0123, UntilFacet{61.23456})].to_deg =
      21.98765;
  grind(GrindShape::flat, GrindSide::left, 25.5555, UntilDepth{0.00123456});
  view->model().set_plan(plan, true);
  ASSERT_TRUE(view->model().refusal().isEmpty()) << view->model().refusal().toStdString();
  for (const auto convention : {AngleConvention::per_side, AngleConvention::inclusive}) {
    bq::ui::Display display = window_->workbench().display();
    display.angles = convention;
    window_->workbench().set_display(display);
    // Step through every field of every row, as Tab does: leaving a field says "done".
    for (std::size_t i = 0; i < plan.grinds.size(); ++i)
      for (auto* box : view->grinds()->row(int(i))->findChildren<NumberEntry*>())
        emit box->editingFinished();
    for (auto* box : view->grinds()->findChildren<NumberEntry*>()) emit box->editingFinished();
    EXPECT_EQ(view->model().plan(), plan);
    // One field is changed: all the others keep every figure.
    auto* angle = view->grinds()->row(3)->angle_field();
    angle->setValue(26);
    SectionPlan expected = plan;
    expected.grinds[3].angle_deg = 26;
    EXPECT_EQ(view->model().plan(), expected);
    view->model().set_plan(plan, true);
  }
  bq::ui::Display display = window_->workbench().display();
  display.angles = AngleConvention::per_side;
  window_->workbench().set_display(display);
}

TEST_F(SectionWindow, TheNextActionLeadsToTheMarkerTest) {
  const auto path = folder_ / "next.bquarry";
  {
    ProjectFile project = ProjectFile::create(path, "Next");
    for (const char* name : {"A", "B"}) {
      Blade blade;
      blade.name = name;
      blade.records = {{0, "", SectionRecord{edge_now(trial().blades[0]).section.value(), ""}}};
      project.add_blade(blade);
    }
    bq::Run run;
    run.facts.name = "R1";
    run.facts.blade = "B";
    run.plan = {{0, 10}, 1};
    project.add_run(run);
  }
  path_ = QString::fromStdString(path.string());
  window_.reset();
  open();
  click(button(window_.get(), "Measure"));
  auto* view = static_cast<SectionView*>(window_->station(Station::section));
  ASSERT_TRUE(view->isVisible());
  EXPECT_EQ(view->model().blade(), 1);
  EXPECT_TRUE(static_cast<MarkerPage*>(view->page())->instruction().startsWith("Touch at"));
}

TEST_F(SectionWindow, AnotherEditDoesNotTakeThePlanOutOfTheHand) {
  auto* view = section("Cairn Hard 4");
  auto* angle = view->grinds()->row(1)->angle_field();
  angle->setValue(13.3);  // typed, not entered yet
  window_->workbench().edit([](ProjectSession& session) { session.set_threshold("333 gf"); });
  EXPECT_NEAR(view->model().plan().grinds[1].angle_deg, 13.3, 1e-9);
  const std::string key =
      "section-draft:" + std::to_string(trial().blades[std::size_t(blade("Cairn Hard 4"))].id);
  EXPECT_TRUE(test::wait_for(
      [&] { return window_->workbench().session().kept(key).find("13.3") != std::string::npos; }));
  // Leaving for another blade keeps it too.
  angle->setValue(14.4);
  view->choose_blade(blade("Cairn Hard 1"));
  EXPECT_NE(window_->workbench().session().kept(key).find("14.4"), std::string::npos);
  // So does closing the window at once.
  view->choose_blade(blade("Cairn Hard 4"));
  view->grinds()->row(1)->angle_field()->setValue(15.5);
  window_->close();
  window_.reset();
  open();
  EXPECT_NE(window_->workbench().session().kept(key).find("15.5"), std::string::npos);
}

TEST_F(SectionWindow, TheLensScaleAnswersToKeysAndTheMouse) {
  auto* view = section("Fenland Plain 2");
  auto* scale = named<LensScale>(view, "Lens: height of blade in the picture");
  ASSERT_NE(scale, nullptr);
  auto* drawing = view->drawing();
  drawing->set_lens(30);
  std::vector<double> rests;
  // The glide takes 120 ms at most; a busy machine draws its last step later.
  const auto come_to_rest = [&] {
    for (int still = 0, i = 0; still < 3 && i < 60; ++i) {
      const double before = drawing->lens_mm();
      QTest::qWait(80);
      still = drawing->lens_mm() == before ? still + 1 : 0;
    }
  };
  for (int i = 0; i < 4; ++i) {
    const double before = drawing->lens_mm();
    QTest::keyClick(scale, Qt::Key_PageDown);
    come_to_rest();
    if (drawing->lens_mm() < before) rests.push_back(drawing->lens_mm());
  }
  ASSERT_EQ(rests.size(), 4U) << "blade, bevel, micro-bevel, apex";
  QTest::keyClick(scale, Qt::Key_PageUp);
  come_to_rest();
  EXPECT_NEAR(drawing->lens_mm(), rests[2], 1e-9);
  // Dragging is continuous and logarithmic: equal ways, equal ratios.
  QTest::mousePress(scale, Qt::LeftButton, {}, QPoint(20, 200));
  const double one = drawing->lens_mm();
  QTest::mouseMove(scale, QPoint(20, 300));
  const double two = drawing->lens_mm();
  QTest::mouseMove(scale, QPoint(20, 400));
  const double three = drawing->lens_mm();
  QTest::mouseRelease(scale, Qt::LeftButton, {}, QPoint(20, 400));
  EXPECT_LT(three, two);
  EXPECT_NEAR(one / two, two / three, 1e-6 * one / two);
  // Layers of the map: taking one away changes the picture, and only then.
  auto* page = rack("Marl Tough 1")->blade_page();
  const QImage all = page->strip()->grab().toImage();
  click(button(page, "damage"));
  const QImage without = page->strip()->grab().toImage();
  EXPECT_NE(all, without);
  click(button(page, "damage"));
  EXPECT_EQ(page->strip()->grab().toImage(), all);
}

TEST_F(SectionWindow, TheLensGoesFromTheBladeToTheApexAndPicturesAreSaved) {
  auto* view = section("Fenland Plain 1");
  auto* drawing = view->drawing();
  for (const double lens : {50.0, 5.0, 0.5, 0.05, 0.005, 0.001}) {
    drawing->set_lens(lens);
    EXPECT_NEAR(drawing->lens_mm(), lens, 1e-12);
    const QImage picture = drawing->grab().toImage();
    // Ink is drawn at every magnification: both faces cross the middle row.
    int ink = 0;
    for (int x = 0; x < picture.width(); ++x)
      for (int y = picture.height() / 4; y < picture.height() * 9 / 10; y += 7)
        ink += qGray(picture.pixel(x, y)) < 90;
    EXPECT_GT(ink, 10) << lens;
  }
  QWheelEvent wheel(QPointF(200, 200), drawing->mapToGlobal(QPointF(200, 200)), {}, {0, -120},
                    Qt::NoButton, Qt::NoModifier, Qt::NoScrollPhase, false);
  QApplication::sendEvent(drawing, &wheel);
  EXPECT_GT(drawing->lens_mm(), 0.001);
  for (const char* name : {"s.svg", "s.png", "s.pdf"}) {
    EXPECT_TRUE(drawing->save(QString::fromStdString((folder_ / name).string())));
    EXPECT_GT(std::filesystem::file_size(folder_ / name), 2000U) << name;
  }
  // Two blades side by side, with a difference.
  auto* compare = named<QComboBox>(view, "Compare with");
  compare->setCurrentText("Marl Tough 2");
  emit compare->activated(compare->currentIndex());
  click(button(view, "Side by side"));
  EXPECT_EQ(view->outcomes()->cell("Inclusive angle at the apex", 0), "30.0");
  EXPECT_GT(drawing->grab().toImage().width(), 300);
}

TEST_F(SectionWindow, AMeasuredEdgeStartsASection) {
  auto* view = section("Marl Tough 1");
  auto* start = named<QComboBox>(view, "What the section starts from");
  start->setCurrentIndex(start->count() - 1);
  emit start->activated(start->currentIndex());
  auto* typed = dialog<QDialog>(view);
  ASSERT_NE(typed, nullptr);
  auto* text = named<QPlainTextEdit>(typed, "Distances and thicknesses");
  text->setPlainText("1 0.5\n0.4 0.2");
  click(button(typed, "Start from these"));
  EXPECT_TRUE(typed->isVisible()) << "distances that fall are refused";
  text->setPlainText("0,4\t0,2\n1\t0,5\n8\t1,1");
  click(button(typed, "Start from these"));
  EXPECT_EQ(view->model().plan().profile.size(), 3U);
  EXPECT_EQ(view->outcomes()->cell("Thickness 1 mm up", 1), "0.500");
  undo();
  EXPECT_TRUE(view->model().plan().profile.empty());
  // Thicknesses noted at one place of the edge are offered too.
  const int index = blade("Marl Tough 1");
  window_->workbench().edit([&](ProjectSession& session) {
    session.add_records(std::size_t(index),
                        {ThicknessRecord{40, 0.5, 0.21}, ThicknessRecord{40, 2, 0.6},
                         ThicknessRecord{90, 0.5, 0.25}},
                        "thicknesses");
  });
  ASSERT_GE(start->findText("measured, 40 mm"), 1);
  start->setCurrentText("measured, 40 mm");
  emit start->activated(start->currentIndex());
  EXPECT_EQ(view->outcomes()->cell("Thickness 0.5 mm up", 1), "0.210");
  EXPECT_TRUE(rack("Marl Tough 1")
                  ->blade_page()
                  ->spread()
                  .contains("0.21 mm thick at its thinnest (40 mm from the heel)"));
}

TEST_F(SectionWindow, WithoutAProjectOrABladeItSaysSo) {
  window_ = std::make_unique<MainWindow>();
  window_->show();
  window_->go_to(Station::section);
  auto* view = static_cast<SectionView*>(window_->station(Station::section));
  EXPECT_FALSE(view->grinds()->isEnabled());
  for (const char* tab : {"Marker", "Gauge", "Clamp", "Lift", "Wear", "Outcomes"})
    click(button(view, tab));
  EXPECT_EQ(view->model().blade(), -1);
  const auto path = folder_ / "empty.bquarry";
  ProjectFile::create(path, "Empty");
  window_->workbench().open(QString::fromStdString(path.string()));
  ASSERT_TRUE(test::wait_for([&] { return window_->workbench().has_project(); }));
  EXPECT_EQ(view->model().blade(), -1);
  Blade fresh;
  fresh.name = "first";
  window_->workbench().edit([&](ProjectSession& session) { session.add_blade(fresh); });
  EXPECT_EQ(view->model().blade(), 0);
  EXPECT_NE(view->model().study(), nullptr)
      << "a blade without a section starts from ordinary stock";
}
