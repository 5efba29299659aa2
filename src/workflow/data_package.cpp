#include "workflow/data_package.h"

#include <algorithm>
#include <cmath>
#include <fstream>
#include <iostream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "bluntness/run_fits.h"
#include "quantity/nesting.h"
#include "quantity/said.h"
#include "stats/parallel.h"
#include "store/archive.h"
#include "store/picture_store.h"
#include "store/project_file.h"
#include "store/readings_export.h"
#include "store/table_resource.h"
#include "workflow/limits.h"
#include "workflow/report_source.h"
#include "workflow/source.h"

namespace bq::inline workflow {

extern const char* const kMethods;  // docs/methods.md as it was when the program was built

namespace {

using PackageJson = nlohmann::ordered_json;
namespace fs = std::filesystem;

constexpr const char* kDescriptor = "datapackage.json";
constexpr const char* kAnswers = "answers.json";
constexpr const char* kTidy = "readings.csv";
/// Figures that are recomputed on another machine may differ in their last places.
constexpr double kSame = 1e-6;

constexpr const char* kReadMe =
    "# What this is\n\n"
    "The data of a blade-edge trial as an open tabular data package. `datapackage.json` lists "
    "every\n"
    "file; the tables are plain CSV (UTF-8) with their columns, types and keys described there.\n\n"
    "- `readings.csv`: one row a reading, with the run, the cuts made so far and the unit. Start "
    "here.\n"
    "- `data/`: every table of the project. `\\N` is no value; a text that begins with a backslash "
    "has one more before it; an apostrophe stands before a text that a spreadsheet would run.\n"
    "- `pictures/`: the photographs as they came.\n"
    "- `answers.json`: what was concluded, sentence by sentence, with formula and data used.\n"
    "- `methods.md`: how each figure is computed, with sources.\n\n"
    "`brave-quarry-cli verify PACKAGE.zip` recomputes every answer from the tables and says what\n"
    "differs; `brave-quarry-cli import NEW.bquarry PACKAGE.zip` makes the project again.\n";

/// A folder of its own for a project that is only looked at; gone with it.
class Scratch {
 public:
  Scratch() {
    std::string name = (fs::temp_directory_path() / "brave-quarry-package-XXXXXX").string();
    if (!mkdtemp(name.data()))
      throw StoreError(StoreProblem::disk,
                       said("There is no room to make a project for comparison."));
    folder_ = name;
  }
  ~Scratch() {
    std::error_code ignored;
    fs::remove_all(folder_, ignored);
  }
  Scratch(const Scratch&) = delete;
  Scratch& operator=(const Scratch&) = delete;
  [[nodiscard]] fs::path project() const { return folder_ / "project.bquarry"; }

