// The disputed claims one can pick: what is compared, how the parts are made alike, what stays
// open.
#include "plan/claim.h"

namespace bq::inline plan {
namespace {

const char* const kHalves =
    "Mark the edge in two halves with a pen on the spine; sharpen the whole edge alike up to the "
    "last step.";
const char* const kSameRun =
    "Use the same blade twice: sharpen, run, resharpen to the other treatment, run again; same "
    "medium batch, same stroke.";
const char* const kBlind = "Whoever reads sees codes only; whoever treats does not read.";
const char* const kOtherSteels = "Other steels, angles and finishes than those used.";
const char* const kOtherMedia = "Other media and cut modes.";
const char* const kLonger = "What happens after the last checkpoint.";

}  // namespace

const std::vector<Claim>& known_claims() {
  static const std::vector<Claim> claims{
      {"lower-angle",
       "A lower angle lasts longer.",
       ClaimMeasure::life,
       "the higher angle",
       "the lower angle",
       false,
       true,
       1.25,
       0.20,
       {kSameRun,
        "Keep finish, micro-bevel and stock; change the apex angle only, by at least 3° per side.",
        kBlind},
       {"Chipping and bending under rough use: this is wear life only.", kOtherSteels,
        kOtherMedia}},
      {"polish-lasts",
       "A polished edge lasts longer.",
       ClaimMeasure::life,
       "the coarse finish",
       "the polished finish",
       false,
       true,
       1.25,
       0.20,
       {kSameRun, "Same angle and burr route; only the last abrasive differs.", kBlind},
       {"The cut surface.", "The other cut mode: slicing and pushing answer differently.",
        kOtherMedia}},
      {"strop-helps",
       "Stropping makes the edge sharper.",
       ClaimMeasure::fresh,
       "no strop",
       "strop",
       false,
       false,
       0.92,
       0.08,
       {kHalves, "Strop one half only, edge trailing; wipe both.", kBlind},
       {"Whether the edge also lasts longer.", "Other strops and compounds.", kOtherSteels}},
      {"strop-lasts",
       "A stropped edge lasts longer.",
       ClaimMeasure::life,
       "no strop",
       "strop",
       false,
       true,
       1.2,
       0.20,
       {kSameRun,
        "Same angle and finish; strop after the last abrasive in one of the two runs, edge "
        "trailing.",
        kBlind},
       {"Other strops and compounds.", kOtherSteels, kOtherMedia}},
      {"route-leaves-burr",
       "This route leaves a burr.",
       ClaimMeasure::early_rise,
       "the reference route",
       "the route in doubt",
       false,
       true,
       1.25,
       0.15,
       {kHalves,
        "Deburr one half by each route; read fresh, make 20 cuts with the whole edge, read again.",
        kBlind},
       {"Burrs that fall later than the first 20 cuts.",
        "Fragile teeth, which collapse alike: look under light.", kOtherSteels}},
      {"stone-as-labelled",
       "This stone is as fine as its label.",
       ClaimMeasure::scratch,
       "the reference of that size",
       "the stone in doubt",
       true,
       false,
       1.25,
       0.15,
       {kHalves,
        "Finish one half on each stone, same pressure, until all older scratches are gone; measure "
        "the mean scratch spacing.",
        kBlind},
       {"How fast the stone cuts and how long it stays so.", kOtherSteels}},
      {"burr-each-stone",
       "A burr at every abrasive gives a sharper edge than a burr at the coarsest only.",
       ClaimMeasure::fresh,
       "burr at the coarsest only",
       "burr at every abrasive",
       false,
       false,
       0.92,
       0.08,
       {kHalves, "Same stones and stroke angle; only the gate differs.", kBlind},
       {"Time and metal it costs.", kOtherSteels}},
      {"micro-bevel-lasts",
       "A micro-bevel makes the edge last longer.",
       ClaimMeasure::life,
       "single bevel",
       "micro-bevel",
       false,
       true,
       1.25,
       0.20,
       {kSameRun,
        "Same edge bevel; the micro-bevel steeper by a stated angle in one of the two runs.",
        kBlind},
       {"Damage under rough use.", kLonger, kOtherMedia}},
      {"rod-mends",
       "A smooth rod brings a dulled edge back.",
       ClaimMeasure::fresh,
       "dulled, left alone",
       "dulled, rodded",
       false,
       false,
       0.85,
       0.12,
       {"Dull the whole edge alike with a fixed number of cuts; mark two halves.",
        "Rod one half only; wipe both and read.", kBlind},
       {"How long the gain lasts.",
        "Truly rolled apexes as against a burr that stands up again: look under the lens."}},
  };
  return claims;
}

std::string other_school(const std::string& id) {
  if (id == "lower-angle")
    return "Others hold that a higher angle lasts longer; under bending and chipping loads they "
           "are right.";
  if (id == "polish-lasts")
    return "Others hold that a coarse, toothy edge lasts longer, at least in slicing.";
  if (id == "strop-helps" || id == "strop-lasts")
    return "Others leave the edge straight from the abrasive: a soft strop may round it.";
  if (id == "route-leaves-burr")
    return "Others say that the early collapse is fragile teeth, not a burr.";
  if (id == "stone-as-labelled")
    return "Others judge a stone by its feel and order, not by its size.";
  if (id == "burr-each-stone")
    return "Others raise one burr at the coarsest abrasive, or none at all.";
  if (id == "micro-bevel-lasts")
    return "Others keep a single bevel: less to grind, less force to push.";
  if (id == "rod-mends")
    return "Others hold that a rod only stands a burr up and mends no rolled apex.";
  return "";
}

}  // namespace bq::inline plan
