// "Where does it start to chip?": damage against angle, by steel, and where it meets wear.
#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "bluntness/damage_trend.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/answer_parts.h"
#include "workflow/edge_costs.h"
#include "workflow/rough_standing.h"
#include "workflow/sentences.h"
#include "workflow/verdict.h"

namespace bq::inline workflow::answer_parts {
namespace {

/// Blocks by angle.
using ByAngle = std::map<double, std::vector<DamageBlock>>;

struct Use {
  std::string steel;
  bool roughest = false;
  ByAngle angles;
  std::set<double> confirmed;             ///< angles of a search's clean long block
  std::map<double, DamageFact> sections;  ///< of a search, whole, by the angle of its bevel
};

/// "was damaged up to 12° per side and held from 15° per side on".
std::string fate_of(const Use& use, AngleConvention angles) {
  double damaged = -1, clean = -1;
  for (const auto& [angle, blocks] : use.angles) {
    const bool any =
        std::any_of(blocks.begin(), blocks.end(), [](const DamageBlock& b) { return b.damaged; });
    if (any) {
      damaged = angle;
      clean = -1;
    } else if (clean < 0)
      clean = angle;
  }
  if (damaged < 0)
    return said("was not damaged at any angle tried ({angles} and steeper)",
                {{"angles", print_angle(use.angles.begin()->first, angles)}});
  if (clean < 0)
    return said("was damaged up to {damaged}, the steepest tried",
                {{"damaged", print_angle(damaged, angles)}});
  const std::string from =
      said("was damaged up to {damaged} and ", {{"damaged", print_angle(damaged, angles)}});
  if (use.roughest && !use.confirmed.contains(clean)) {
    std::int64_t cuts = 0;
    for (const auto& block : use.angles.at(clean)) cuts += block.cuts;
    return said("{from}stayed clean at {clean} for {cuts} cuts; the long block is still to be made",
                {{"from", from},
                 {"clean", print_angle(clean, angles)},
                 {"cuts", print_cuts(double(cuts))}});
  }
  // A search's edge held as a whole: its angle alone says too much of it.
  if (const auto found = use.sections.find(clean); found != use.sections.end())
    return said("{from}held the long block with {section}",
                {{"from", from},
                 {"section", describe(*found->second.section, found->second.has_micro, angles)}});
  return said("{from}held from {clean} on",
              {{"from", from}, {"clean", print_angle(clean, angles)}});
}

std::string sentence_of(const Use& use, AngleConvention angles) {
  return use.steel +
         (use.roughest ? said(" under the roughest use ") : said(" in ordinary work ")) +
         fate_of(use, angles) + ".";
}

/// The least angle from which the promise without damage is as long as the wear life; below it a
/// lower angle does not pay yet.
std::optional<double> pays_from(const LifeLine& line,
                                const std::vector<std::pair<double, double>>& promised) {
  std::optional<double> from;
  for (const auto& [angle, cuts] : promised) {
    if (line.angle_deg.empty() || angle < line.angle_deg.front() - 0.05 ||
        angle > line.angle_deg.back() + 0.05)
      continue;
    const auto at = std::min<std::ptrdiff_t>(
        std::lower_bound(line.angle_deg.begin(), line.angle_deg.end(), angle) -
            line.angle_deg.begin(),
        std::ptrdiff_t(line.life.size()) - 1);
    if (cuts >= line.life[std::size_t(at)] && (!from || angle < *from)) from = angle;
  }
  return from;
}

/// What the searches say of every edge that runs were made with, compared whole: "mat corners with
/// staples (…): 15° and 17° on 13° hold; 12° is damaged; not known: 13°".
std::vector<std::string> edges_compared(const AnswerSource& source) {
  std::map<std::string, RoughSearches> searches;                        // by steel
  std::map<std::string, std::map<std::string, const RunFacts*>> edges;  // by steel, by name
  for (const auto& run : source.facts->runs) {
    const RunFacts& facts = run.facts;
    if (!facts.geometry || facts.steel.empty()) continue;
    const auto [of_steel, fresh] = searches.try_emplace(facts.steel, *source.facts, facts.steel,
                                                        source.sessions, source.section_questions);
    if (of_steel->second.empty()) continue;
    const auto name = [&](const BevelAngles& bevel) {
      return print_angle_number(bevel.equivalent_deg(), source.angles) + "°";
    };
    const auto& micro = facts.geometry->micro();
    edges[facts.steel].try_emplace((micro ? said("{micro} on ", {{"micro", name(*micro)}}) : "") +
                                       name(facts.geometry->edge()),
                                   &facts);
  }
  std::vector<std::string> out;
  for (const auto& [steel, made] : edges) {
    std::map<std::string, std::map<RoughestUse, std::string>> told;  // by use
    for (const auto& [name, facts] : made) {
      const auto plan = section_with(*source.facts, steel, facts->geometry->edge(),
                                     facts->geometry->micro(), facts->blade);
      if (!plan) continue;
      for (const auto& one : searches.at(steel).of(*make_section(*plan))) {
        std::string& names = told[one.use][one.standing];
        names += (names.empty() ? "" : ", ") + name;
      }
    }
    for (const auto& [use, standings] : told) {
      std::string sentence;
      for (const auto& [standing, words] : {std::pair(RoughestUse::held, "would hold: "),
                                            std::pair(RoughestUse::damaged, "would be damaged: "),
                                            std::pair(RoughestUse::not_tried, "not known: ")})
        if (const auto found = standings.find(standing); found != standings.end())
          sentence += (sentence.empty() ? "" : "; ") + (words + found->second);
      out.push_back(said("{steel}, its runs' edges compared whole with those of {use}: {sentence}.",
                         {{"steel", steel}, {"use", use}, {"sentence", sentence}}));
    }
  }
  return out;
}

}  // namespace

Answer chips(const AnswerSource& source) {
  std::map<std::pair<std::string, bool>, Use> uses;
  for (const auto& fact : damage_facts(*source.facts, source.sessions)) {
    if (!is_in_medium(source.life->question.medium, fact.medium)) continue;
    Use& use = uses[{fact.steel, fact.roughest}];
    use.steel = fact.steel;
    use.roughest = fact.roughest;
    use.angles[fact.block.angle_deg].push_back(fact.block.block);
    if (fact.confirmed) use.confirmed.insert(fact.block.angle_deg);
    if (fact.section) use.sections.insert_or_assign(fact.block.angle_deg, fact);
  }
  if (uses.empty())
    return missing(
        said("Cannot tell yet: nobody has looked for damage in this medium. Run a damage search "
             "(Bench, Damage search), or look at the edge at the checkpoints of a run."),
        false);
  Answer out;
  out.answered = true;
  out.table.heads = {said("Steel"),
                     said("Use"),
                     said("Angle"),
                     said("Blocks"),
                     said("Cuts"),
                     said("Damaged"),
                     said("No damage in, cuts, at least")};
  std::map<std::string, std::vector<std::pair<double, double>>> promised;
  const Use* leading = nullptr;
  for (const auto& [key, use] : uses) {
    PictureSeries promise;
    promise.steel = use.steel;
    promise.name =
        use.steel + (use.roughest ? said(", roughest use: at least") : said(": at least"));
    promise.kind = PictureSeries::Kind::arrows_up;
    std::vector<AngledBlock> blocks;
    for (const auto& [angle, own] : use.angles) {
      std::int64_t cuts = 0, damaged = 0;
      for (const auto& block : own) {
        cuts += block.cuts;
        damaged += block.damaged;
        blocks.push_back({angle, block});
      }
      const auto upper = damage_rate_upper(own);
      out.table.rows.push_back(
          {use.steel, use.roughest ? "roughest (damage search)" : "ordinary (looks at runs)",
           print_angle_number(angle, source.angles) + "°", std::to_string(own.size()),
           print_cuts(double(cuts)), std::to_string(damaged),
           upper && *upper < 1 ? print_cuts(std::floor(1 / *upper)) : said("no promise")});
      if (upper && *upper < 1) {
        promise.x.push_back(shown_angle(source, angle));
        promise.y.push_back(1 / *upper);
        if (!use.roughest) promised[use.steel].emplace_back(angle, 1 / *upper);
      }
    }
    if (!promise.x.empty()) out.picture.series.push_back(std::move(promise));
    if (const auto trend = damage_trend(blocks, source.angles)) {
      const double z = 1.96 * trend->slope_standard_error();
      const std::string turn = trend->slope + z < 0 ? said(": damage falls with the angle")
                               : trend->slope - z > 0
                                   ? said(": damage rises with the angle (look for another cause)")
                                   : said(": no change of damage with the angle can be told");
      out.remarks.push_back(
          said("{steel}{turn}: tan to the power {slope} ({z} to {z_2}, 95 %); at {least_deg} about "
               "1 event in {rate} cuts.",
               {{"steel", use.steel},
                {"turn", turn},
                {"slope", print_fixed(trend->slope, 1)},
                {"z", print_fixed(trend->slope - z, 1)},
                {"z_2", print_fixed(trend->slope + z, 1)},
                {"least_deg", print_angle(trend->least_deg, source.angles)},
                {"rate", print_cuts(1 / trend->rate(trend->least_deg))}}));
    }
    if (!leading || (use.roughest && !leading->roughest)) leading = &use;
  }
  std::string pays, pays_not;
  for (const auto& line : source.life->lines) {
    PictureSeries wear;
    wear.name = said("wear: {steel}", {{"steel", line.steel}});
    wear.steel = line.steel;
    for (const double angle : line.angle_deg) wear.x.push_back(shown_angle(source, angle));
    wear.y = line.life;
    out.picture.series.push_back(std::move(wear));
    if (!promised.contains(line.steel)) continue;
    if (const auto from = pays_from(line, promised[line.steel]))
      pays += said("{separator}{steel} from {from}°",
                   {{"separator", pays.empty() ? "" : ", "},
                    {"steel", line.steel},
                    {"from", print_angle_number(*from, source.angles)}});
    else
      pays_not += (pays_not.empty() ? "" : ", ") + line.steel;
  }
  out.picture.x_label = angle_label(source);
  out.picture.y_label = "cuts";
  out.picture.x_log = out.picture.y_log = true;
  if (!pays.empty())
    out.remarks.push_back(said(
        "Wear meets damage: the looks promise as many cuts without damage as the edge wears for "
        "with {pays} on; below that a lower angle pays only if more damage-free cuts show it.",
        {{"pays", pays}}));
  if (!pays_not.empty())
    out.remarks.push_back(
        said("With {pays_not} at no angle tried yet: a limit of what was cut, not a sign of "
             "damage; more clean cuts raise the promise.",
             {{"pays_not", pays_not}}));
  out.sentence = sentence_of(*leading, source.angles);
  // Steels that fared alike share a sentence.
  std::map<std::string, std::string> alike;
  for (const auto& [key, use] : uses) {
    if (&use == leading) continue;
    std::string& names = alike[std::string(use.roughest ? said(" under the roughest use: each ")
                                                        : said(" in ordinary work: each ")) +
                               fate_of(use, source.angles)];
    names += (names.empty() ? "" : ", ") + use.steel;
  }
  for (const auto& [fate, names] : alike)
    out.remarks.insert(out.remarks.begin(), names + fate + ".");
  for (auto& remark : edges_compared(source)) out.remarks.push_back(std::move(remark));
  out.formula = said(
      "Exact one-sided 95 % upper limit of damaging events per cut from blocks that say \"at least "
      "one\" or \"none\", for each steel, use and angle; shown as cuts for each event. Its change "
      "with the angle: complementary log-log regression on ln tan with ln cuts as offset. Wear "
      "life: the life model's lines.");
  out.method = said("Damage rate");
  return out;
}

}  // namespace bq::inline workflow::answer_parts