 private:
  fs::path folder_;
};

PackageJson json_of(const Answer& answer) {
  PackageJson table{{"heads", answer.table.heads}, {"rows", answer.table.rows}};
  return {{"question", words_of(answer.question)},
          {"answered", answer.answered},
          {"sentence", answer.sentence},
          {"remarks", answer.remarks},
          {"table", table},
          {"formula", answer.formula},
          {"method", answer.method},
          {"runs", answer.runs}};
}

PackageJson json_of(const RunFit& fit, const Threshold& threshold) {
  PackageJson out{{"run", fit.run}, {"readings", fit.readings.size()}};
  if (!fit.curve) {
    out["why_not"] = fit.why_not;
    return out;
  }
  const auto& curve = fit.curve->fit;
  out["model"] = curve_name(fit);
  const auto names = parameter_names(curve.curve.model);
  for (int i = 0; !fit.interpolated && i < curve.parameters(); ++i)
    out["parameters"][std::string(names[std::size_t(i)])] = curve.curve.parameters[std::size_t(i)];
  const auto cuts = cuts_to_threshold(fit, threshold.value);
  const auto end = [](const std::optional<double>& v) {
    return v ? PackageJson(*v) : PackageJson(nullptr);
  };
  out["cuts_to_threshold"] = {{"estimate", end(cuts.estimate)},
                              {"low", end(cuts.low)},
                              {"high", end(cuts.high)},
                              {"at_least", cuts.at_least}};
  return out;
}

/// Every answer of a project, as it is kept in the package.
PackageJson answers_of(const std::string& project, const std::stop_token& stop) {
  std::istringstream nothing;
  const SourceResult source = read_source(project, nothing);
  PackageJson out{{"program", "brave-quarry " BQ_VERSION}};
  if (source.trial.reading_count() == 0) {
    out["why_not"] = "there are no readings";
    return out;
  }
  stats::Work work;
  work.workers = stats::core_count();
  work.stop = stop;
  const auto fits = fit_runs(source.trial, {}, work);
  if (!fits) throw StoreError(StoreProblem::refused, said("Stopped. Nothing was written."));
  TrialStudyOptions options;
  options.stop = stop;
  if (!source.verdict_limits.empty())
    if (const auto limits = parse_limits(source.verdict_limits)) options.limits = *limits;
  const auto study = study_trial(source, *fits, options);
  if (!study) {
    out["why_not"] = study.refusal().reason;
    return out;
  }
  out["threshold"] = {{"said", source.threshold},
                      {"value", study->threshold.value},
                      {"unit", sign_of(study->threshold.unit)}};
  out["runs"] = PackageJson::array();
  for (const auto& fit : *fits) out["runs"].push_back(json_of(fit, study->threshold));
  out["answers"] = PackageJson::array();
  for (const auto& answer : study->answers) out["answers"].push_back(json_of(answer));
  const TrialReport report = trial_report(source, *study, options, "");
  out["verdict"] = {{"sentence", report.verdict},
                    {"how_sure", report.first.sure},
                    {"against", report.first.against},
                    {"ranking", {{"heads", report.ranking.heads}, {"rows", report.ranking.rows}}}};
  return out;
}

std::string tidy_of(const Trial& trial) {
  std::ostringstream out;
  write_readings_csv(trial, out);
  return out.str();
}

PackageJson tidy_schema(const std::string& csv) {
  PackageJson fields = PackageJson::array();
  bool first = true;
  for_each_csv_row(csv.substr(0, csv.find('\n') + 1), [&](const std::vector<CsvText>& heads) {
    if (!std::exchange(first, false)) return;
    for (const auto& head : heads) {
      const bool whole = head.text == "cuts" || head.text == "excluded";
      const bool number = head.text == "reading" || head.text.find("angle") != std::string::npos ||
                          head.text.starts_with("finish_um");
      fields.push_back({{"name", head.text},
                        {"type", whole    ? "integer"
                                 : number ? "number"
                                          : "string"}});
      if (head.text.find("angle") != std::string::npos)
        fields.back()["description"] = "degrees per side";
      if (head.text.starts_with("finish_um"))
        fields.back()["description"] = "particle size of the last abrasive, µm";
      if (head.text == "cuts") fields.back()["description"] = "cumulative cuts of the run";
    }
  });
  return {{"fields", fields}, {"missingValues", {""}}};
}

/// "fernmoor upholstery works" → "fernmoor-upholstery-works": what a package's name may hold.
std::string slug(const std::string& title) {
  std::string out;
  for (const char c : plain_words(title))
    if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9'))
      out += c;
    else if (!out.empty() && out.back() != '-')
      out += '-';
  while (!out.empty() && out.back() == '-') out.pop_back();
  return out.empty() ? "trial" : out;
}

/// Where two values differ, as "answers[3].sentence"; empty where they are the same.
void compare(const PackageJson& kept, const PackageJson& again, const std::string& place,
             std::vector<std::string>& differs) {
  if (kept.is_number() && again.is_number()) {
    const double a = kept.get<double>(), b = again.get<double>();
    if (!(std::abs(a - b) <= kSame * std::max({1e-12, std::abs(a), std::abs(b)})))
      differs.push_back(said("{place}: {kept}, recomputed {again}",
                             {{"place", place}, {"kept", kept.dump()}, {"again", again.dump()}}));
    return;
  }
  if (kept.type() != again.type() || (kept.is_structured() && kept.size() != again.size())) {
    differs.push_back(said("{place}: not of the same shape", {{"place", place}}));
    return;
  }
  if (kept.is_object()) {
    for (const auto& [key, value] : kept.items())
      if (again.contains(key))
        compare(value, again[key], place.empty() ? key : place + "." + key, differs);
      else
        differs.push_back(
            said("{place}.{key}: is no longer said", {{"place", place}, {"key", key}}));
  } else if (kept.is_array()) {
    for (std::size_t i = 0; i < kept.size(); ++i)
      compare(kept[i], again[i], place + "[" + std::to_string(i) + "]", differs);
  } else if (kept != again) {
    constexpr std::size_t kShown = 90;
    differs.push_back(
        said("{place}: {kept}, recomputed {again}", {{"place", place},
                                                     {"kept", kept.dump().substr(0, kShown)},
                                                     {"again", again.dump().substr(0, kShown)}}));
  }
}

/// What a package holds, read and looked at; its tables in the descriptor's order.
struct Opened {
  PackageJson descriptor;
  std::vector<TableResource> tables;
  std::vector<PictureResource> pictures;
  int version = 0;
};

Checked<Opened> opened(const Archive& archive) {
  const auto text = archive.read(kDescriptor);
  if (!text) return Refusal{said("this archive is no data package: it has no datapackage.json")};
  if (too_deep(*text))
    return Refusal{said("datapackage.json: {too_deep}", {{"too_deep", std::string(kTooDeep)}})};
  Opened out;
  out.descriptor = PackageJson::parse(*text, nullptr, false);
  if (!out.descriptor.is_object() || !out.descriptor.contains("resources") ||
      !out.descriptor["resources"].is_array() || !out.descriptor.contains("bquarry") ||
      !out.descriptor["bquarry"].is_object())
    return Refusal{
        said("datapackage.json is none of this program: \"resources\" or \"bquarry\" is missing")};
  const auto& version = out.descriptor["bquarry"]["version"];
  if (!version.is_number_integer())
    return Refusal{said("datapackage.json: bquarry.version is no number")};
  out.version = version.get<int>();
  for (const auto& resource : out.descriptor["resources"]) {
    if (!resource.is_object() || !resource.contains("path") || !resource["path"].is_string())
      return Refusal{said("datapackage.json: a resource has no path")};
    const std::string path = resource["path"];
    auto bytes = archive.read(path);
    if (!bytes)
      return Refusal{said("{path} is missing from the package, or damaged", {{"path", path}})};
    if (path.starts_with("data/"))
      out.tables.push_back({resource.value("name", ""), std::move(*bytes),
                            resource.contains("schema") ? resource["schema"].dump() : "", 0});
    else if (path.starts_with("pictures/"))
      out.pictures.push_back({std::atoll(path.c_str() + 9), path, std::move(*bytes)});
  }
  return out;
}

Archive archive_or_refuse(std::string_view package) {
  auto archive = Archive::open(package, kMostPackageBytes);
  if (!archive) throw StoreError(StoreProblem::refused, archive.refusal().reason + ".");
  return archive.take();
}

}  // namespace

std::string package_of(const std::string& path, const std::string& day,
                       const std::stop_token& stop) {
  std::vector<std::string> notes;
  std::vector<TableResource> tables;
  std::vector<PictureResource> pictures;
  Trial trial;
  {
    const ProjectFile project = open_to_read(path, notes);
    tables = project.table_resources();
    pictures = project.picture_resources();
    trial = project.load();
  }
  // Answers are those of what is packed, whatever is kept meanwhile.
  const Scratch scratch;
  ProjectFile::create_from_tables(scratch.project(), ProjectFile::kVersion, tables, pictures);
  PackageJson resources = PackageJson::array();
  std::vector<ArchiveEntry> files(1);
  const auto add = [&](const std::string& name, const std::string& file, const std::string& title,
                       const std::string& media, std::string bytes, const PackageJson& schema) {
    PackageJson one{{"name", name}, {"path", file}, {"title", title}, {"mediatype", media}};
    if (!schema.is_null()) {
      one["profile"] = "tabular-data-resource";
      one["format"] = "csv";
      one["encoding"] = "utf-8";
      one["schema"] = schema;
    }
    one["bytes"] = bytes.size();
    one["hash"] = "sha256:" + sha256_of(bytes);
    resources.push_back(std::move(one));
    files.push_back({file, std::move(bytes), !media.starts_with("image/")});
  };
  const std::string tidy = tidy_of(trial);
  add("readings-tidy", kTidy, said("One row a reading"), "text/csv", tidy, tidy_schema(tidy));
  for (auto& table : tables)
    add(table.name, "data/" + table.name + ".csv",
        said("Table {name} of the project", {{"name", table.name}}), "text/csv",
        std::move(table.csv), PackageJson::parse(table.schema));
  for (auto& picture : pictures)
    add("picture-" + std::to_string(picture.id), picture.path, "A photograph",
        picture.path.ends_with(".png") ? "image/png" : "application/octet-stream",
        std::move(picture.bytes), nullptr);
  add("answers", kAnswers, said("What was concluded, and how"), "application/json",
      answers_of(scratch.project().string(), stop).dump(1) + "\n", nullptr);
  add("methods", "methods.md", said("How each figure is computed"), "text/markdown", kMethods,
      nullptr);
  add("read-me", "README.md", said("What this is"), "text/markdown", kReadMe, nullptr);
  const PackageJson descriptor{
      {"profile", "data-package"},
      {"name", slug(trial.title)},
      {"title", trial.title},
      {"created", day + "T00:00:00Z"},
      {"bquarry", {{"version", ProjectFile::kVersion}, {"program", BQ_VERSION}}},
      {"resources", resources}};
  files.front() = {kDescriptor, descriptor.dump(1) + "\n", true};
  std::uint64_t all = 0;
  for (const auto& file : files) all += file.bytes.size();
  if (all > kMostPackageBytes || files.size() > std::size_t(kMostArchiveEntries))
    throw StoreError(
        StoreProblem::refused,
        said("The project is too large for one package ({all} MiB in {files} files). Nothing was "
             "written; a copy of its file, or export as JSON, holds everything too.",
             {{"all", std::to_string(all >> 20)}, {"files", std::to_string(files.size())}}));
  auto out = archive_of(files);
  if (!out)
    throw StoreError(StoreProblem::disk,
                     said("{reason}. Nothing was written.", {{"reason", out.refusal().reason}}));
  return out.take();
}

void create_from_package(const fs::path& project, std::string_view package) {
  const Archive archive = archive_or_refuse(package);
  const auto content = opened(archive);
  if (!content)
    throw StoreError(StoreProblem::refused,
                     said("{reason}. Nothing was made.", {{"reason", content.refusal().reason}}));
  ProjectFile::create_from_tables(project, content->version, content->tables, content->pictures);
}

Checked<PackageCheck> verify_package(std::string_view package, const std::stop_token& stop) {
  auto read = Archive::open(package, kMostPackageBytes);
  if (!read) return read.refusal();
  const Archive archive = read.take();
  auto content = opened(archive);
  if (!content) return content.refusal();
  PackageCheck out;
  std::vector<std::string> listed{kDescriptor};
  for (const auto& resource : content->descriptor["resources"]) {
    const std::string path = resource["path"];
    listed.push_back(path);
    const auto bytes = archive.read(path);
    if (resource.value("hash", "") != "sha256:" + sha256_of(*bytes))
      out.differs.push_back(
          said("{path}: its content is not what the descriptor's sum says", {{"path", path}}));
    out.pictures += path.starts_with("pictures/");
  }
  for (const auto& name : archive.names())
    if (std::find(listed.begin(), listed.end(), name) == listed.end())
      out.differs.push_back(
          said("{name}: is in the package and not in its descriptor", {{"name", name}}));
  const Scratch scratch;
  const std::string project = scratch.project().string();
  try {
    ProjectFile::create_from_tables(project, content->version, content->tables, content->pictures);
  } catch (const StoreError& error) {
    if (error.problem() != StoreProblem::refused) throw;
    out.differs.push_back(
        said("the tables do not make a project: {error}", {{"error", error.what()}}));
    return out;
  }
  out.tables = int(content->tables.size());
  {
    const ProjectFile made = ProjectFile::open(project, ProjectFile::Access::read);
    const auto tables = made.table_resources();
    for (const auto& table : content->tables) {
      const auto again = std::find_if(tables.begin(), tables.end(),
                                      [&](const TableResource& t) { return t.name == table.name; });
      if (again == tables.end() || again->csv != table.csv ||
          PackageJson::parse(again->schema) != PackageJson::parse(table.schema))
        out.differs.push_back(
            said("data/{name}.csv: not as this program writes it (rows, order or schema)",
                 {{"name", table.name}}));
    }
    if (archive.read(kTidy).value_or("") != tidy_of(made.load()))
      out.differs.push_back(
          said("{tidy}: says otherwise than the tables in data/", {{"tidy", kTidy}}));
  }
  const PackageJson kept = PackageJson::parse(archive.read(kAnswers).value_or(""), nullptr, false);
  if (!kept.is_object()) {
    out.differs.push_back(said("{answers}: is missing or no JSON", {{"answers", kAnswers}}));
    return out;
  }
  const PackageJson again = answers_of(project, stop);
  for (const char* part : {"threshold", "runs", "answers", "verdict", "why_not"})
    if (kept.contains(part) != again.contains(part))
      out.differs.push_back(said("{answers}: {part} is there on one side only",
                                 {{"answers", kAnswers}, {"part", part}}));
    else if (kept.contains(part))
      compare(kept[part], again[part], part, out.differs);
  out.answers = kept.contains("answers") ? int(kept["answers"].size()) : 0;
  if (!out.differs.empty() && kept.value("program", "") != again.value("program", ""))
    out.differs.push_back(said("it was made by {kept} and recomputed by {again}",
                               {{"kept", kept.value("program", "another program")},
                                {"again", again.value("program", "")}}));
  return out;
}

}  // namespace bq::inline workflow
