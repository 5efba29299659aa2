#include "edge/starting_range.h"

#include "quantity/said.h"

namespace bq::inline edge {

const std::vector<StartingRange>& starting_ranges() {
  static const std::vector<StartingRange> ranges{
      {to_be_said("slicing fibrous or abrasive sheet"), "slice", 12, 16, 8, 20, 6, 30, 1, 60,
       to_be_said("Teeth bite in fibre and a moderate angle bears the drag. Others go slimmer and "
                  "finer and hold that it lasts longer.")},
      {to_be_said("slicing soft, clean goods"), "slice", 10, 14, 7, 18, 3, 10, 0.5, 30,
       to_be_said("Little wear and little side load allow a slim edge. Others keep more angle so "
                  "that one edge serves for everything.")},
      {to_be_said("pushing through foam or soft sheet"), "push", 9, 13, 6, 17, 0.5, 3, 0.25, 10,
       to_be_said("A slim, fine edge parts with little force and leaves a clean surface. Some keep "
                  "a little tooth so that it starts to cut.")},
      {to_be_said("chopping, twisting, hard inclusions"), "chop", 18, 24, 15, 30, 3, 10, 1, 30,
       to_be_said("Bending and chipping loads ask for angle first. Others start slim and let the "
                  "damage search put a bevel on.")},
  };
  return ranges;
}

}  // namespace bq::inline edge
