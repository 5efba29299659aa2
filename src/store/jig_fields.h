#pragma once

#include "edge/angle_check_fields.h"
#include "store/jig_files.h"
#include "trial/edge_record_fields.h"

namespace bq::inline store {

constexpr auto fields_of(quantity::Told<MarkerQuestion>) {
  using R = MarkerQuestion;
  return std::tuple(
      field<&R::settings>("settings").flat(), field<&R::touches>("touches").always(),
      field<&R::side>("side").word(parse_edge_side, 2).always(),
      field<&R::bevel>("bevel").word(parse_measured_bevel, 3).says("", "that is inked"),
      field<&R::at_mm>("at_mm")
          .within(-kFarOnBlade_mm, kFarOnBlade_mm, "mm")
          .always()
          .says("", "from the heel"));
}
constexpr auto fields_of(quantity::Told<GaugeLogFile>) {
  using R = GaugeLogFile;
  return std::tuple(
      field<&R::options>("options").flat(), field<&R::entries>("entries").always(),
      field<&R::bevel>("bevel").word(parse_measured_bevel, 3).says("", "that all readings are of"));
}

}  // namespace bq::inline store
