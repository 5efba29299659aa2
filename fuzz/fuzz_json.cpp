// Every JSON text that a person or a project hands in, to every reader: taken or refused with a
// reason, never thrown.
#include <cstdint>
#include <string_view>

#include "rehearsal/recipe.h"
#include "rehearsal/virtual_edge.h"
#include "store/edge_record_json.h"
#include "store/jig_files.h"
#include "store/plan_file.h"
#include "store/rule_file.h"
#include "store/section_file.h"
#include "store/shelf_json.h"
#include "workflow/demo_project.h"
#include "workflow/ladder_draft.h"
#include "workflow/limits.h"
#include "workflow/measure_series.h"
#include "workflow/stones_study.h"

using namespace bq;

namespace {

/// Refused, it says why.
template <class Read>
void expect_reason(const Read& read) {
  if (!read && read.refusal().reason.empty()) __builtin_trap();
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  for (const char* kind : {"outline", "angle", "thickness", "finding", "spot", "section", "setting",
                           "note", "sharpening", "condition"})
    expect_reason(parse_edge_record(kind, text));
  expect_reason(parse_abrasive(text));
  expect_reason(parse_sharpening(text));
  expect_reason(parse_comparison(text));
  expect_reason(parse_plan(text));
  expect_reason(parse_plan_book(text));
  expect_reason(parse_rule_file(text));
  expect_reason(parse_section_file(text));
  expect_reason(parse_section_plan(text));
  expect_reason(parse_clamp_file(text));
  expect_reason(parse_marker_file(text));
  expect_reason(parse_gauge_log(text));
  expect_reason(parse_recipe(text));
  expect_reason(parse_virtual_edge(text));
  expect_reason(parse_ladder_input(text));
  expect_reason(parse_limits(text));
  expect_reason(parse_in_hand(text));
  const auto series = parse_template(text);
  expect_reason(series);
  if (series && !parse_template(template_json(*series))) __builtin_trap();
  Trial trial;
  (void)add_rack(trial, text);
  return 0;
}
