#include "commands.h"
#include "output.h"
#include "workflow/data_package.h"
#include "workflow/source.h"

int run_package(const PackageOptions& options) {
  if (!options.target.ends_with(".zip"))
    throw CommandEnd(kUsage, "--to " + options.target + ": a package is written as .zip");
  const std::string bytes = bq::package_of(options.project, day_or_today(options.date));
  write_whole(options.target, bytes);
  return kDone;
}

int run_verify(const VerifyOptions& options) {
  const auto check = bq::verify_package(bq::read_text_file(options.package, std::size_t(2) << 30));
  if (!check) throw CommandEnd(kRefused, options.package + ": " + check.refusal().reason);
  const bool same = check->differs.empty();
  if (options.json) {
    print_json({{"same", same},
                {"differs", check->differs},
                {"tables", check->tables},
                {"pictures", check->pictures},
                {"answers", check->answers}});
  } else {
    std::printf("%d tables, %d pictures and %d answers compared\n", check->tables, check->pictures,
                check->answers);
    for (const auto& one : check->differs) std::printf("differs: %s\n", one.c_str());
    if (same) std::printf("the same\n");
  }
  return same ? kDone : kRefused;
}
