// Studies from a table of their own: the gauge, and blocks under the roughest use.
#include <fstream>
#include <iostream>

#include "bluntness/damage_search.h"
#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "store/study_tables.h"

namespace {

template <class Table>
Table read(const std::string& path, Table (*reader)(std::istream&, const std::string&)) {
  Table table;
  if (path == "-") {
    table = reader(std::cin, "standard input");
  } else {
    std::ifstream in(path, std::ios::binary);
    if (!in) throw CommandEnd(kSystem, "\"" + path + "\" cannot be read.");
    table = reader(in, path);
  }
  for (const auto& problem : table.problems) say(problem);
  if (!table.problems.empty()) throw CommandEnd(kRefused, "Nothing was computed.");
  return table;
}

}  // namespace

int run_gauge(const StudyOptions& options) {
  const auto table = read(options.table, bq::read_gauge_table);
  const auto study = bq::stats::gauge_study(table.readings);
  if (!study) {
    say("Not determinable: " + study.refusal().reason + ".");
    return kNotDeterminable;
  }
  if (options.json) {
    Json out;
    out["parts"] = study->parts;
    out["operators"] = study->operators;
    out["repeats"] = study->repeats;
    out["repeatability_sd"] = study->repeatability_sd;
    out["repeatability_low"] = study->repeatability_low;
    out["repeatability_high"] = study->repeatability_high;
    out["reproducibility_sd"] = study->operators > 1 ? Json(study->reproducibility_sd) : Json();
    out["operator_sd"] = study->operators > 1 ? Json(study->operator_sd) : Json();
    out["interaction_sd"] = study->operators > 1 ? Json(study->interaction_sd) : Json();
    out["interaction_p"] = number_or_null(study->interaction_p);
    out["part_sd"] = study->part_sd;
    out["gauge_sd"] = study->gauge_sd;
    out["study_variation_percent"] = study->study_variation_percent;
    out["distinct_categories"] = study->distinct_categories;
    out["unit"] = table.unit.empty() ? Json() : Json(table.unit);
    print_json(out);
    return kDone;
  }
  const auto sd = [&](double value) {
    return bq::print_number(value, 4) + (table.unit.empty() ? "" : " " + table.unit);
  };
  std::printf("%d parts, %d operators, %d repeats\n", study->parts, study->operators,
              study->repeats);
  std::printf("repeatability SD   %s (95 %% %s to %s)\n", sd(study->repeatability_sd).c_str(),
              sd(study->repeatability_low).c_str(), sd(study->repeatability_high).c_str());
  if (study->operators > 1)
    std::printf("reproducibility SD %s (interaction %s, p %s: %s)\n",
                sd(study->reproducibility_sd).c_str(), sd(study->interaction_sd).c_str(),
                bq::print_number(study->interaction_p.value_or(1), 3).c_str(),
                study->interaction_kept ? "kept" : "put into the repeatability");
  else
    std::printf("reproducibility    not to be judged with one operator\n");
  std::printf("part to part SD    %s\n", sd(study->part_sd).c_str());
  std::printf("gauge: %s %% of the study's variation, %d distinct categories\n",
              bq::print_number(study->study_variation_percent, 3).c_str(),
              study->distinct_categories);
  return kDone;
}

int run_damage(const StudyOptions& options) {
  const auto table = read(options.table, bq::read_damage_table);
  bq::DamageSearch search;
  search.rounds = table.rounds;
  search.steel = table.steel;
  search.roughest_use = table.use;
  search.micro_deg = table.rounds.back().micro_deg;
  search.micro_um = table.rounds.back().micro_um;
  if (options.step_deg) search.step_deg = *options.step_deg;
  if (options.share) search.bevel_share = *options.share;
  for (std::size_t i = 0; i < search.rounds.size(); ++i)
    if (const auto fault = bq::fault_of(search.rounds[i], bq::kThickestStock_mm))
      throw CommandEnd(kRefused, options.table + ": block " + std::to_string(i + 1) + ": " +
                                     *fault + ". Nothing was computed.");
  std::optional<bq::StressFacts> stress;
  if (options.bears_MPa) stress = bq::StressFacts{0, options.depth_mm, *options.bears_MPa};
  search.start_angle_deg = table.rounds.front().edge_angle_deg;
  search.rough_cuts = table.rounds.back().cuts;
  // A clean block after a clean one with the same edge is the long block that confirms it.
  for (std::size_t i = 1; i < search.rounds.size(); ++i) {
    const auto &before = search.rounds[i - 1], &now = search.rounds[i];
    search.rounds[i].confirmation =
        bq::same_edge(before, now) && before.look.found == bq::DamageFound::clean;
  }
  Json out;
  out["blocks"] = Json::array();
  TextTable text({"angle/side", "blocks", "cuts", "damaged", "at most, per cut", "in words"});
  for (const auto& geometry : bq::geometries_of(search)) {
    std::int64_t cuts = 0, damaged = 0;
    for (const auto& block : geometry.blocks) {
      cuts += block.cuts;
      damaged += block.damaged;
    }
    const auto upper = bq::damage_rate_upper(geometry.blocks);
    out["blocks"].push_back(
        {{"edge_angle", geometry.edge_angle_deg},
         {"bevel_um", geometry.bevel_thickness_um > 0 ? Json(geometry.bevel_thickness_um) : Json()},
         {"micro_deg", number_or_null(geometry.micro_deg)},
         {"blocks", geometry.blocks.size()},
         {"cuts", cuts},
         {"damaged", damaged},
         {"rate_upper", number_or_null(upper)}});
    text.add({bq::print_number(geometry.edge_angle_deg, 3), std::to_string(geometry.blocks.size()),
              std::to_string(cuts), std::to_string(damaged),
              upper ? bq::print_number(*upper, 3) : "no bound",
              bq::bound_in_words(geometry.blocks)});
  }
  const bq::SearchProposal next = bq::propose(search, stress);
  out["steel"] = search.steel;
  out["use"] = search.roughest_use;
  out["load"] = Json();
  if (next.load)
    out["load"] = {{"low", next.load->low_N_per_mm},
                   {"best", next.load->best_N_per_mm},
                   {"high", next.load->high_N_per_mm},
                   {"unit", "N/mm"}};
  else
    out["load_why_not"] = stress ? "no block was damaged: nothing bounds the load from below"
                                 : "what the steel bears is not known: give --bears MPa";
  out["proposal"] = {
      {"angle_deg", next.edge_angle_deg},
      {"bevel_thickness_um", next.bevel_thickness_um > 0 ? Json(next.bevel_thickness_um) : Json()},
      {"bevel_deg", next.edge_angle_deg},
      {"bevel_um", next.bevel_thickness_um > 0 ? Json(next.bevel_thickness_um) : Json()},
      {"remove_um", number_or_null(next.remove_um)},
      {"regrind_deg", number_or_null(next.regrind_deg)},
      {"micro_deg", number_or_null(next.micro_deg)},
      {"cuts", next.cuts},
      {"finished", next.kind == bq::SearchProposal::Kind::finished},
      {"reason", next.reason}};
  if (options.json) {
    print_json(out);
  } else {
    text.print();
    std::printf("\n%s\n", next.reason.c_str());
  }
  return kDone;
}
