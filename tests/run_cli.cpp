#include "run_cli.h"

#include <sys/wait.h>

#include <cstdlib>

#include "support.h"

namespace bq::test {

CliAnswer run_cli(const std::string& arguments, const std::string& first) {
  const Folder folder;
  const auto out = folder / "out", err = folder / "err";
  std::string command = first + BQ_CLI;
  command += ' ';
  command += arguments + " >" + out.string() + " 2>" + err.string();
  const int status = std::system(command.c_str());
  return {WEXITSTATUS(status), read_file(out), read_file(err)};
}

}  // namespace bq::test
