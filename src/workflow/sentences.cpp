#include "workflow/sentences.h"

#include <cmath>

#include "bluntness/start_gate.h"
#include "quantity/number.h"
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
  const std::string from = question.from + " at " + say(question.from_value, false);
  const std::string lasts =
      question.ratio == 1 ? " lasts as long as "
                          : " lasts " + print_number(question.ratio, 3) + " times as long as ";
  if (!answer.determinable())
    return "These data cannot tell at which " +
           std::string(question.kind == MatchKind::angle ? "angle " : "finish ") + question.to +
           lasts + from + ": at " + level + " neither end is bounded.";
  // Twice the coarsest tried, or half the finest: no stone to buy, but a line drawn too far.
  if (question.kind == MatchKind::finish &&
      (answer.value > 2 * answer.tested_high || answer.value < 0.5 * answer.tested_low))
    return "No finish near those tried (" + say(answer.tested_low, false) + " to " +
           say(answer.tested_high, false) + ") makes " + question.to + " last as long as " + from +
           ": by the pattern it would have to be far " +
           (answer.value > answer.tested_high ? "coarser." : "finer.");
  std::string text = question.to + " at " + say(answer.value, true) + lasts + from;
  if (answer.low && answer.high)
    text += " (" + say(*answer.low, false) + " to " + say(*answer.high, false) + ", " + level + ")";
  else if (answer.low)
    text += " (at least " + say(*answer.low, false) + ", not bounded above, " + level + ")";
  else
    text += " (at most " + say(*answer.high, false) + ", not bounded below, " + level + ")";
  if (answer.extrapolated)
    text += ". Extrapolated: " + question.to + " was tested from " + say(answer.tested_low, false) +
            " to " + say(answer.tested_high, false);
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
                 ? "stays below " + limit + " for all its " + print_cuts(cuts.read_to) + " cuts"
                 : "was read to " + print_cuts(cuts.read_to) + " cuts, near " + limit +
                       ": its life is that or more, and surely " + print_cuts(cuts.at_least);
    case Censoring::left:
      return "is past " + limit + " from the start";
    case Censoring::none:
      break;
  }
  std::string text = "reaches " + limit + " after " + print_cuts(*cuts.estimate) + " cuts";
  if (cuts.low && cuts.high)
    text += " (" + print_cuts(*cuts.low) + " to " + print_cuts(*cuts.high) + ")";
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
  if (fit.interpolated) add("no curve fits: cuts are read between the checkpoints");
  if (fit.curve->early_collapse) add("early collapse: residual burr or fragile teeth");
  if (!fit.curve->fit.has_zero) add("no reading at 0 cuts, so the fresh edge is uncertain");
  if (!fit.curve->fit.converged) add("the fit did not settle");
  if (const auto count = fit.curve->suspects.size())
    add(std::to_string(count) + (count == 1 ? " reading lies" : " readings lie") +
        " far off the curve");
  return text;
}

std::string start_line(const Trial& trial, std::size_t index, Unit shown,
                       const FreshReading& fresh) {
  const auto in_shown = [&](double value) { return convert(value, trial.unit(), shown); };
  std::string out;
  const Run& run = trial.runs.at(index);
  // Only the sharpening that says it is this run's start.
  if (const auto start = start_of(trial, run); start && start->named) {
    out = "sharpened " + start->made_at.substr(0, 10);
    if (!start->record->sharpening.route.empty())
      out += " (" + start->record->sharpening.route + ")";
  }
  const auto groups = start_gate(trial, {}, index, fresh);
  const auto verdict = start_of_run(groups, index, trial.unit());
  if (!verdict) return out;
  const StartGroup& group = *verdict->group;
  const std::string state = verdict->start->state == StartState::in         ? "start in"
                            : verdict->start->state == StartState::too_dull ? "start out, too dull"
                            : verdict->start->state == StartState::too_sharp
                                ? "start out, too sharp: look for a burr"
                                : "start not judged";
  out += (out.empty() ? "" : ", ") + state + ": " +
         print_measure(in_shown(verdict->start->reading), shown, 3);
  if (group.chart)
    out += " of " + print_number(in_shown(group.lower()), 3) + " to " +
           print_measure(in_shown(group.upper()), shown, 3);
  return out;
}

}  // namespace bq::inline workflow
