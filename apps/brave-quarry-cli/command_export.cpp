#include <cerrno>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <sstream>
#include <unistd.h>

#include "commands.h"
#include "output.h"
#include "readings_source.h"
#include "store/readings_export.h"

int run_export(const ExportOptions& options) {
  const bool csv = options.target.ends_with(".csv"), json = options.target.ends_with(".json");
  if (!csv && !json)
    throw CommandEnd(kUsage, "--to " + options.target + ": the ending decides the format; .csv and .json are there");
  const bq::Trial trial = trial_from(options.source, false);
  std::ostringstream text;
  if (csv) bq::write_readings_csv(trial, text);
  else text << bq::trial_json(trial);
  // Beside the target first, so that a full disk leaves the old file whole.
  const std::string draft = options.target + ".new-" + std::to_string(getpid());
  std::ofstream out(draft, std::ios::binary);
  out << text.str();
  out.close();
  std::error_code error;
  if (!out.fail()) std::filesystem::rename(draft, options.target, error);
  if (out.fail() || error) {
    std::error_code ignored;
    std::filesystem::remove(draft, ignored);
    throw CommandEnd(kSystem, "\"" + options.target + "\" could not be written: " +
                                  (error ? error.message() : std::strerror(errno)) + ".");
  }
  int bare = 0;
  for (const auto& item : trial.runs) bare += item.readings.empty();
  if (csv && bare)
    say(std::to_string(bare) + " runs have no readings and are not in the table (they are in .json).");
  return kDone;
}
