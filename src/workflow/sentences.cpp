#include "workflow/sentences.h"

#include <cmath>

#include "bluntness/start_gate.h"
#include "quantity/number.h"
#include "quantity/said.h"
#include "report/edge_card.h"

namespace bq::inline workflow {
namespace {

/// The value with its unit in the convention; `word` adds "per side" or "inclusive".
std::string value_text(MatchKind kind, double value, AngleConvention convention, bool word) {
  if (kind == MatchKind::finish) return print_number(value, 3) + " µm";
  if (word) return print_angle(value, convention);
  return print_angle_number(value, convention) + "°";
}

}  // namespace

std::string match_sentence(const MatchQuestion& question, const MatchAnswer& answer,
                           AngleConvention convention) {
  const auto say = [&](double value, bool word) {
    return value_text(question.kind, value, convention, word);
  };
  const std::string level = print_number(100 * question.level, 3) + " %";
  const std::string from =
      said("{from} at {from_value}",
           {{"from", question.from}, {"from_value", say(question.from_value, false)}});
  const std::string lasts =
      question.ratio == 1
          ? said(" lasts as long as ")
          : said(" lasts {ratio} times as long as ", {{"ratio", print_number(question.ratio, 3)}});
  if (!answer.determinable())
    return said(
        "These data cannot tell at which {angle}{to}{lasts}{from}: at {level} neither end is "
        "bounded.",
        {{"angle", question.kind == MatchKind::angle ? said("angle ") : said("finish ")},
         {"to", question.to},
         {"lasts", lasts},
         {"from", from},
         {"level", level}});
  // Twice the coarsest tried, or half the finest: no stone to buy, but a line drawn too far.
  if (question.kind == MatchKind::finish &&
      (answer.value > 2 * answer.tested_high || answer.value < 0.5 * answer.tested_low))
    return said(
        "No finish near those tried ({tested_low} to {tested_high}) makes {to} last as long as "
        "{from}: by the pattern it would have to be far {coarser}",
        {{"tested_low", say(answer.tested_low, false)},
         {"tested_high", say(answer.tested_high, false)},
         {"to", question.to},
         {"from", from},
         {"coarser", answer.value > answer.tested_high ? said("coarser.") : said("finer.")}});
  std::string text = said(
      "{to} at {answer}{lasts}{from}",
      {{"to", question.to}, {"answer", say(answer.value, true)}, {"lasts", lasts}, {"from", from}});
  if (answer.low && answer.high)
    text += said(
        " ({low} to {high}, {level})",
        {{"low", say(*answer.low, false)}, {"high", say(*answer.high, false)}, {"level", level}});
  else if (answer.low)
    text += said(" (at least {low}, not bounded above, {level})",
                 {{"low", say(*answer.low, false)}, {"level", level}});
  else
    text += said(" (at most {high}, not bounded below, {level})",
                 {{"high", say(*answer.high, false)}, {"level", level}});
  if (answer.extrapolated)
    text += said(". Extrapolated: {to} was tested from {tested_low} to {tested_high}",
                 {{"to", question.to},
                  {"tested_low", say(answer.tested_low, false)},
                  {"tested_high", say(answer.tested_high, false)}});
  return text + ".";
}

std::string print_um(double um) { return print_number(um, 3) + " µm"; }

std::string print_cuts(double cuts) {
  const std::string digits = print_fixed(std::round(cuts), 0);
  std::string out;
  for (std::size_t i = 0; i < digits.size(); ++i) {
    if (i && (digits.size() - i) % 3 == 0 && digits.size() > 4) out += "\u00a0";
    out += digits[i];
  }
  return out;
}

std::string print_about(double cuts) {
  if (!(cuts >= 100)) return print_cuts(cuts);
  const double unit = std::pow(10, std::floor(std::log10(cuts)) - 1);
  return print_cuts(unit * std::round(cuts / unit));
}

std::string cuts_sentence(const CutsToThreshold& cuts, double threshold, Unit unit) {
  const std::string limit = print_measure(threshold, unit);
  switch (cuts.censoring) {
    case Censoring::right:
      return cuts.surely_not_reached()
                 ? said("stays below {limit} for all its {read_to} cuts",
                        {{"limit", limit}, {"read_to", print_cuts(cuts.read_to)}})
                 : said(
                       "was read to {read_to} cuts, near {limit}: its life is that or more, and "
                       "surely {at_least}",
                       {{"read_to", print_cuts(cuts.read_to)},
                        {"limit", limit},
                        {"at_least", print_cuts(cuts.at_least)}});
    case Censoring::left:
      return said("is past {limit} from the start", {{"limit", limit}});
    case Censoring::none:
      break;
  }
  std::string text = said("reaches {limit} after {estimate} cuts",
                          {{"limit", limit}, {"estimate", print_cuts(*cuts.estimate)}});
  if (cuts.low && cuts.high)
    text += said(" ({low} to {high})",
                 {{"low", print_cuts(*cuts.low)}, {"high", print_cuts(*cuts.high)}});
  return text;
}

std::string cuts_short(const CutsToThreshold& cuts) {
  switch (cuts.censoring) {
    case Censoring::right:
      return cuts.surely_not_reached() ? "> " + print_cuts(cuts.read_to)
                                       : "≥ " + print_cuts(cuts.at_least);
    case Censoring::left:
      return "< " + print_cuts(*cuts.high);
    case Censoring::none:
      break;
  }
  return print_cuts(*cuts.estimate);
}

std::string fit_remarks(const RunFit& fit) {
  if (!fit.curve) return fit.why_not;
  std::string text;
  const auto add = [&](const std::string& remark) { text += (text.empty() ? "" : "; ") + remark; };
  if (fit.interpolated) add(said("no curve fits: cuts are read between the checkpoints"));
  if (fit.curve->early_collapse) add(said("early collapse: residual burr or fragile teeth"));
  if (!fit.curve->fit.has_zero) add(said("no reading at 0 cuts, so the fresh edge is uncertain"));
  if (!fit.curve->fit.converged) add(said("the fit did not settle"));
  if (const auto count = fit.curve->suspects.size())
    add(said("{count}{reading_lies} far off the curve",
             {{"count", std::to_string(count)},
              {"reading_lies", count == 1 ? said(" reading lies") : said(" readings lie")}}));
  return text;
}

std::string start_line(const Trial& trial, std::size_t index, Unit shown,
                       const FreshReading& fresh) {
  const auto in_shown = [&](double value) { return convert(value, trial.unit(), shown); };
  std::string out;
  const Run& run = trial.runs.at(index);
  // Only the sharpening that says it is this run's start.
  if (const auto start = start_of(trial, run); start && start->named) {
    out = said("sharpened {made_at}", {{"made_at", start->made_at.substr(0, 10)}});
    if (!start->record->sharpening.route.empty())
      out += " (" + start->record->sharpening.route + ")";
  }
  const auto groups = start_gate(trial, {}, index, fresh);
  const auto verdict = start_of_run(groups, index, trial.unit());
  if (!verdict) return out;
  const StartGroup& group = *verdict->group;
  const std::string state = verdict->start->state == StartState::in ? said("start in")
                            : verdict->start->state == StartState::too_dull
                                ? said("start out, too dull")
                            : verdict->start->state == StartState::too_sharp
                                ? said("start out, too sharp: look for a burr")
                                : said("start not judged");
  out += (out.empty() ? "" : ", ") + state + ": " +
         print_measure(in_shown(verdict->start->reading), shown, 3);
  if (group.chart)
    out += said(" of {in_shown} to {in_shown_2}",
                {{"in_shown", print_number(in_shown(group.lower()), 3)},
                 {"in_shown_2", print_measure(in_shown(group.upper()), shown, 3)}});
  return out;
}

}  // namespace bq::inline workflow
