#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace bq::inline trial {

/// When a burr must be confirmed before the next abrasive. Masters differ; none is more right.
enum class GatePolicy { every_abrasive, coarsest_only, single_sided, none };
inline constexpr int kGatePolicies = 4;
std::string_view name_of(GatePolicy policy);
std::optional<GatePolicy> parse_gate_policy(std::string_view text);

/// How a burr is proved.
enum class BurrProof { touch, light, paper, microscope, sound };
inline constexpr int kBurrProofs = 5;
std::string_view name_of(BurrProof proof);
std::optional<BurrProof> parse_burr_proof(std::string_view text);

/// What was found of a burr at one place. `felt`: it is there, its size was not said.
enum class BurrSize { not_looked, none, just_felt, small, large, felt };
inline constexpr int kBurrSizes = 6;
std::string_view name_of(BurrSize size);  ///< "" where nobody looked
std::optional<BurrSize> parse_burr_size(std::string_view text);
/// A burr is there, whatever its size.
bool is_there(BurrSize size);
/// 0 none, 1 just felt, 2 small, 3 large; empty where the size was not said.
std::optional<int> rank_of(BurrSize size);
/// What may be said of a place, the largest first: keys 1 to 4.
inline constexpr BurrSize kSaidSizes[] = {BurrSize::large, BurrSize::small, BurrSize::just_felt,
                                          BurrSize::none};

/// In the words of the proof: "large" of a burr felt, "hangs hard" of paper, "a broad glint" of
/// light.
std::string in_words(BurrSize size, BurrProof proof);
/// How to look at one place, one sentence with its caution: "Push thin paper over the left side at
/// the tip, edge trailing: it hangs on a burr that leans to that side."
std::string how_to_look(BurrProof proof, const std::string& place);

/// Places a gate looks at on one side: heel, middle and tip, on a long edge more.
inline constexpr int kLeastPlaces = 3, kMostPlaces = 9;
/// Three up to 250 mm of edge, then two more for every 100 mm, nine at most (round figures of this
/// program).
int places_for(double edge_mm);
/// The marks of a gate are counted along the left side from the heel, then along the right one.
/// "left heel", "right middle", "left 2 of 7 from the heel".
std::string gate_mark_name(int mark, int places);

/// What ends the work on one abrasive: schools differ.
enum class AbrasiveEnd { strokes, time, burr };
inline constexpr int kAbrasiveEnds = 3;
std::string_view name_of(AbrasiveEnd rule);
std::optional<AbrasiveEnd> parse_abrasive_end(std::string_view text);

}  // namespace bq::inline trial
