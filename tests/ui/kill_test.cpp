#include <fcntl.h>
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <map>
#include <set>
#include <sstream>

#include "bench_hand.h"
#include "stats/random.h"
#include "store/project_file.h"
#include "support.h"

using namespace bq;

namespace {

/// Starts the typist, kills it and returns the whole lines it wrote: what the window had shown as
/// kept. The delay counts from its first line (so that most kills hit the work), or from its start.
std::string shown_before_kill(const std::string& path, const std::string& how, bool from_first_line,
                              useconds_t delay_us) {
  int ends[2];
  if (pipe(ends) != 0) throw std::runtime_error("no pipe");
  const pid_t child = fork();
  if (child == 0) {
    dup2(ends[1], STDOUT_FILENO);
    close(ends[0]);
    close(ends[1]);
    execl(BQ_TYPIST, BQ_TYPIST, path.c_str(), how.c_str(), nullptr);
    _exit(127);
  }
  close(ends[1]);
  std::string shown;
  char buffer[4096];
  ssize_t got = 0;
  if (from_first_line && (got = read(ends[0], buffer, sizeof buffer)) > 0)
    shown.append(buffer, std::size_t(got));
  usleep(delay_us);
  kill(child, SIGKILL);
  while ((got = read(ends[0], buffer, sizeof buffer)) > 0) shown.append(buffer, std::size_t(got));
  close(ends[0]);
  int status = 0;
  waitpid(child, &status, 0);
  EXPECT_TRUE(WIFSIGNALED(status)) << "the typist ended by itself with " << WEXITSTATUS(status);
  return shown.substr(0, shown.rfind('\n') + 1);
}

}  // namespace

// SIGKILL at 20 random moments while readings are typed: what was shown as kept is in the file,
// each once, and the file is whole.
TEST(Kill, NoReadingShownAsKeptIsLost) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  {
    auto project = ProjectFile::create(path, "kill");
    project.add_blade({0, "b", "Fenland Plain", "", false, {}});
    bq::Run run;
    run.facts.name = "R1";
    run.facts.blade = "b";
    for (int cuts = 0; cuts < 200; ++cuts) run.plan.checkpoints.push_back(cuts * 5);
    run.plan.readings_each = 40;
    project.add_run(run);
    BenchProtocol protocol;
    protocol.debounce_ms = 0;
    protocol.gate = protocol.stop_at_threshold = false;
    protocol.rest_after_min = 0;
    project.set_setting(kProtocolKey, protocol_json(protocol));
  }
  stats::Random random(50);
  std::vector<double> kept;
  int first = 100;
  int with_readings = 0;
  for (int round = 0; round < 20; ++round) {
    std::istringstream lines(
        shown_before_kill(path, std::to_string(first), true, useconds_t(random.below(120000))));
    const auto before = kept.size();
    for (int value; lines >> value;) {
      kept.push_back(value);
      first = std::max(first, value + 1);
    }
    with_readings += kept.size() > before;
    first += 10;  // the one on its way may be there unseen
  }
  const auto project = ProjectFile::open(path, ProjectFile::Access::write);
  EXPECT_TRUE(project.check().empty());
  std::multiset<double> stored;
  const Trial loaded = project.load();
  for (const auto& reading : loaded.runs[0].readings) stored.insert(reading.value);
  for (const double value : kept) EXPECT_EQ(stored.count(value), 1u) << value;
  EXPECT_GE(with_readings, 5);
  EXPECT_LE(stored.size(), kept.size() + 20);  // at most the one under way each time
  std::printf("%zu readings shown as kept in 20 kills, %zu in the file\n", kept.size(),
              stored.size());
}

// The harness of the issue: a trial of several runs with the gauge answering over a
// pseudo-terminal; the program is killed at 200 seeded moments (in four parts, so that they can run
// beside each other) and started again each time. At the
// end every reading that was acknowledged is there exactly once, and the trial is whole: no
// checkpoint has a reading too many.
class KillPart : public testing::TestWithParam<int> {};

TEST_P(KillPart, FiftyKillsDuringATrialWithTheGaugeAnswering) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  BenchProtocol protocol;
  protocol.debounce_ms = 0;
  protocol.gate = protocol.stop_at_threshold = false;
  protocol.rest_after_min = 0;
  const std::vector<std::int64_t> checkpoints{0, 10, 20, 40, 80, 150, 300, 500};
  test::make_bench_project(path, 40, checkpoints, 5, protocol);
  const QString link = QString::fromStdString((folder / "gauge").string());
  {
    InstrumentProfile gauge = usual_profile(InstrumentRole::gauge);
    gauge.port = link.toStdString();
    ProjectFile::open(path, ProjectFile::Access::write)
        .set_setting(kInstrumentsKey, instruments_json({gauge}));
  }
  const test::Device device("gauge", link);
  stats::Random random(200, std::uint64_t(GetParam()));
  struct Shown {
    long long run, id;
    double value;
  };
  std::vector<Shown> acknowledged;
  int with_readings = 0;
  for (int round = 0; round < 50; ++round) {
    // One time in four while it starts, else while it works.
    std::istringstream lines(
        shown_before_kill(path, "gauge", round % 4 != 0, useconds_t(random.below(150000))));
    const auto before = acknowledged.size();
    for (Shown one{}; lines >> one.run >> one.id >> one.value;) acknowledged.push_back(one);
    with_readings += acknowledged.size() > before;
  }
  const auto project = ProjectFile::open(path, ProjectFile::Access::write);
  EXPECT_TRUE(project.check().empty());
  const Trial loaded = project.load();
  std::map<std::pair<long long, long long>, std::vector<double>> stored;
  std::size_t count = 0;
  for (const auto& run : loaded.runs) {
    std::map<std::int64_t, int> here;
    for (const auto& reading : run.readings) {
      stored[{run.id, reading.id}].push_back(reading.value);
      ++here[reading.cuts];
      ++count;
    }
    for (const auto& [cuts, readings] : here) {
      EXPECT_LE(readings, 5) << run.facts.name << " at " << cuts;
      if (cuts < run.cuts_done) {
        EXPECT_EQ(readings, 5) << run.facts.name << " at " << cuts
                               << ": a checkpoint was left behind";
      }
    }
    // Every block was cut once: the cuts add up.
    std::int64_t cuts = 0;
    for (const auto& event : run.events)
      if (const auto* cut = std::get_if<CutEvent>(&event.data)) cuts += cut->made;
    EXPECT_EQ(cuts, run.cuts_done) << run.facts.name;
  }
  for (const auto& one : acknowledged) {
    const auto found = stored.find({one.run, one.id});
    ASSERT_NE(found, stored.end()) << "reading " << one.id << " was shown as kept and is gone";
    EXPECT_EQ(found->second, std::vector<double>{one.value});
  }
  EXPECT_GE(with_readings, 10) << "a kill that nothing was kept before tells nothing";
  EXPECT_LE(count, acknowledged.size() + 50) << "at most the one under way at each kill";
  std::printf("%zu readings acknowledged over 50 kills, %zu in the file\n", acknowledged.size(),
              count);
}

INSTANTIATE_TEST_SUITE_P(Kill, KillPart, testing::Range(0, 4));
