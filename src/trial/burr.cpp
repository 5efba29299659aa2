#include "trial/burr.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "quantity/enum_name.h"
#include "quantity/said.h"

namespace bq::inline trial {
namespace {

constexpr std::array<std::string_view, kGatePolicies> kPolicyNames{
    "every abrasive", "coarsest only", "single-sided", "none"};
constexpr std::array<std::string_view, kBurrProofs> kProofNames{"touch", "light", "paper",
                                                                "microscope", "sound"};
constexpr std::array<std::string_view, kBurrSizes> kSizeNames{"",      "none",  "just felt",
                                                              "small", "large", "felt"};
constexpr std::array<std::string_view, kAbrasiveEnds> kEnds{"strokes", "time", "burr"};
/// By proof, then by size; nobody looked: nothing is said.
constexpr const char* kBurrWords[kBurrProofs][kBurrSizes] = {
    {"", "not felt", "just felt", "small", "large", "felt"},
    {"", "no glint", "a trace of light", "a thin glint", "a broad glint", "a glint"},
    {"", "slides", "just catches", "catches", "hangs hard", "hangs"},
    {"", "none seen", "a trace", "small", "large", "seen"},
    {"", "silent", "just heard", "scrapes", "scrapes loud", "heard"}};

}  // namespace

std::string_view name_of(GatePolicy policy) { return kPolicyNames[std::size_t(policy)]; }
std::optional<GatePolicy> parse_gate_policy(std::string_view text) {
  return enum_named<GatePolicy>(kPolicyNames, text);
}
std::string_view name_of(BurrProof proof) { return kProofNames[std::size_t(proof)]; }
std::optional<BurrProof> parse_burr_proof(std::string_view text) {
  return enum_named<BurrProof>(kProofNames, text);
}
std::string_view name_of(BurrSize size) { return kSizeNames[std::size_t(size)]; }
std::optional<BurrSize> parse_burr_size(std::string_view text) {
  return enum_named<BurrSize>(kSizeNames, text);
}
std::string_view name_of(AbrasiveEnd rule) { return kEnds[std::size_t(rule)]; }
std::optional<AbrasiveEnd> parse_abrasive_end(std::string_view text) {
  return enum_named<AbrasiveEnd>(kEnds, text);
}

bool is_there(BurrSize size) { return size > BurrSize::none; }

std::optional<int> rank_of(BurrSize size) {
  switch (size) {
    case BurrSize::none:
      return 0;
    case BurrSize::just_felt:
      return 1;
    case BurrSize::small:
      return 2;
    case BurrSize::large:
      return 3;
    case BurrSize::not_looked:
    case BurrSize::felt:
      break;
  }
  return std::nullopt;
}

std::string in_words(BurrSize size, BurrProof proof) {
  return kBurrWords[std::size_t(proof)][std::size_t(size)];
}

std::string how_to_look(BurrProof proof, const std::string& place) {
  switch (proof) {
    case BurrProof::touch:
      return said(
          "Feel at the {place}, lightly from the face outward, across the edge and never along it.",
          {{"place", place}});
    case BurrProof::light:
      return said(
          "Tilt the {place} under a lamp until the face just goes dark: what still glints at the "
          "apex is a burr.",
          {{"place", place}});
    case BurrProof::paper:
      return said(
          "Push thin paper over the {place}, edge trailing: it hangs on a burr that leans to that "
          "side.",
          {{"place", place}});
    case BurrProof::microscope:
      return said("Look at the {place} under the lens, along the edge.", {{"place", place}});
    case BurrProof::sound:
      return said(
          "Draw a wooden stick over the {place}, from the face off the edge: a burr scrapes, a "
          "clean apex is silent.",
          {{"place", place}});
  }
  return "";
}

int places_for(double edge_mm) {
  constexpr double kShort_mm = 250, kStep_mm = 100;
  if (!(edge_mm > kShort_mm)) return kLeastPlaces;
  const double more = std::ceil(std::min((edge_mm - kShort_mm) / kStep_mm, 100.0));
  return std::min(kMostPlaces, kLeastPlaces + 2 * int(more));
}

std::string gate_mark_name(int mark, int places) {
  const int at = mark % places;
  const std::string side = mark < places ? said("left ") : said("right ");
  if (at == 0) return side + "heel";
  if (at == places - 1) return side + "tip";
  if (2 * at == places - 1) return side + "middle";
  return said("{side}{at} of {places} from the heel",
              {{"side", side}, {"at", std::to_string(at + 1)}, {"places", std::to_string(places)}});
}

}  // namespace bq::inline trial
