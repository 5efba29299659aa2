
#include "bluntness/life_model.h"
#include "bluntness/matching.h"
#include "bluntness/one_blade.h"
#include "bluntness/steel_pairs.h"
#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "readings_source.h"
#include "workflow/sentences.h"
#include "workflow/trials_together.h"

namespace {

bq::LifeSpec spec_of(const LifeOptions& options) {
  bq::LifeSpec spec;
  spec.terms = options.terms;
  spec.level = options.level;
  for (const auto& text : options.interactions) {
    const auto colon = text.find(':');
    if (colon == std::string::npos || colon == 0 || colon + 1 == text.size())
      throw CommandEnd(kUsage, "--interactions " + text + ": write it as steel:angle");
    spec.interactions.emplace_back(text.substr(0, colon), text.substr(colon + 1));
  }
  return spec;
}

/// Null when the data do not bound either end.
std::optional<std::pair<bq::MatchQuestion, bq::MatchAnswer>> matching(const bq::LifeModel& model,
                                                                      const LifeOptions& options) {
  const bool angle = !options.match_angle.empty();
  if (!angle && options.match_finish.empty()) return std::nullopt;
  auto question = bq::parse_match(angle ? bq::MatchKind::angle : bq::MatchKind::finish,
                                  angle ? options.match_angle : options.match_finish);
  if (!question)
    throw CommandEnd(kUsage, (angle ? "--match-angle " + options.match_angle
                                    : "--match-finish " + options.match_finish) +
                                 ": " + question.refusal().reason);
  bq::MatchQuestion asked = *question;
  asked.ratio = options.ratio;
  asked.level = options.level;
  auto answer = bq::match(model, asked);
  if (!answer) throw CommandEnd(kRefused, answer.refusal().reason);
  return std::pair(asked, *answer);
}

/// The first trial's lives with those of the others; each trial's own curves and, where the limit
/// is a multiple of the fresh reading, its own limit.
bq::LifeTable together_with(const bq::LifeTable& first, const bq::Trial& trial,
                            const bq::Threshold& threshold, const LifeOptions& options,
                            bq::LifeMethod method) {
  std::vector<bq::TrialLives> trials{{options.source, first, trial.steels}};
  for (const auto& source : options.with) {
    const bq::Trial other = trial_from(source, options.skip_bad);
    if (bq::kind_of(other.unit()) != bq::kind_of(trial.unit()))
      throw CommandEnd(kRefused, source + " is read in " + std::string(sign_of(other.unit())) +
                                     ", " + options.source + " in " +
                                     std::string(sign_of(trial.unit())) +
                                     ": they are not put together. Nothing was computed.");
    const auto fits = fits_of(other, curve_options_from(options.model, options.robust));
    const bq::Threshold own = threshold_from(options.threshold, other, fits);
    if (own.unit == threshold.unit && own.value != threshold.value)
      say(source + ": its own limit is " + bq::print_measure(own.value, own.unit) + ".");
    trials.push_back(
        {source, bq::life_table(other, fits, own.value, options.level, method), other.steels});
  }
  return bq::lives_together(trials);
}

}  // namespace

