#include "store/shelf_json.h"

#include <algorithm>

#include "store/record_json.h"
#include "trial/shelf_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;

/// One bit for each place where nothing else was said, as it was before a burr had a size.
void put_burr(Json& item, const SharpeningStep& step, int places) {
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

}  // namespace

template <>
struct Otherwise<Abrasive> {
  static constexpr std::array kClasses{"plain", "alloyed", "hard_phase"};  // by CuttingClass
  static void read(const JsonFields& f, Abrasive& a) {
    if (f.has("bites")) {
      const JsonFields bites = f.object("bites");
      for (std::size_t i = 0; i < kClasses.size(); ++i)
        a.bites[i] = bites.word_or(kClasses[i], parse_bite, "well");
    }
    if (const auto fault = fault_of(a)) f.fault("name", "of " + a.name + ": " + fault->reason);
  }
  static void write(Json& out, const Abrasive& a) {
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
    for (const Json& item : f.list("burr_sizes")) {
      const auto size = item.is_string() ? parse_burr_size(item.get<std::string>()) : std::nullopt;
      if (!size || mark >= s.burr.size()) f.fault("burr_sizes", "is no list of burr sizes");
      s.burr[mark++] = *size;
    }
  }
  static void write(Json& out, const SharpeningStep& s) {
    if (s.angles.left_deg > 0) out["left_deg"] = s.angles.left_deg;
    if (s.angles.right_deg > 0) out["right_deg"] = s.angles.right_deg;
  }
};

template <>
struct Otherwise<Sharpening> {
  static void read(const JsonFields&, Sharpening&) {}
  static void write(Json& out, const Sharpening& s) {
    for (std::size_t i = 0; i < s.steps.size(); ++i)
      put_burr(out["steps"][i], s.steps[i], s.places);
  }
};

std::string abrasive_json(const Abrasive& a) { return compact_text(record_json(a)); }

Checked<Abrasive> parse_abrasive(std::string_view json) {
  return read_json<Abrasive>(json, read_record<Abrasive>);
}

std::string sharpening_json(const Sharpening& s) { return compact_text(record_json(s)); }

Checked<Sharpening> parse_sharpening(std::string_view json) {
  return read_json<Sharpening>(json, read_record<Sharpening>);
}

std::string comparison_json(const Comparison& c) { return compact_text(record_json(c)); }

Checked<Comparison> parse_comparison(std::string_view json) {
  return read_json<Comparison>(json, read_record<Comparison>);
}

}  // namespace bq::inline store
