#pragma once

#include "instrument/instrument_profile.h"
#include "quantity/field.h"

namespace bq::inline instrument {

constexpr auto fields_of(Told<InstrumentProfile>) {
  using R = InstrumentProfile;
  constexpr double kFar = 1e9;
  return std::tuple(
      field<&R::role>("role").word(parse_instrument_role, kInstrumentRoles).always(),
      field<&R::name>("name").always().says("", "the bench's own name for it"),
      field<&R::baud>("baud").within(1, 1e6).always(),
      field<&R::unit>("unit").always().says("", "its lines are in: gf, N, mm, deg …"),
      field<&R::port>("port").says("", "absent: typed by hand"),
      field<&R::pattern>("pattern").says("", "regular expression; absent: the usual line"),
      field<&R::request>("request").says("", "sent to ask for a reading; absent: it sends"),
      field<&R::capacity>("capacity")
          .within(1e-9, kFar)
          .says("Capacity", "at it and beyond: overload"),
      field<&R::resolution>("resolution")
          .within(1e-9, kFar)
          .says("Resolution", "absent: from the figures of a line"),
      field<&R::rate_hz>("rate_hz").within(0, 5000, "lines/s").says("Stream"),
      field<&R::ends_with_cr>("ends_with_cr"),
      field<&R::overload_text>("overload_text").says("", "what the group `flag` says then"),
      field<&R::unstable_text>("unstable_text").says("", "what the group `flag` says then"));
}

}  // namespace bq::inline instrument
