#include "workflow/label_codes.h"

#include <algorithm>
#include <cctype>

#include "quantity/said.h"
#include "stats/random.h"
#include "trial/making.h"
#include "workflow/bench_study.h"

namespace bq::inline workflow {
namespace {

constexpr std::string_view kLetters = "ABCDEFGHJKLMNPRSTUVWX";
constexpr std::size_t kTag = 6;

/// Abrasives have no number of their own: one from the name (FNV-1a, six digits).
std::uint64_t number_of(const std::string& name) {
  std::uint64_t hash = 1469598103934665603ULL;
  for (const unsigned char c : name) hash = (hash ^ c) * 1099511628211ULL;
  return hash % 1000000;
}

std::string code_of(const std::string& tag, char kind, std::uint64_t number) {
  return std::string(kLabelPrefix) + tag + kind + std::to_string(number);
}

}  // namespace

std::string label_tag(std::uint64_t seed) {
  stats::Random random(seed);
  std::string out;
  for (std::size_t i = 0; i < kTag; ++i)
    out += kLetters[std::size_t(random.below(kLetters.size()))];
  return out;
}

std::vector<Label> labels_of(const Trial& trial, const std::string& tag,
                             const std::set<std::string>& blind, AngleConvention angles) {
  std::vector<Label> out;
  const auto draw_edge_of = [&](Label& label, const Run& run) {
    if (!run.facts.geometry) return;
    label.beneath.push_back(print_geometry(*run.facts.geometry, angles));
    label.geometry = run.facts.geometry;
    label.finish = run.facts.finish;
  };
  for (std::size_t i = 0; i < trial.blades.size(); ++i) {
    const Blade& blade = trial.blades[i];
    if (blade.retired) continue;
    Label label{blade.name, {blade.steel}, {}, {}, code_of(tag, 'B', std::uint64_t(blade.id))};
    // The edge that is on it, unless a run that is covered would be told by it.
    if (const auto on = run_on_edge(trial, i); on && !is_covered(trial.runs[*on], blind))
      draw_edge_of(label, trial.runs[*on]);
    out.push_back(std::move(label));
  }
  for (const auto& run : trial.runs) {
    if (state_of(run) == RunState::done) continue;
    Label label{run.facts.name, {}, {}, {}, code_of(tag, 'R', std::uint64_t(run.id))};
    if (!is_covered(run, blind)) {
      label.beneath = {run.facts.blade};
      draw_edge_of(label, run);
    }
    out.push_back(std::move(label));
  }
  for (const auto& abrasive : trial.shelf)
    if (!abrasive.retired)
      out.push_back(
          {abrasive.name, {abrasive.label}, {}, {}, code_of(tag, 'S', number_of(abrasive.name))});
  return out;
}

Checked<LabelTarget> read_label(const Trial& trial, const std::string& tag, std::string_view code) {
  std::string text(code);
  for (char& c : text) c = char(std::toupper(static_cast<unsigned char>(c)));
  const std::size_t head = kLabelPrefix.size() + kTag;
  const Refusal no_code{said("\"{code}\" is no code of a label", {{"code", std::string(code)}})};
  if (!text.starts_with(kLabelPrefix) || text.size() < head + 2) return no_code;
  const std::string digits = text.substr(head + 1);
  if (digits.size() > 18 || !std::all_of(digits.begin(), digits.end(), [](char c) {
        return std::isdigit(static_cast<unsigned char>(c)) != 0;
      }))
    return no_code;
  if (text.substr(kLabelPrefix.size(), kTag) != tag)
    return Refusal{said("this label belongs to another project; nothing was changed")};
  const std::uint64_t number = std::stoull(digits);
  const auto find = [&](const auto& list, const auto& is) -> std::optional<std::size_t> {
    for (std::size_t i = 0; i < list.size(); ++i)
      if (is(list[i])) return i;
    return std::nullopt;
  };
  std::optional<std::size_t> found;
  LabelTarget out;
  switch (text[head]) {
    case 'B':
      found = find(trial.blades, [&](const Blade& b) { return std::uint64_t(b.id) == number; });
      break;
    case 'R':
      out.kind = LabelTarget::Kind::run;
      found = find(trial.runs, [&](const Run& r) { return std::uint64_t(r.id) == number; });
      break;
    case 'S':
      out.kind = LabelTarget::Kind::abrasive;
      found = find(trial.shelf, [&](const Abrasive& a) { return number_of(a.name) == number; });
      break;
    default:
      return no_code;
  }
  if (!found) return Refusal{said("what this label names is not in the project any more")};
  out.index = *found;
  return out;
}

}  // namespace bq::inline workflow
