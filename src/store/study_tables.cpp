#include "store/study_tables.h"

#include <cmath>
#include <set>
#include <tuple>

#include "quantity/angle.h"
#include "quantity/said.h"
#include "store/small_table.h"

namespace bq::inline store {

GaugeTable read_gauge_table(std::istream& in, const std::string& name) {
  SmallTable table(in, name, {{"part"}, {"operator"}, {"repeat"}, {"reading"}, {"unit", false}});
  GaugeTable out;
  std::set<std::tuple<std::string, std::string, std::string>> seen;
  for (std::size_t i = 0; i < table.rows(); ++i) {
    bool whole = true;
    for (const std::size_t column : {0u, 1u, 2u})
      if (table.text(i, column).empty()) {
        table.problem(i, column,
                      column == 0   ? said("part is missing")
                      : column == 1 ? said("operator is missing")
                                    : said("repeat is missing"));

        whole = false;
      }
    const auto value =
        table.number(i, 3, "a number above 0", [](double v) { return v > 0 && std::isfinite(v); });
    if (!whole || !value) continue;
    if (!seen.emplace(table.text(i, 0), table.text(i, 1), table.text(i, 2)).second) {
      table.problem(i, 2, said("this part, operator and repeat occurred before"));
      continue;
    }
    if (const auto factor = table.unit_factor(i, 4))
      out.readings.push_back({table.text(i, 0), table.text(i, 1), *value * *factor});
  }
  out.unit = table.unit_sign();
  out.problems = table.problems();
  return out;
}

DamageTable read_damage_table(std::istream& in, const std::string& name) {
  SmallTable table(in, name,
                   {{"edge_angle"},
                    {"cuts"},
                    {"damaged"},
                    {"damaged_um", false},
                    {"bevel_deg", false},
                    {"bevel_um", false},
                    {"micro_deg", false},
                    {"micro_um", false},
                    {"steel", false},
                    {"use", false}});
  const auto angle_of = [&](std::size_t row, std::size_t column) {
    return table.number(row, column, "degrees per side between 0 and 80, both excluded",
                        [](double v) { return angle_in_range(v); });
  };
  const auto length_of = [&](std::size_t row, std::size_t column) {
    return table.number(row, column, "a number above 0 in µm",
                        [](double v) { return v > 0 && std::isfinite(v); });
  };
  DamageTable out;
  for (std::size_t i = 0; i < table.rows(); ++i) {
    const auto angle = angle_of(i, 0);
    const auto cuts = table.number(i, 1, "a whole number above 0", [](double v) {
      return v >= 1 && v < 1e12 && v == std::floor(v);
    });
    const std::string& word = table.text(i, 2);
    const bool yes = word == "1" || word == "yes", no = word == "0" || word == "no";
    if (!yes && !no)
      table.problem(
          i, 2,
          word.empty() ? said("damaged is missing")
                       : said("damaged must be 0, 1, yes or no, not \"{word}\"", {{"word", word}}));
    SearchRound round;
    if (!table.text(i, 3).empty()) {
      const auto widest = length_of(i, 3);
      if (!widest) continue;
      if (no) table.problem(i, 3, "a block without damage has no damaged_um");
      round.look.widest_um = *widest;
    }
    if (!angle || !cuts || yes == no) continue;
    round.edge_angle_deg = *angle;
    if (!table.text(i, 4).empty()) {
      const auto bevel = angle_of(i, 4), reaches = length_of(i, 5);
      if (!bevel || !reaches) continue;
      if (*bevel < *angle)
        table.problem(i, 4, said("an added bevel is steeper than the edge bevel"));
      round.base_deg = *angle;
      round.edge_angle_deg = *bevel;
      round.bevel_thickness_um = *reaches;
    }
    if (!table.text(i, 6).empty()) {
      const auto micro = angle_of(i, 6);
      if (!micro) continue;
      round.micro_deg = *micro;
      if (!table.text(i, 7).empty()) {
        const auto width = length_of(i, 7);
        if (!width) continue;
        round.micro_um = *width;
      }
    }
    for (const auto& [column, before] :
         {std::pair<std::size_t, std::string*>{8, &out.steel}, {9, &out.use}}) {
      const std::string& given = table.text(i, column);
      if (!before->empty() && !given.empty() && *before != given)
        table.problem(
            i, column,
            said("one search is of one steel and one use: \"{given}\" is not \"{before}\"",
                 {{"given", given}, {"before", *before}}));
      if (before->empty()) *before = given;
    }
    round.cuts = std::int64_t(*cuts);
    round.look.found = yes ? DamageFound::broken_out : DamageFound::clean;
    out.rounds.push_back(round);
  }
  out.problems = table.problems();
  return out;
}

}  // namespace bq::inline store
