#include "child_process.h"

#include <sys/resource.h>
#include <sys/wait.h>
#include <unistd.h>

#include <chrono>

ChildCost run_child(const std::vector<std::string>& command) {
  using Clock = std::chrono::steady_clock;
  ChildCost cost;
  int ends[2];
  if (pipe(ends) != 0) return cost;
  const auto start = Clock::now();
  const auto since = [&] { return std::chrono::duration<double>(Clock::now() - start).count(); };
  const pid_t child = fork();
  if (child == 0) {
    dup2(ends[1], STDOUT_FILENO);
    close(ends[0]);
    close(ends[1]);
    std::vector<char*> arguments;
    for (const auto& word : command) arguments.push_back(const_cast<char*>(word.c_str()));
    arguments.push_back(nullptr);
    execv(arguments[0], arguments.data());
    _exit(127);
  }
  close(ends[1]);
  char buffer[4096];
  while (true) {
    const ssize_t got = read(ends[0], buffer, sizeof buffer);
    if (got <= 0) break;
    if (cost.first_line_seconds < 0) cost.first_line_seconds = since();
  }
  close(ends[0]);
  int status = 0;
  rusage usage{};
  wait4(child, &status, 0, &usage);
  cost.seconds = since();
  cost.exit_code = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
  cost.peak_mb = double(usage.ru_maxrss) / 1024;
  return cost;
}
