// Measures a series of pictures as a template says, or makes the template from one that was
// measured.
#include <algorithm>

#include "commands.h"
#include "measure_json.h"
#include "output.h"
#include "pixels/picture_loader.h"
#include "readings_source.h"
#include "store/picture_store.h"
#include "workflow/measure_series.h"
#include "workflow/project_session.h"
#include "workflow/source.h"

namespace {

/// What is measured in a picture of a project; ends the command where it cannot be read.
bq::GreyImage grey_of(const bq::PictureStore& pictures, const bq::Micrograph& m) {
  const auto bytes = pictures.bytes(m.id);
  if (!bytes) throw CommandEnd(kSystem, m.name + ": its file is not in the project.");
  const bq::DecodedPicture decoded = bq::decode_picture(*bytes);
  if (!decoded.pixels) throw CommandEnd(kRefused, m.name + ": " + decoded.fault.toStdString());
  return decoded.pixels->grey;
}

struct Count {
  int taken = 0, refused = 0;
};

/// Says what came of one picture, in the table and in the JSON.
void report(const bq::Micrograph& m, const std::optional<bq::PictureScale>& scale,
            const bq::SeriesPicture& found, Count& count, TextTable& table, Json& list) {
  Json item{{"id", m.id}, {"name", m.name}, {"measures", Json::array()}};
  for (const auto& one : found.measures) {
    const std::string kind(bq::name_of(one.kind));
    Json said{{"kind", kind}};
    if (one.take) {
      ++count.taken;
      const bq::LensMeasure measure{one.kind, {*one.take}, one.note};
      table.add({m.name, kind, bq::print_measure(measure, scale)});
      said["px"] = one.take->value_px;
      put_value(said, measure, scale);
    } else {
      ++count.refused;
      table.add({m.name, kind, "not measured: " + one.why_not});
      said["not_measured"] = one.why_not;
    }
    item["measures"].push_back(std::move(said));
  }
  if (found.along) {
    ++count.taken;
    table.add({m.name, "along the apex",
               std::to_string(found.along->chips.size()) +
                   (found.along->chips.size() == 1 ? " chip" : " chips")});
    item["along"] = {{"chips", found.along->chips.size()}, {"length_px", found.along->length_px}};
  } else if (!found.why_not_along.empty()) {
    ++count.refused;
    table.add({m.name, "along the apex", "not measured: " + found.why_not_along});
    item["along"] = {{"not_measured", found.why_not_along}};
  }
  list.push_back(std::move(item));
}

}  // namespace

int run_measure_template(const PicturesOptions& options) {
  const auto project = project_from(options.project);
  const bq::Trial trial = project.load();
  for (const auto& m : trial.micrographs)
    if (m.id == options.like) {
      const auto made = bq::template_of(trial, m, grey_of(*project.pictures(), m));
      if (!made) throw CommandEnd(kRefused, m.name + ": " + made.refusal().reason);
      std::fputs(bq::template_json(*made).c_str(), stdout);
      return kDone;
    }
  throw CommandEnd(kRefused, "There is no picture " + std::to_string(options.like) +
                                 "; `pictures PROJECT` lists them.");
}

int run_measure(const PicturesOptions& options) {
  const auto wanted = bq::parse_template(bq::read_text_file(options.measure));
  if (!wanted) throw CommandEnd(kRefused, options.measure + ": " + wanted.refusal().reason);
  TextTable table({"picture", "what", "measured"});
  Json list = Json::array();
  Count count;
  const auto measure_all = [&](const bq::Trial& trial, const bq::PictureStore& pictures) {
    for (const auto id : options.only)
      if (std::none_of(trial.micrographs.begin(), trial.micrographs.end(),
                       [id](const bq::Micrograph& m) { return m.id == id; }))
        throw CommandEnd(kRefused,
                         "There is no picture " + std::to_string(id) + ". Nothing was measured.");
    std::vector<bq::Micrograph> after;
    for (const auto& m : trial.micrographs) {
      const bool asked = options.only.empty() ? m.stone.empty()
                                              : std::find(options.only.begin(), options.only.end(),
                                                          m.id) != options.only.end();
      if (!asked) continue;
      const auto found = bq::measure_like(*wanted, trial, m, grey_of(pictures, m));
      report(m, bq::scale_of(trial, m), found, count, table, list);
      after.push_back(bq::with_series(m, found));
    }
    return after;
  };
  if (options.keep) {
    auto session = bq::ProjectSession::open(options.project);
    if (!session.writable()) throw CommandEnd(kSystem, session.read_only_reason());
    const auto after = measure_all(session.trial(), *session.pictures());
    if (count.taken > 0)
      session.as_one("measuring a series", [&] {
        for (const auto& m : after) session.set_micrograph(m, "measures of " + m.name);
      });
  } else {
    const auto project = project_from(options.project);
    measure_all(project.load(), *project.pictures());
  }
  const bool kept = options.keep && count.taken > 0;
  if (options.json) {
    print_json({{"pictures", list},
                {"measured", count.taken},
                {"not_measured", count.refused},
                {"kept", kept}});
    return kDone;
  }
  table.print();
  std::printf("%d measured, %d not; %s\n", count.taken, count.refused,
              kept ? "kept in the project" : "nothing was kept (--keep keeps)");
  return kDone;
}