int run_life(const LifeOptions& options) {
  bq::LifeSpec spec = spec_of(options);
  const bq::Trial trial = trial_from(options.source, options.skip_bad);
  const bq::CurveOptions curve = curve_options_from(options.model, options.robust);
  const auto fits = fits_of(trial, curve);
  const bq::Threshold threshold = threshold_from(options.threshold, trial, fits);
  const auto method = bq::parse_life_method(options.method);
  if (!method)
    throw CommandEnd(kUsage, "--method " + options.method + ": there are joint and two-stage");
  bq::LifeTable table = bq::life_table(trial, fits, threshold.value, options.level, *method);
  if (!options.with.empty()) table = together_with(table, trial, threshold, options, *method);
  if (!options.medium.empty())
    table = bq::in_medium(table, options.medium);
  else if (const auto media = bq::media_of(table);
           media.size() > 1 &&
           std::find(spec.terms.begin(), spec.terms.end(), "medium") == spec.terms.end())
    say("The runs are in " + std::to_string(media.size()) +
        " media, put together here; use --medium NAME or the term medium to keep them apart.");
  const bool by_blade =
      std::find(spec.terms.begin(), spec.terms.end(), "blade") != spec.terms.end();
  const bool several = !options.with.empty();
  if (several && (options.fixed_blades || by_blade))
    throw CommandEnd(kUsage,
                     "--with takes trials together: blades are not told apart then; leave "
                     "--fixed-blades and the term blade out");
  spec.random_blade = !options.fixed_blades && !by_blade && bq::blades_used_again(table);
  const bool random_trial = several && bq::allow_for_trials(table, spec);
  for (const auto& left : table.left_out) say("left out: run " + left.run + ": " + left.reason);

  if (const std::string carried = bq::carried_sentence(table); !carried.empty()) say(carried);
  Json out{{"n", table.rows.size()},
           {"method", bq::name_of(*method)},
           {"carried_on", table.carried_on()},
           {"censored", table.right_censored()},
           {"left_censored", table.left_censored()},
           {"threshold", {{"value", threshold.value}, {"unit", sign_of(threshold.unit)}}}};
  const auto model = bq::LifeModel::fit(table, spec);
  if (!model) {
    // Nothing seen to end is an answer of its own; a wrong term is a refusal.
    const bool all_censored =
        table.rows.empty() ||
        table.right_censored() + table.left_censored() == int(table.rows.size());
    const bool too_few = model.refusal().reason.find("not more runs") != std::string::npos ||
                         model.refusal().reason.find("no maximum") != std::string::npos;
    if (!all_censored && !too_few) throw CommandEnd(kRefused, model.refusal().reason + ".");
    say("Not determinable: " + model.refusal().reason + ".");
    out.update({{"coefficients", Json::array()},
                {"sigma", nullptr},
                {"sigma_ml", nullptr},
                {"shares", Json::array()},
                {"match", nullptr},
                {"why_not", model.refusal().reason}});
    if (options.json) print_json(out);
    return kNotDeterminable;
  }
  for (const auto& left : model->left_out()) say("left out: run " + left.run + " " + left.reason);
  out["n"] = model->rows().size();
  int right = 0, left = 0;
  for (const auto& row : model->rows()) {
    right += row.cuts.censoring == bq::Censoring::right;
    left += row.cuts.censoring == bq::Censoring::left;
  }
  out["censored"] = right;
  out["left_censored"] = left;
  out["coefficients"] = Json::array();
  TextTable coefficients({"coefficient", "estimate", "se", "low", "high", "p"});
  for (const auto& c : model->coefficients()) {
    out["coefficients"].push_back({{"name", c.name},
                                   {"estimate", c.estimate},
                                   {"se", c.standard_error},
                                   {"low", c.low},
                                   {"high", c.high},
                                   {"p", c.p}});
    coefficients.add({c.name, bq::print_fixed(c.estimate, 4), bq::print_fixed(c.standard_error, 4),
                      bq::print_fixed(c.low, 4), bq::print_fixed(c.high, 4),
                      bq::print_number(c.p, 3)});
  }
  out["sigma"] = model->sigma();
  out["sigma_ml"] = model->regression().sigma_ml;
  out[random_trial ? "trial_sd" : "blade_sd"] = number_or_null(model->blade_sd());
  if (!model->blade_note().empty())
    say(std::string(random_trial ? "The trial effect" : "The blade effect") +
        " was left out: " + model->blade_note() + ".");
  out["run_to_run_sd"] = model->run_to_run_sd();
  out["log_likelihood"] = model->regression().log_likelihood;
  out["confounded"] = Json::array();
  if (several) out["trials"] = options.with.size() + 1;
  for (const auto& one :
       several ? std::vector<bq::OneBlade>{} : bq::steels_of_one_blade(model->rows())) {
    const std::string sentence = one.steel + " was cut with the blade " + one.blade +
                                 " alone: steel and blade are one thing, and nothing can be said "
                                 "of the steel.";
    out["confounded"].push_back(
        {{"a", "steel " + one.steel}, {"b", "blade " + one.blade}, {"sentence", sentence}});
    say(sentence);
  }
  out["steels_alike"] = Json::array();
  for (const auto& pair : bq::compare_steels(*model)) {
    out["steels_alike"].push_back({{"a", pair.longer},
                                   {"b", pair.shorter},
                                   {"margin", bq::kAlikeMargin},
                                   {"verdict", bq::name_of(pair.verdict)},
                                   {"within", pair.within},
                                   {"ratio", pair.contrast.ratio},
                                   {"low", number_or_null(pair.contrast.low)},
                                   {"high", number_or_null(pair.contrast.high)},
                                   {"p", pair.contrast.p},
                                   {"p_family", pair.family_p}});
    if (pair.verdict == bq::SteelVerdict::alike) say(bq::alike_sentence(pair));
  }
  out["shares"] = Json::array();
  TextTable shares({"share of the variation", "%"});
  for (const auto& share : model->shares()) {
    out["shares"].push_back({{"term", share.term}, {"share", share.share}});
    shares.add({share.term, bq::print_fixed(100 * share.share, 1)});
  }
  const auto matched = matching(*model, options);
  if (matched) {
    const auto& [question, answer] = *matched;
    out["match"] = {
        {question.kind == bq::MatchKind::angle ? "angle_deg" : "finish_um",
         number_or_null(answer.value)},
        {"low", number_or_null(answer.low)},
        {"high", number_or_null(answer.high)},
        {"difference", number_or_null(answer.difference)},
        {"extrapolated", answer.extrapolated},
        {"method", answer.method},
        {"level", question.level},
        {"sentence", bq::match_sentence(question, answer, bq::AngleConvention::per_side)}};
  } else {
    out["match"] = nullptr;
  }
  if (options.json) {
    print_json(out);
  } else {
    std::printf("life to %s: %zu runs, %d never reached it, %d past it from the start\n\n",
                bq::print_measure(threshold.value, threshold.unit).c_str(), model->rows().size(),
                right, left);
    coefficients.print();
    std::printf("\nsigma %.4f (of this run to run %.4f)\n", model->sigma(), model->run_to_run_sd());
    if (model->blade_sd())
      std::printf("between %s %.4f (%d %s)\n", random_trial ? "trials" : "blades",
                  *model->blade_sd(), model->blades(), random_trial ? "trials" : "blades");
    std::printf("\n");
    shares.print();
    std::printf("(shares depend on the levels that were chosen)\n");
    if (matched) std::printf("\n%s\n", out["match"]["sentence"].get<std::string>().c_str());
  }
  return matched && !matched->second.determinable() ? kNotDeterminable : kDone;
}
