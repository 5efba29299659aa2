// A million readings: from CSV into a project, and the project opened to a usable window.
#include <unistd.h>

#include <cstdio>
#include <filesystem>

#include "child_process.h"

namespace {

constexpr int kReadings = 1'000'000;

void write_table(const std::string& path, int runs) {
  std::FILE* out = std::fopen(path.c_str(), "w");
  std::fprintf(out,
               "run,blade,steel,edge_angle,micro_angle,finish_um,medium,cut_mode,cuts,reading,unit,"
               "station,operator,block\n");
  const char* steels[] = {"Fenland Plain", "Marl Tough", "Cairn Hard"};
  const char* stations[] = {"heel", "middle", "tip"};
  const int each = kReadings / runs;
  for (int run = 0; run < runs; ++run)
    for (int i = 0; i < each; ++i) {
      const int cuts = i / 4 * 20;
      const double value = (60 + run % 7 + 3.0 * cuts / (1 + 0.002 * cuts)) *
                           (1 + 0.03 * ((run * 31 + i * 17) % 13 - 6) / 6.0);
      std::fprintf(
          out, "R%05d,%s %d,%s,10,%d,%d,coir mat 8 mm,slice,%d,%.1f,gf,%s,operator %c,day %d\n",
          run, steels[run % 3], run % 300, steels[run % 3], 12 + run % 4 * 3, 1 + run % 3 * 5, cuts,
          value, stations[i % 3], run % 2 ? 'A' : 'B', run / 1000 + 1);
    }
  std::fclose(out);
}

}  // namespace

int main() {
  namespace fs = std::filesystem;
  const fs::path folder = fs::temp_directory_path() / ("bq-bench-" + std::to_string(getpid()));
  fs::create_directories(folder);
  for (const int runs : {1000, 25000}) {
    const std::string table = (folder / "million.csv").string(),
                      project = (folder / "million.bquarry").string();
    write_table(table, runs);
    std::printf("%d readings in %d runs, %.0f MB of CSV\n", kReadings, runs,
                double(fs::file_size(table)) / 1e6);
    double best = 1e9, peak = 0;
    for (int round = 0; round < 3; ++round) {
      fs::remove(project);
      const ChildCost cost = run_child({BQ_CLI, "import", project, table});
      if (cost.exit_code != 0) return std::printf("import failed with %d\n", cost.exit_code), 1;
      best = std::min(best, cost.seconds);
      peak = std::max(peak, cost.peak_mb);
    }
    std::printf(
        "  import                %9.0f rows/s   (wanted: at least 300000)   %.2f s, peak %.0f MB "
        "(wanted: under 400)\n",
        kReadings / best, best, peak);
#ifdef BQ_WINDOW
    double open = 1e9, open_peak = 0;
    for (int round = 0; round < 3; ++round) {
      const ChildCost cost = run_child({BQ_WINDOW, project, "--exit-when-open"});
      if (cost.exit_code != 0) return std::printf("opening failed with %d\n", cost.exit_code), 1;
      open = std::min(open, cost.first_line_seconds);
      open_peak = std::max(open_peak, cost.peak_mb);
    }
    std::printf(
        "  open to usable window %9.2f s        (wanted: under 1.5)   peak %.0f MB (wanted: under "
        "400)\n",
        open, open_peak);
#endif
  }
  fs::remove_all(folder);
  return 0;
}
