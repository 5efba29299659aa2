// All of Findings and the verdict for 100 runs x 12 checkpoints x 5 readings, with 1,000 bootstrap
// refits of every run, on two cores; how soon the first sentence is there; and how fast a picture
// with 200,000 points is panned. The same for a million readings in 2,000 runs.
// usage: bench_findings [findings|million|panning]
#include <QApplication>
#include <QElapsedTimer>
#include <QMouseEvent>
#include <algorithm>
#include <array>
#include <atomic>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <thread>

#include "bluntness/curve_bootstrap.h"
#include "rehearsal/virtual_bench.h"
#include "stats/random.h"
#include "ui/plot/plot_view.h"
#include "ui/theme/theme.h"
#include "workflow/answers.h"
#include "workflow/verdict.h"

using namespace bq;

namespace {

using Clock = std::chrono::steady_clock;
double ms_since(Clock::time_point start) {
  return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

constexpr const char* kRecipe =
    R"({"title": "bench", "gauge": {"unit": "gf", "resolution": 1, "gf_per_um": 75},
 "scatter": {"run_sd": 0.14, "checkpoint_sd": 0.025, "reading_sd": 0.045}, "checkpoints": [0, 10, 20, 40, 80, 120, 180, 300, 450, 700, 1000, 1400], "readings_each": 5,
 "media": [{"name": "mat", "cut_mode": "slice", "stroke_mm": 120, "wear_um2_per_m": 0.75, "tooth_life_cuts": 2500}],
 "steels": [{"name": "A", "wear_factor": 1.0}, {"name": "B", "wear_factor": 0.6}],
 "design": [{"prefix": "R", "steels": ["A", "B"], "apex_angles": [12, 14, 16, 18, 22], "edge_angles": [10, 12], "finishes_um": [1, 6], "replicates": 5, "blocks": 4, "medium": "mat", "order_seed": 3,
   "blades_per_steel": 10}]})";

/// Every question but the first, two at a time: what the window does with the other core. Returns
/// the milliseconds of each.
std::array<double, kQuestions> answer_the_rest(const AnswerSource& source) {
  std::array<double, kQuestions> took{};
  std::atomic<int> next{1};
  const auto worker = [&] {
    for (int i = next++; i < kQuestions; i = next++) {
      const auto begun = Clock::now();
      (void)answer(Question(i), source);
      took[std::size_t(i)] = ms_since(begun);
    }
  };
  {
    std::jthread other(worker);
    worker();
  }
  return took;
}

void findings() {
  const auto recipe = parse_recipe(kRecipe);
  if (!recipe) {
    std::printf("%s\n", recipe.refusal().reason.c_str());
    return;
  }
  const Trial trial = play(*recipe, 7);
  std::printf("%zu runs, %zu readings\n", trial.runs.size(), trial.reading_count());
  std::vector<double> firsts, wholes;
  for (int round = 0; round < 5; ++round) {
    const auto start = Clock::now();
    const stats::Work work{2, {}};
    const auto fits = *fit_runs(trial, {}, work);
    const double fitted = ms_since(start);
    LifeQuestion question;
    question.threshold = 450;
    const LifeFindings life = find_life(trial, fits, question);
    AnswerSource source;
    source.facts = &trial;
    source.fits = &fits;
    source.life = &life;
    source.workers = 2;
    source.bootstrap_refits = 1000;
    (void)answer(Question::curves, source);
    firsts.push_back(ms_since(start));
    const auto answering = Clock::now();
    (void)answer_the_rest(source);
    const double answered = ms_since(answering);
    const auto booting = Clock::now();
    std::vector<std::optional<CurveBootstrap>> boots(fits.size());
    stats::for_each_piece(fits.size(), work, [&](std::size_t i) {
      BootstrapOptions options;
      options.refits = 1000;
      options.stream = i;
      options.threshold = 450;
      if (fits[i].curve)
        boots[i] =
            bootstrap_curve(fits[i].curve->fit, fits[i].readings, options, stats::Work{1, {}});
    });
    const double booted = ms_since(booting);
    const auto deciding = Clock::now();
    (void)find_verdict({&trial, &fits, {}, ""}, {450, {}, {}, {}, {}});
    const double decided = ms_since(deciding);
    wholes.push_back(ms_since(start));
    if (round == 0)
      std::printf(
          "first round: fits %.0f ms, %d answers %.0f ms, %zu x 1,000 bootstrap refits %.0f ms, "
          "verdict %.0f ms\n",
          fitted, kQuestions, answered, fits.size(), booted, decided);
  }
  std::sort(firsts.begin(), firsts.end());
  std::sort(wholes.begin(), wholes.end());
  std::printf("first sentence: median %.0f ms, worst of 5 %.0f ms (wanted < 200)\n", firsts[2],
              firsts[4]);
  std::printf("all of it: median %.0f ms, worst of 5 %.0f ms (wanted < 1000)\n", wholes[2],
              wholes[4]);
}

