#include "screenshots.h"

#include <QApplication>
#include <QComboBox>
#include <QDir>
#include <QElapsedTimer>
#include <QKeyEvent>
#include <QLabel>
#include <QThread>
#include <functional>

#include "ui/bench/bench_model.h"
#include "ui/bench/bench_view.h"
#include "ui/findings/findings_view.h"
#include "ui/frame/enough_line.h"
#include "ui/frame/main_window.h"
#include "ui/lens/lens_view.h"
#include "ui/plan/plan_view.h"
#include "ui/rack/rack_view.h"
#include "ui/section/section_view.h"
#include "ui/stones/stones_view.h"
#include "ui/verdict/verdict_view.h"

using namespace bq;
using namespace bq::ui;

namespace {

/// Lets the window work until nothing is under way (at most 30 s).
void settle(const std::function<bool()>& quiet) {
  QElapsedTimer clock;
  clock.start();
  int calm = 0;
  while (clock.elapsed() < 30000 && calm < 5) {
    QApplication::processEvents(QEventLoop::AllEvents, 20);
    QThread::msleep(5);
    calm = quiet() ? calm + 1 : 0;
  }
}

/// The plan rehearsed and asked what would help, each panel on the left, and the claims.
bool shoot_plan(MainWindow& window, const std::function<bool(const char*)>& shoot) {
  window.go_to(Station::plan);
  auto* plan = static_cast<PlanView*>(window.station(Station::plan));
  PlanModel& model = plan->model();
  settle([&] { return !model.studying(); });
  const bool planned = model.plan() && model.up_to_date();
  if (planned) {
    model.rehearse();
    settle([&] { return !model.rehearsing(); });
    model.ask_help();
    settle([&] { return !model.rehearsing(); });
  }
  bool good = shoot("plan");
  const std::array<std::pair<PlanView::Panel, const char*>, 3> panels{
      {{PlanView::Panel::design, "plan-design"},
       {PlanView::Panel::work, "plan-work"},
       {PlanView::Panel::expect, "plan-expect"}}};
  for (const auto& [panel, name] : panels) {
    plan->open_panel(panel);
    settle([] { return true; });
    good &= shoot(name);
  }
  plan->open_panel(PlanView::Panel::factors);
  plan->open_page(PlanView::Page::claim);
  settle([] { return true; });
  good &= shoot("plan-claim");
  plan->open_page(PlanView::Page::trial);
  return good;
}

/// The Bench's pages, then the run under way with its edge looked at: the block of cuts that comes
/// next.
bool shoot_bench(MainWindow& window, const std::function<bool(const char*)>& shoot) {
  window.go_to(Station::bench);
  auto* bench = static_cast<BenchView*>(window.station(Station::bench));
  const std::array<std::pair<BenchView::Page, const char*>, 5> pages{
      {{BenchView::Page::search, "bench-search"},
       {BenchView::Page::steadiness, "bench-steadiness"},
       {BenchView::Page::gauge, "bench-gauge"},
       {BenchView::Page::instruments, "bench-instruments"},
       {BenchView::Page::protocol, "bench-protocol"}}};
  bool good = true;
  for (const auto& [page, name] : pages) {
    bench->open_page(page);
    settle([] { return true; });
    good &= shoot(name);
  }
  bench->open_page(BenchView::Page::trial);
  for (int i = 0; i < 3 && (bench->model().stage().kind == StageKind::look ||
                            bench->model().stage().kind == StageKind::rest);
       ++i)
    bench->model().act();
  settle([] { return true; });
  good &= shoot("bench");
  return good;
}

/// The newest picture of the demo's place with its chip chosen, a chip of it suggested, before and
/// after under the wipe, and what the stones do.
bool shoot_lens(MainWindow& window, const std::function<bool(const char*)>& shoot) {
  window.go_to(Station::lens);
  auto* lens = static_cast<LensView*>(window.station(Station::lens));
  LensModel& model = lens->model();
  const auto& all = window.workbench().trial().micrographs;
  std::int64_t first = 0, last = 0;
  for (const auto& m : all)
    if (m.stone.empty()) {
      first = first ? first : m.id;
      last = m.id;
    }
  if (last) model.open(last);
  settle([&] { return !model.busy(); });
  bool good = shoot("lens");
  lens->open_panel(LensView::Panel::place);
  settle([&] { return !model.busy(); });
  good &= shoot("lens-place");
  lens->open_panel(LensView::Panel::damage);
  model.find_damage();
  settle([&] { return !model.busy(); });
  good &= shoot("lens-damage");
  lens->open_panel(LensView::Panel::overlay);
  if (first) model.compare_with(first);
  settle([&] { return !model.busy(); });
  good &= shoot("lens-compare");
  model.set_tool(LensTool::marks);
  settle([&] { return !model.busy(); });
  good &= shoot("lens-marks");
  model.set_tool(LensTool::look);
  lens->open_page(LensView::Page::stones);
  settle([] { return true; });
  good &= shoot("lens-stones");
  lens->open_page(LensView::Page::picture);
  return good;
}

}  // namespace

