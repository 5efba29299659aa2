// Readings and lives in one model: the whole analysis of a bench on one core, in one step and in
// two, side by side; and R's nlme on a table of the same size in the same run, where there is R.
#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <fstream>

#include "bluntness/life_model.h"
#include "stats/random.h"

using namespace bq;

namespace {

using Clock = std::chrono::steady_clock;

constexpr double kLimit = 300;

/// Readings that rise by a power of the cuts; a third of the runs is stopped before the limit.
Trial bench_of(int runs, int checkpoints, int each) {
  stats::Random random(3);
  Trial trial;
  for (int i = 0; i < runs; ++i) {
    bq::Run run;
    run.facts.name = "r" + std::to_string(i);
    run.facts.steel = i % 2 ? "Marl" : "Cairn";
    const double angle = 12 + 3 * ((i / 2) % 3);
    run.facts.geometry = *EdgeGeometry::make(BevelAngles::symmetric(angle), std::nullopt);
    run.facts.medium = "tow";
    const double life =
        500 * std::exp(0.25 * (i % 2) - std::log(angle / 15) + 0.25 * random.normal());
    const double r0 = 100 * std::exp(0.1 * random.normal()),
                 b = 0.7 * std::exp(0.12 * random.normal());
    for (int k = 0; k < checkpoints; ++k) {
      const double cuts =
          k == 0 ? 0 : std::round(600 * std::pow(2.0, 6.3 * (k + 1 - checkpoints) / checkpoints));
      const double truth = r0 + (kLimit - r0) * std::pow(cuts / life, b),
                   deviation = 0.05 * random.normal();
      for (int j = 0; j < each; ++j) {
        Reading reading;
        reading.cuts = std::int64_t(cuts);
        reading.value = truth * std::exp(deviation + 0.05 * random.normal());
        run.readings.push_back(reading);
      }
      run.cuts_done = std::int64_t(cuts);
    }
    trial.runs.push_back(std::move(run));
  }
  return trial;
}

/// Milliseconds from readings to coefficients on one core, the best of some.
double analyse(const Trial& trial, LifeMethod method, int* carried) {
  double best = 1e9;
  stats::Work one;
  one.workers = 1;
  for (int round = 0; round < 9; ++round) {
    const auto start = Clock::now();
    const auto fits = fit_runs(trial, {}, one);
    const LifeTable table = life_table(trial, *fits, kLimit, 0.95, method);
    const auto model = LifeModel::fit(table, {{"steel", "angle"}, {}});
    best = std::min(best, std::chrono::duration<double, std::milli>(Clock::now() - start).count());
    *carried = table.carried_on();
    if (!model) std::exit(1);
  }
  return best;
}

void write_table(const Trial& trial, const char* path) {
  std::ofstream out(path);
  out << "run,steel,edge_angle,cuts,unit,reading\n";
  for (const auto& run : trial.runs)
    for (const auto& reading : run.readings)
      out << run.facts.name << ',' << run.facts.steel << ','
          << run.facts.geometry->apex().equivalent_deg() << ',' << reading.cuts << ",gf,"
          << reading.value << '\n';
}

}  // namespace

int main() {
  const std::string folder = std::getenv("TMPDIR") ? std::getenv("TMPDIR") : "/tmp";
  const bool has_r = std::system("command -v Rscript >/dev/null 2>&1") == 0;
  for (const auto& [runs, checkpoints, each, wanted] :
       {std::tuple(24, 8, 3, 15), std::tuple(100, 12, 5, 150)}) {
    const Trial trial = bench_of(runs, checkpoints, each);
    int carried = 0, none = 0;
    const double joint = analyse(trial, LifeMethod::joint, &carried),
                 steps = analyse(trial, LifeMethod::two_stage, &none);
    std::printf(
        "%d runs x %d checkpoints x %d readings, one core: one model %.1f ms (wanted: "
        "under %d; %d runs carried on), two steps %.1f ms\n",
        runs, checkpoints, each, joint, wanted, carried, steps);
    const std::string table = folder + "/bq-bench-life.csv";
    write_table(trial, table.c_str());
    if (!has_r) {
      std::printf("  no R here: r-base-core and r-cran-nlme give the comparison\n");
      continue;
    }
    for (const char* readings : {"means", "readings"}) {
      const std::string command =
          std::string("Rscript " BQ_SOURCE_DIR "/tests/reference/joint.R ") + table + " " +
          readings + " 2>/dev/null";
      FILE* pipe = popen(command.c_str(), "r");
      char line[400];
      double seconds = 0;
      while (pipe && std::fgets(line, sizeof line, pipe))
        std::sscanf(line, "seconds %lf", &seconds);
      if (pipe) pclose(pipe);
      std::printf("  nlme on the %s: %.2f s, %.0f times as long as ours\n",
                  *readings == 'm' ? "means of the checkpoints" : "readings", seconds,
                  1000 * seconds / joint);
    }
    std::remove(table.c_str());
  }
  return 0;
}
