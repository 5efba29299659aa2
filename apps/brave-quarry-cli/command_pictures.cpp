// Lists a project's pictures with what was measured in them, or writes their files out.
#include <filesystem>
#include <set>

#include "commands.h"
#include "measure_json.h"
#include "output.h"
#include "quantity/number.h"
#include "readings_source.h"
#include "store/picture_store.h"
#include "store/whole_file.h"
#include "workflow/lens_study.h"

void put_value(Json& out, const bq::LensMeasure& measure,
               const std::optional<bq::PictureScale>& scale) {
  if (!scale) return;
  const bq::LensValue value = bq::value_of(measure, *scale);
  out["um"] = value.value;
  out["plus_minus_um"] = value.plus_minus;
  if (value.second)
    out[measure.kind == bq::LensMeasureKind::scratches ? "direction_deg" : "depth_um"] =
        *value.second;
}

int run_pictures(const PicturesOptions& options) {
  namespace fs = std::filesystem;
  const auto project = project_from(options.project);
  const bq::Trial trial = project.load();
  Json list = Json::array();
  TextTable table({"id", "picture", "µm/px", "measured"});
  for (const auto& m : trial.micrographs) {
    const auto scale = bq::scale_of(trial, m);
    Json item{{"id", m.id},
              {"name", m.name},
              {"kind", m.kind},
              {"width", m.width},
              {"height", m.height},
              {"size", m.size},
              {"sha256", m.sha256},
              {"blade", m.blade},
              {"run", m.run},
              {"stone", m.stone},
              {"magnification", m.magnification},
              {"instrument", m.instrument},
              {"mark", m.mark},
              {"measures", Json::array()}};
    if (m.cuts) item["cuts"] = *m.cuts;
    if (m.side) item["side"] = bq::name_of(*m.side);
    if (m.at_mm) item["at_mm"] = *m.at_mm;
    if (scale) item["um_per_px"] = scale->um_per_px;
    std::string measured;
    for (const auto& measure : m.measures) {
      measured += (measured.empty() ? "" : "; ") + std::string(bq::name_of(measure.kind)) + " " +
                  bq::print_measure(measure, scale);
      Json one{{"kind", bq::name_of(measure.kind)}, {"takes", measure.takes.size()}};
      put_value(one, measure, scale);
      item["measures"].push_back(std::move(one));
    }
    if (const auto v = bq::stretch_values(trial, m)) {
      Json along{{"length_um", v->length_um},
                 {"chips", v->chips},
                 {"chips_per_mm", v->per_mm},
                 {"chips_per_mm_low", v->per_mm_low},
                 {"chips_per_mm_high", v->per_mm_high},
                 {"wander_um", v->wander.value},
                 {"wander_plus_minus_um", v->wander.plus_minus},
                 {"belly_um", v->belly_um}};
      const auto put = [&along](const std::string& name,
                                const std::optional<bq::LensValue>& value) {
        if (!value) return;
        along[name + "_um"] = value->value;
        along[name + "_plus_minus_um"] = value->plus_minus;
      };
      if (v->wavy) along["cutoff_um"] = v->cutoff_um;
      put("waves", v->wavy);
      put("ragged", v->ragged);
      for (const auto& [name, spread] : {std::pair{"band", &v->band}, std::pair{"burr", &v->burr}})
        if (*spread) {
          put(name, (*spread)->mean);
          put(std::string(name) + "_most", (*spread)->most);
          along[std::string(name) + "_percent"] = (*spread)->percent;
        }
      if (v->receded) {
        along["since"] = m.along->recession->since;
        along["receded_um"] = v->receded->value;
        along["receded_plus_minus_um"] = v->receded->plus_minus;
        along["lost_um2"] = v->lost_um2;
      }
      item["along"] = std::move(along);
      measured += (measured.empty() ? "" : "; ") + std::string("along the apex ") +
                  bq::print_number(v->per_mm, 2) + " chips per mm";
    }
    list.push_back(std::move(item));
    table.add({std::to_string(m.id), bq::describe(m),
               scale ? bq::print_number(scale->um_per_px, 4) : "none", measured});
  }
  if (!options.folder.empty()) {
    std::error_code fault;
    fs::create_directories(options.folder, fault);
    std::set<std::string> names;
    for (const auto& m : trial.micrographs) {
      const std::string number = std::to_string(m.id);
      std::string name = bq::plain_file_name(m.name, "picture-" + number + "." + m.kind);
      while (!names.insert(name).second) name = number + "-" + name;
      const fs::path path = fs::path(options.folder) / name;
      if (fs::exists(path, fault))
        throw CommandEnd(
            kRefused,
            path.string() + " is there already. Nothing was written over; choose an empty folder.");
      const auto bytes = project.pictures()->bytes(m.id);
      if (!bytes) throw CommandEnd(kSystem, "Picture " + name + " cannot be read.");
      bq::write_whole_file(path, bq::Existing::refused, [&](std::ostream& out) { out << *bytes; });
    }
  }
  if (options.json)
    print_json(list);
  else if (trial.micrographs.empty())
    std::printf("no pictures\n");
  else
    table.print();
  return kDone;
}
