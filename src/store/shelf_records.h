#pragma once

#include <algorithm>
#include <array>

#include "quantity/said.h"
#include "store/record_json.h"
#include "trial/shelf_fields.h"

/// Inside of the readers of the shelf and of a blade's history: what an abrasive and a sharpening
/// keep otherwise than field by field.
namespace bq::inline store {

/// One bit for each place where nothing else was said, as it was before a burr had a size.
inline void put_burr(nlohmann::json& item, const SharpeningStep& step, int places) {
  if (step.burr == decltype(step.burr){}) return;
  const bool sized = std::any_of(step.burr.begin(), step.burr.end(), [](BurrSize size) {
    return size != BurrSize::not_looked && size != BurrSize::felt;
  });
  if (!sized && places == kLeastPlaces) {
    if (const unsigned there = step.confirmed()) item["burr"] = there;
    return;
  }
  for (int mark = 0; mark < 2 * places; ++mark)
    item["burr_sizes"].push_back(name_of(step.burr[std::size_t(mark)]));
}

template <>
struct Otherwise<Abrasive> {
  static constexpr std::array kClasses{"plain", "alloyed", "hard_phase"};  // by CuttingClass
  static void read(const JsonFields& f, Abrasive& a) {
    if (f.has("bites")) {
      const JsonFields bites = f.object("bites");
      for (std::size_t i = 0; i < kClasses.size(); ++i)
        a.bites[i] = bites.word_or(kClasses[i], parse_bite, "well");
    }
    if (const auto fault = fault_of(a))
      f.fault("name", said("of {name}: {reason}", {{"name", a.name}, {"reason", fault->reason}}));
  }
  static void write(nlohmann::json& out, const Abrasive& a) {
    for (std::size_t i = 0; i < kClasses.size(); ++i)
      out["bites"][kClasses[i]] = name_of(a.bites[i]);
  }
};

template <>
struct Otherwise<SharpeningStep> {
  static void read(const JsonFields& f, SharpeningStep& s) {
    s.angles = {f.number_or("left_deg", 0, 80, 0), f.number_or("right_deg", 0, 80, 0)};
    // Before a burr had a size a bit said that it was there.
    const auto there = unsigned(f.number_or("burr", 0, (1U << 2 * kLeastPlaces) - 1, 0));
    for (std::size_t mark = 0; mark < 2 * kLeastPlaces; ++mark)
      if (there >> mark & 1U) s.burr[mark] = BurrSize::felt;
    std::size_t mark = 0;
    for (const nlohmann::json& item : f.list("burr_sizes")) {
      const auto size = item.is_string() ? parse_burr_size(item.get<std::string>()) : std::nullopt;
      if (!size || mark >= s.burr.size()) f.fault("burr_sizes", said("is no list of burr sizes"));
      s.burr[mark++] = *size;
    }
  }
  static void write(nlohmann::json& out, const SharpeningStep& s) {
    if (s.angles.left_deg > 0) out["left_deg"] = s.angles.left_deg;
    if (s.angles.right_deg > 0) out["right_deg"] = s.angles.right_deg;
  }
};

template <>
struct Otherwise<Sharpening> : NothingElse<Sharpening> {
  static void write(nlohmann::json& out, const Sharpening& s) {
    for (std::size_t i = 0; i < s.steps.size(); ++i)
      put_burr(out["steps"][i], s.steps[i], s.places);
  }
};

}  // namespace bq::inline store
