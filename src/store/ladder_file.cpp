#include "store/ladder_file.h"

#include "store/json_fields.h"
#include "store/section_file.h"

namespace bq::inline store {
namespace {

BevelAngles angles_of(const JsonFields& f, const char* key) {
  if (f.raw(key).is_array()) {
    const auto [left, right] = number_pair(f.raw(key), f.path_of(key), 0.1, 80);
    return {left, right};
  }
  return BevelAngles::symmetric(f.number(key, 0.1, 80));
}

std::optional<GatePolicy> policy_of(std::string_view word) {
  if (word == "every") return GatePolicy::every_abrasive;
  if (word == "coarsest") return GatePolicy::coarsest_only;
  if (word == "one side") return GatePolicy::single_sided;
  return parse_gate_policy(word);
}

Abrasive abrasive_of(const JsonFields& f) {
  Abrasive out;
  out.name = f.text("name");
  out.measured_um = f.number("um", 0.01, 2000);
  out.rate_mm3_per_min = f.number_if("rate_mm3_per_min", 1e-6, 1e6);
  out.kind = f.word_or("kind", parse_abrasive_kind, name_of(AbrasiveKind::bench_stone));
  if (const auto fault = fault_of(out)) f.fault("name", fault->reason);
  return out;
}

}  // namespace

Checked<LadderQuestion> parse_ladder_file(std::string_view text) {
  return read_json<LadderQuestion>(text, [](const JsonFields& file) {
    LadderQuestion out;
    const JsonFields f = file.noting(out.notes);
    const auto section = parse_section_file(f.raw("section").dump());
    if (!section) f.fault("section", section.refusal().reason);
    out.state.section = section->plan;
    out.state.edge_length_mm = f.number_or("edge_length_mm", 1, 2000, 100);
    out.state.dull_um = f.number_or("dull_um", 0, 500, 0);
    out.state.damage_um = f.number_or("chip_um", 0, 20000, 0);
    out.state.finish_um = f.number_if("finish_um", 0.01, 1000);
    const JsonFields wanted = f.object("wanted");
    out.wish.edge = angles_of(wanted, "edge_deg");
    if (wanted.has("micro_deg") && !wanted.raw("micro_deg").is_null())
      out.wish.micro = angles_of(wanted, "micro_deg");
    out.wish.micro_facet_um = wanted.number_or("micro_um", 1, 1e5, 60);
    out.wish.finish_left_um = out.wish.finish_right_um = wanted.number("finish_um", 0.01, 1000);
    wanted.end();
    if (f.has("steel")) {
      const JsonFields steel = f.object("steel");
      out.hardness_hrc = steel.number_if("hrc", 20, 75);
      out.hard_phase_percent = steel.number_if("hard_phase_percent", 0, 60);
      steel.end();
    }
    const auto& shelf = f.list("shelf");
    for (std::size_t i = 0; i < shelf.size(); ++i) {
      const JsonFields one = f.item(shelf[i], f.path_of("shelf", i));
      out.shelf.push_back(abrasive_of(one));
      one.end();
    }
    out.burr = f.word_or("burr", policy_of, "every");
    f.end();
    return out;
  });
}

}  // namespace bq::inline store
