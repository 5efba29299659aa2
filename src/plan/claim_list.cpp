// The disputed claims one can pick: what is compared, how the parts are made alike, what stays
// open.
#include "plan/claim.h"
#include "quantity/said.h"

namespace bq::inline plan {

std::vector<Claim> known_claims() {
  const std::string halves = said(
      "Mark the edge in two halves with a pen on the spine; sharpen the whole edge alike up to the "
      "last step.");
  const std::string same_run = said(
      "Use the same blade twice: sharpen, run, resharpen to the other treatment, run again; same "
      "medium batch, same stroke.");
  const std::string blind = said("Whoever reads sees codes only; whoever treats does not read.");
  const std::string other_steels = said("Other steels, angles and finishes than those used.");
  const std::string other_media = said("Other media and cut modes.");
  return {
      {"lower-angle",
       said("A lower angle lasts longer."),
       ClaimMeasure::life,
       said("the higher angle"),
       said("the lower angle"),
       false,
       true,
       1.25,
       0.20,
       {same_run,
        said("Keep finish, micro-bevel and stock; change the apex angle only, by at least 3° per "
             "side."),
        blind},
       {said("Chipping and bending under rough use: this is wear life only."), other_steels,
        other_media}},
      {"polish-lasts",
       said("A polished edge lasts longer."),
       ClaimMeasure::life,
       said("the coarse finish"),
       said("the polished finish"),
       false,
       true,
       1.25,
       0.20,
       {same_run, said("Same angle and burr route; only the last abrasive differs."), blind},
       {said("The cut surface."),
        said("The other cut mode: slicing and pushing answer differently."), other_media}},
      {"strop-helps",
       said("Stropping makes the edge sharper."),
       ClaimMeasure::fresh,
       said("no strop"),
       said("strop"),
       false,
       false,
       0.92,
       0.08,
       {halves, said("Strop one half only, edge trailing; wipe both."), blind},
       {said("Whether the edge also lasts longer."), said("Other strops and compounds."),
        other_steels}},
      {"strop-lasts",
       said("A stropped edge lasts longer."),
       ClaimMeasure::life,
       said("no strop"),
       said("strop"),
       false,
       true,
       1.2,
       0.20,
       {same_run,
        said("Same angle and finish; strop after the last abrasive in one of the two runs, edge "
             "trailing."),
        blind},
       {said("Other strops and compounds."), other_steels, other_media}},
      {"route-leaves-burr",
       said("This route leaves a burr."),
       ClaimMeasure::early_rise,
       said("the reference route"),
       said("the route in doubt"),
       false,
       true,
       1.25,
       0.15,
       {halves,
        said("Deburr one half by each route; read fresh, make 20 cuts with the whole edge, read "
             "again."),
        blind},
       {said("Burrs that fall later than the first 20 cuts."),
        said("Fragile teeth, which collapse alike: look under light."), other_steels}},
      {"stone-as-labelled",
       said("This stone is as fine as its label."),
       ClaimMeasure::scratch,
       said("the reference of that size"),
       said("the stone in doubt"),
       true,
       false,
       1.25,
       0.15,
       {halves,
        said("Finish one half on each stone, same pressure, until all older scratches are gone; "
             "measure the mean scratch spacing."),
        blind},
       {said("How fast the stone cuts and how long it stays so."), other_steels}},
      {"burr-each-stone",
       said("A burr at every abrasive gives a sharper edge than a burr at the coarsest only."),
       ClaimMeasure::fresh,
       said("burr at the coarsest only"),
       said("burr at every abrasive"),
       false,
       false,
       0.92,
       0.08,
       {halves, said("Same stones and stroke angle; only the gate differs."), blind},
       {said("Time and metal it costs."), other_steels}},
      {"micro-bevel-lasts",
       said("A micro-bevel makes the edge last longer."),
       ClaimMeasure::life,
       said("single bevel"),
       said("micro-bevel"),
       false,
       true,
       1.25,
       0.20,
       {same_run,
        said("Same edge bevel; the micro-bevel steeper by a stated angle in one of the two runs."),
        blind},
       {said("Damage under rough use."), said("What happens after the last checkpoint."),
        other_media}},
      {"rod-mends",
       said("A smooth rod brings a dulled edge back."),
       ClaimMeasure::fresh,
       said("dulled, left alone"),
       said("dulled, rodded"),
       false,
       false,
       0.85,
       0.12,
       {said("Dull the whole edge alike with a fixed number of cuts; mark two halves."),
        said("Rod one half only; wipe both and read."), blind},
       {said("How long the gain lasts."),
        said("Truly rolled apexes as against a burr that stands up again: look under the lens.")}},
  };
}

std::string other_school(const std::string& id) {
  if (id == "lower-angle")
    return said(
        "Others hold that a higher angle lasts longer; under bending and chipping loads they are "
        "right.");
  if (id == "polish-lasts")
    return said("Others hold that a coarse, toothy edge lasts longer, at least in slicing.");
  if (id == "strop-helps" || id == "strop-lasts")
    return said("Others leave the edge straight from the abrasive: a soft strop may round it.");
  if (id == "route-leaves-burr")
    return said("Others say that the early collapse is fragile teeth, not a burr.");
  if (id == "stone-as-labelled")
    return said("Others judge a stone by its feel and order, not by its size.");
  if (id == "burr-each-stone")
    return said("Others raise one burr at the coarsest abrasive, or none at all.");
  if (id == "micro-bevel-lasts")
    return said("Others keep a single bevel: less to grind, less force to push.");
  if (id == "rod-mends")
    return said("Others hold that a rod only stands a burr up and mends no rolled apex.");
  return "";
}

}  // namespace bq::inline plan
