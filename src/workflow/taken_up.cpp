#include "workflow/taken_up.h"

#include <algorithm>
#include <cmath>
#include <map>

#include "quantity/number.h"
#include "quantity/said.h"
#include "workflow/sentences.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

constexpr double kWorn = 1.1, kNear = 1.6;

double ratio(double a, double b) { return std::exp(std::fabs(std::log(a / b))); }

/// The abrasive that does the work of one that is gone; null none is near.
const Abrasive* nearest(const std::vector<Abrasive>& shelf, const SharpeningStep& step) {
  const bool strop = step.work == StepWork::strop;
  const auto like = [&](const Abrasive& a) { return (a.kind == AbrasiveKind::strop) == strop; };
  if (step.size_um && *step.size_um > 0) {
    const Abrasive* near = nearest_in_size(shelf, *step.size_um, like);
    return near && ratio(*size_um(*near), *step.size_um) <= kNear ? near : nullptr;
  }
  if (!strop) return nullptr;
  // One bare strop does for another.
  const auto bare = std::find_if(shelf.begin(), shelf.end(), [&](const Abrasive& a) {
    return !a.retired && like(a) && !size_um(a);
  });
  return bare == shelf.end() ? nullptr : &*bare;
}

}  // namespace

TakenUp take_up(const Sharpening& earlier, const std::vector<Abrasive>& shelf) {
  TakenUp out{replay(earlier), {}, true};
  std::map<std::string, const Abrasive*> instead;
  for (auto& step : out.sharpening.steps) {
    if (step.abrasive.empty()) continue;
    const std::string name = step.abrasive;
    const bool first = !instead.contains(name);
    if (first) {
      const auto found = std::find_if(shelf.begin(), shelf.end(), [&](const Abrasive& a) {
        return a.name == name && !a.retired;
      });
      instead[name] = found == shelf.end() ? nearest(shelf, step) : &*found;
    }
    const Abrasive* now = instead[name];
    const std::string was = name + (step.size_um ? " (" + print_um(*step.size_um) + ")" : "");
    if (!now) {
      out.complete = false;
      if (first)
        out.said.push_back(
            said("{was} is no longer on the shelf and nothing near it is: change its steps.",
                 {{"was", was}}));
      continue;
    }
    const auto size = size_um(*now);
    if (now->name != name) {
      if (first)
        out.said.push_back(said(
            "{was} is no longer on the shelf: {name}{um} instead.",
            {{"was", was}, {"name", now->name}, {"um", size ? " (" + print_um(*size) + ")" : ""}}));
      step.abrasive = now->name;
    } else if (first && size && step.size_um && ratio(*size, *step.size_um) > kWorn) {
      out.said.push_back(
          said("{name} was {size_um} then and is {um} now: the finish will not be the same.",
               {{"name", name}, {"size_um", print_um(*step.size_um)}, {"um", print_um(*size)}}));
    }
    if (size) step.size_um = size;
    if (first)
      if (const FaceState face = face_state(*now); face.flatten_first)
        out.said.push_back(now->name + ": " + face.sentence + ".");
  }
  return out;
}

}  // namespace bq::inline workflow
