#include <fcntl.h>
#include <gtest/gtest.h>
#include <signal.h>
#include <sys/wait.h>
#include <unistd.h>

#include <algorithm>
#include <set>
#include <sstream>

#include "stats/random.h"
#include "store/project_file.h"
#include "support.h"

using namespace bq;

// SIGKILL at 50 random moments while readings are typed: what was shown as kept is in the file,
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
  }
  stats::Random random(50);
  std::vector<double> kept;
  int first = 100;
  int with_readings = 0;
  for (int round = 0; round < 50; ++round) {
    int ends[2];
    ASSERT_EQ(pipe(ends), 0);
    const pid_t child = fork();
    if (child == 0) {
      dup2(ends[1], STDOUT_FILENO);
      close(ends[0]);
      close(ends[1]);
      const std::string start = std::to_string(first);
      execl(BQ_TYPIST, BQ_TYPIST, path.c_str(), start.c_str(), nullptr);
      _exit(127);
    }
    close(ends[1]);
    // Count the delay from the first kept reading, so that most kills hit the typing.
    std::string shown;
    char buffer[4096];
    ssize_t got = read(ends[0], buffer, sizeof buffer);
    if (got > 0) shown.append(buffer, std::size_t(got));
    usleep(useconds_t(random.below(120000)));
    kill(child, SIGKILL);
    while ((got = read(ends[0], buffer, sizeof buffer)) > 0) shown.append(buffer, std::size_t(got));
    close(ends[0]);
    int status = 0;
    waitpid(child, &status, 0);
    ASSERT_TRUE(WIFSIGNALED(status)) << "the typist ended by itself with " << WEXITSTATUS(status);
    std::istringstream lines(shown.substr(0, shown.rfind('\n') + 1));
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
  EXPECT_GE(with_readings, 45);
  EXPECT_LE(stored.size(), kept.size() + 50);  // at most the one under way each time
  std::printf("%zu readings shown as kept in 50 kills, %zu in the file\n", kept.size(), stored.size());
}
