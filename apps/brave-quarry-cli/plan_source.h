#pragma once

#include <cstdint>
#include <optional>
#include <string>

#include "plan/run_sheet.h"

/// A plan file with its design and sheet.
struct PlannedSheet {
  bq::TrialPlan plan;
  bq::PlanDesign design;
  bq::RunSheet sheet;
};

/// Reads a plan ("-": standard input), designs it and puts it in order; throws CommandEnd with the
/// refusal. `seed`, where given, replaces the plan's own.
PlannedSheet plan_from(const std::string& path, const std::optional<std::uint64_t>& seed);
/// The same from a text; `name` stands in messages.
PlannedSheet plan_from_text(const std::string& text, const std::string& name,
                            const std::optional<std::uint64_t>& seed);
