#pragma once

#include <optional>
#include <string>

#include "workflow/stones_study.h"

namespace bq::inline workflow {

/// What a tester has said about the next sharpening of a blade; kept while it is being typed.
struct LadderInput {
  double dull_um = 5, damage_um = 0;
  LadderWish wish;
  GatePolicy policy = GatePolicy::every_abrasive;
  BurrProof proof = BurrProof::touch;
  GrindWay way = GrindWay::held;
  AbrasiveEnd stop = AbrasiveEnd::strokes;
  int places = kLeastPlaces;  ///< of a gate, on one side
  std::string behaviour;      ///< "" as the steel advises
  bool deburr = true, deburr_between = false;
  std::string strop;  ///< name of one on the shelf; "" no strop
  bool straighten = false, recurve = false;
  std::string run;
  bool operator==(const LadderInput&) const = default;
};
/// As the blade's history tells; a planned run of this blade gives its finish, angles and name.
/// Empty without a section on record.
std::optional<LadderInput> first_input(const Trial& trial, std::size_t blade);

std::string ladder_input_json(const LadderInput& input);
Checked<LadderInput> parse_ladder_input(std::string_view json);

/// The ladder for an input, on what of the shelf that way of grinding is done with (a slack belt on
/// belts, crossed wheels on wheels), for the blade's steel. A convex or crossed edge is reckoned as
/// its flat one of the same angle at the apex; a remark says so.
Checked<LadderPlan> ladder_for(const Trial& trial, std::size_t blade, const LadderInput& input);

/// The steps of that ladder, ready to be done, by the steel's behaviour (`advised`) where the input
/// names none.
Sharpening sharpening_for(const Trial& trial, std::size_t blade, const LadderInput& input,
                          const LadderPlan& plan, DeburrBehaviour advised);

/// What the run this sharpening is meant for was planned with and would not get; "" when it fits or
/// no run is named.
std::string run_mismatch(const Trial& trial, const LadderInput& input,
                         const Sharpening& sharpening);

}  // namespace bq::inline workflow
