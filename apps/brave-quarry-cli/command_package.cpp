#include <algorithm>

#include "commands.h"
#include "output.h"
#include "store/table_template.h"
#include "workflow/data_package.h"
#include "workflow/learned.h"
#include "workflow/source.h"

int run_package(const PackageOptions& options) {
  if (!options.target.ends_with(".zip"))
    throw CommandEnd(kUsage, "--to " + options.target + ": a package is written as .zip");
  const std::string bytes = bq::package_of(options.project, day_or_today(options.date));
  write_whole(options.target, bytes);
  return kDone;
}

int run_learn(const LearnOptions& options) {
  const auto wanted = [&](const char* what) {
    return options.what.empty() ||
           std::find(options.what.begin(), options.what.end(), what) != options.what.end();
  };
  std::vector<std::string> notes;
  const bq::Teacher other = bq::teacher_from(bq::open_to_read(options.from, notes));
  for (const auto& note : notes) say(note);
  auto session = bq::ProjectSession::open(options.project);
  if (!session.writable()) throw CommandEnd(kSystem, session.read_only_reason());
  const auto learned = bq::learn_from(
      session, other,
      {wanted("steels"), wanted("media"), wanted("stones"), wanted("jig"), wanted("bench")},
      day_or_today(options.date));
  bq::take_learned(session, learned);
  if (options.json) {
    Json bench = Json::array();
    for (const auto& setting : learned.bench) bench.push_back(bq::words_of_setting(setting.key));
    print_json({{"steels", learned.steels.size()},
                {"media", learned.media.size()},
                {"stones", learned.stones.size()},
                {"bench", bench},
                {"there", learned.there},
                {"unlike", learned.unlike}});
    return kDone;
  }
  std::printf("%s taken over from %s\n", learned.count().c_str(), other.trial.title.c_str());
  for (const auto& name : learned.there) {
    const bool unlike =
        std::find(learned.unlike.begin(), learned.unlike.end(), name) != learned.unlike.end();
    std::printf("left as it is here: %s%s\n", name.c_str(),
                unlike ? " (the other project says otherwise of it)" : "");
  }
  return kDone;
}

int run_template(const TemplateOptions& options) {
  const auto kind = bq::parse_template_kind(options.kind);
  const bool ods = options.target.ends_with(".ods");
  if (!ods && !options.target.ends_with(".csv"))
    throw CommandEnd(kUsage, "--to " + options.target + ": a table is written as .ods or .csv");
  const auto rows = bq::template_rows(*kind);
  write_whole(options.target, ods ? bq::ods_of(rows, options.kind) : bq::csv_of(rows));
  return kDone;
}

int run_verify(const VerifyOptions& options) {
  const auto check = bq::verify_package(bq::read_text_file(options.package, bq::kMostPackageBytes));
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
