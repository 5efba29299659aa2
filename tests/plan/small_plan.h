#pragma once

#include <gtest/gtest.h>

#include <map>
#include <string>

#include "plan/run_sheet.h"

namespace bq::test {

inline FactorValue word(const char* text) { return std::string(text); }

/// Two steels, three angles, two finishes.
inline TrialPlan small_plan() {
  TrialPlan plan;
  plan.factors = {{FactorKind::steel, "steel", {word("Fenland Plain"), word("Marl Tough")}, {}},
                  {FactorKind::apex_angle, "apex_angle", {12.0, 15.0, 18.0}, {}},
                  {FactorKind::finish, "finish_um", {1.0, 25.0}, {}}};
  plan.design.replicates = 2;
  return plan;
}

/// k factors of two levels each.
inline TrialPlan two_level_plan(int k) {
  TrialPlan plan;
  for (int i = 0; i < k; ++i)
    plan.factors.push_back(
        {FactorKind::user, std::string(1, char('A' + i)), {word("low"), word("high")}, {}});
  return plan;
}

inline RunSheet sheet_of(const TrialPlan& plan) {
  const auto design = design_plan(plan);
  EXPECT_TRUE(design.ok()) << (design.ok() ? "" : design.refusal().reason);
  if (!design) return {};
  const auto sheet = run_sheet(plan, *design);
  EXPECT_TRUE(sheet.ok()) << (sheet.ok() ? "" : sheet.refusal().reason);
  return sheet ? *sheet : RunSheet{};
}

inline std::string refusal_of(const TrialPlan& plan) {
  const auto design = design_plan(plan);
  if (!design) return design.refusal().reason;
  const auto sheet = run_sheet(plan, *design);
  return sheet ? std::string() : sheet.refusal().reason;
}

inline std::map<Combination, int> counted(const RunSheet& sheet) {
  std::map<Combination, int> counts;
  for (const auto& run : sheet.runs) ++counts[run.levels];
  return counts;
}

}  // namespace bq::test