/// A million readings in 2,000 runs: what a gauge that logs by itself leaves behind.
void million() {
  Trial trial;
  stats::Random random(9);
  for (int r = 0; r < 2000; ++r) {
    bq::Run& run = trial.runs.emplace_back();
    run.id = r + 1;
    run.facts.name = "R" + std::to_string(r);
    run.facts.blade = "B" + std::to_string(r % 40);
    run.facts.steel = r % 2 ? "A" : "B";
    run.facts.medium = "mat";
    const double angle = 10.0 + r % 5 * 2;
    run.facts.geometry = *EdgeGeometry::make({angle, angle});
    const double life = (r % 2 ? 600 : 400) * std::exp(0.15 * random.normal());
    for (int c = 0; c < 50; ++c)
      for (int i = 0; i < 10; ++i) {
        Reading& reading = run.readings.emplace_back();
        reading.cuts = c * 20;
        reading.value =
            150 * (1 + 2 * std::pow(c * 20 / life, 0.7)) * std::exp(0.04 * random.normal());
      }
    run.cuts_done = 980;
  }
  const auto start = Clock::now();
  const auto fits = *fit_runs(trial, {}, stats::Work{2, {}});
  const double fitted = ms_since(start);
  LifeQuestion question;
  question.threshold = 450;
  const LifeFindings life = find_life(trial, fits, question);
  AnswerSource source;
  source.facts = &trial;
  source.fits = &fits;
  source.life = &life;
  source.workers = 2;
  source.bootstrap_refits = 0;
  (void)answer(Question::curves, source);
  const double first = ms_since(start);
  const auto took = answer_the_rest(source);
  const double answered = ms_since(start);
  (void)find_verdict({&trial, &fits, {}, ""}, {450, {}, {}, {}, {}});
  std::printf(
      "%zu runs, %zu readings: fits %.0f ms, first sentence %.0f ms (wanted < 1000), all answers "
      "%.0f "
      "ms, with the verdict %.0f ms (wanted < 6000)\n",
      trial.runs.size(), trial.reading_count(), fitted, first, answered, ms_since(start));
  for (int i = 1; i < kQuestions; ++i)
    if (took[std::size_t(i)] > 300)
      std::printf("  question %d: %.0f ms\n", i, took[std::size_t(i)]);
}

void panning() {
  ui::PlotView view;
  view.resize(900, 500);
  std::vector<ui::PlotSeries> series(4);
  for (int s = 0; s < 4; ++s) {
    series[std::size_t(s)].name = QString::number(s);
    series[std::size_t(s)].style = s;
    for (int i = 0; i < 50000; ++i) {
      series[std::size_t(s)].x.push_back(i);
      series[std::size_t(s)].y.push_back(100 + 20 * s + 10 * std::sin(i * 0.001 * (s + 1)) +
                                         3 * std::sin(i * 1.7));
    }
  }
  view.show();
  view.show_plot({QStringLiteral("cuts"), QStringLiteral("reading")}, series);
  QApplication::processEvents();
  QWidget* canvas = view.canvas();
  const auto send = [&](QEvent::Type type, QPoint at, Qt::MouseButtons buttons) {
    QMouseEvent event(type, QPointF(at), QPointF(canvas->mapToGlobal(at)),
                      type == QEvent::MouseMove ? Qt::NoButton : Qt::LeftButton, buttons,
                      Qt::NoModifier);
    QApplication::sendEvent(canvas, &event);
  };
  send(QEvent::MouseButtonPress, {400, 250}, Qt::LeftButton);
  std::vector<double> frames;
  for (int i = 0; i < 200; ++i) {
    const auto start = Clock::now();
    send(QEvent::MouseMove,
         {400 + int(120 * std::sin(i * 0.1)), 250 + int(40 * std::cos(i * 0.13))}, Qt::LeftButton);
    QApplication::processEvents();
    frames.push_back(ms_since(start));
  }
  send(QEvent::MouseButtonRelease, {400, 250}, Qt::NoButton);
  std::sort(frames.begin(), frames.end());
  std::printf(
      "panning 200,000 points: median %.1f ms a frame, 95 %% under %.1f ms: %.0f frames/s (wanted "
      "30)\n",
      frames[100], frames[190], 1000 / frames[190]);
}

}  // namespace

int main(int argc, char** argv) {
  QApplication app(argc, argv);
  QApplication::setStyle(QStringLiteral("Fusion"));
  ui::load_fonts();
  ui::apply_theme(app, ui::ThemeName::chalk);
  const std::string only = argc > 1 ? argv[1] : "";
  if (only.empty() || only == "findings") findings();
  if (only.empty() || only == "million") million();
  if (only.empty() || only == "panning") panning();
  return 0;
}