bool write_screenshots(MainWindow& window, const QString& folder, const QString& only) {
  QDir().mkpath(folder);
  QApplication::setCursorFlashTime(0);  // a caret that blinks would make every picture another one
  Workbench& bench = window.workbench();
  settle([&] { return bench.has_project() && !bench.fitting(); });
  const auto shoot = [&](const char* name) {
    QApplication::processEvents();
    // The time of the last kept change would make every picture another one.
    for (auto* label : window.findChildren<QLabel*>())
      if (label->text().startsWith(QLatin1String("kept "))) label->clear();
    return window.grab().save(folder + '/' + QString::fromUtf8(name) + QStringLiteral(".png"));
  };
  if (only == QLatin1String("lens")) return shoot_lens(window, shoot);
  bool good = true;
  window.go_to(Station::rack);
  if (!bench.trial().blades.empty())
    static_cast<RackView*>(window.station(Station::rack))->choose_blade(8);
  good &= shoot("rack");
  window.go_to(Station::section);
  auto* section = static_cast<SectionView*>(window.station(Station::section));
  section->choose_blade(8);
  const std::array<std::pair<SectionView::Page, const char*>, 5> helpers{
      {{SectionView::Page::marker, "section-marker"},
       {SectionView::Page::gauge, "section-gauge"},
       {SectionView::Page::jig, "section-clamp"},
       {SectionView::Page::lift, "section-lift"},
       {SectionView::Page::wear, "section-wear"}}};
  for (const auto& [page, name] : helpers) {
    section->open_page(page);
    settle([] { return true; });
    good &= shoot(name);
  }
  window.go_to(Station::stones);
  auto* stones = static_cast<StonesView*>(window.station(Station::stones));
  stones->choose_blade(8);
  const std::array<std::pair<StonesView::Page, const char*>, 8> helpers_of_stones{
      {{StonesView::Page::plan, "stones-plan"},
       {StonesView::Page::condition, "stones-condition"},
       {StonesView::Page::causes, "stones-causes"},
       {StonesView::Page::route, "stones-route"},
       {StonesView::Page::start, "stones-start"},
       {StonesView::Page::compare, "stones-compare"},
       {StonesView::Page::stone, "stones-stone"},
       {StonesView::Page::card, "stones-card"}}};
  for (const auto& [page, name] : helpers_of_stones) {
    stones->open_page(page);
    settle([] { return true; });
    if (page == StonesView::Page::condition)
      // Two answers in: it has been cutting, one side catches.
      for (const int answer : {Qt::Key_5, Qt::Key_1}) {
        QKeyEvent key(QEvent::KeyPress, answer, Qt::NoModifier);
        QApplication::sendEvent(stones->page(), &key);
        settle([] { return true; });
      }
    good &= shoot(name);
  }
  good &= shoot_plan(window, shoot);
  good &= shoot_bench(window, shoot);
  good &= shoot_lens(window, shoot);
  window.go_to(Station::findings);
  auto* findings = static_cast<FindingsView*>(window.station(Station::findings));
  settle([&] { return findings->settled(); });
  settle([&] { return EnoughLine::all_settled(*findings); });
  settle([&] { return findings->answer_of(Question::starts) != nullptr; });
  const std::array<std::pair<Question, const char*>, 7> questions{
      {{Question::curves, "findings-curves"},
       {Question::angle, "findings-life"},
       {Question::matching, "findings-matching"},
       {Question::steel, "findings-steel"},
       {Question::shares, "findings-shares"},
       {Question::force, "findings-force"},
       {Question::chips, "findings-chips"}}};
  for (const auto& [question, name] : questions) {
    findings->ask(question);
    settle([] { return true; });
    good &= shoot(name);
  }
  findings->ask(Question::curves);
  for (auto* drawn : findings->findChildren<QComboBox*>())
    if (drawn->accessibleName() == QLatin1String("What is drawn")) drawn->setCurrentIndex(0);
  for (std::size_t i = 0; i < bench.trial().runs.size(); ++i)
    if (bench.trial().runs[i].facts.name == "C19") bench.choose_run(int(i));
  settle([] { return true; });
  good &= shoot("findings-run");
  window.go_to(Station::verdict);
  auto* verdict = static_cast<VerdictView*>(window.station(Station::verdict));
  settle([&] { return verdict->settled(); });
  const std::array<std::pair<VerdictView::Page, const char*>, 3> verdicts{
      {{VerdictView::Page::schools, "verdict-schools"},
       {VerdictView::Page::half_hour, "verdict-half-hour"},
       {VerdictView::Page::edge, "verdict"}}};
  for (const auto& [page, name] : verdicts) {
    verdict->open_page(page);
    settle([&] { return verdict->settled(); });
    good &= shoot(name);
  }
  // Last, because work in hand is kept when the hand pauses, and the picture would show the time.
  window.go_to(Station::section);
  section->open_page(SectionView::Page::outcomes);
  if (!section->model().plan().grinds.empty()) {
    // Work in hand: a thinning that shows what it would take away.
    SectionPlan plan = section->model().plan();
    Grind thin;
    thin.shape = GrindShape::hollow;
    thin.angle_deg = 3;
    thin.radius_mm = 150;
    thin.until = UntilBehindEdge{0.26};
    plan.grinds.push_back(thin);
    section->model().set_plan(plan, false);
  }
  settle([] { return true; });
  good &= shoot("section");
  return good;
}
