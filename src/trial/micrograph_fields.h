#pragma once

#include "quantity/field.h"
#include "trial/micrograph.h"

namespace bq::inline trial {

inline constexpr double kFarInPicture = 1e7;  ///< px, µm, mm: beyond any picture

constexpr auto fields_of(Told<ScaleReading>) {
  using R = ScaleReading;
  return std::tuple(
      field<&R::um>("um").within(1e-3, kFarInPicture, "µm").must().says("known length"),
      field<&R::px>("px").within(1, kFarInPicture, "px").must().says("its length in the picture"),
      field<&R::error_px>("error_px")
          .within(0, kFarInPicture, "px")
          .always()
          .says("", "standard error"));
}
constexpr auto fields_of(Told<PictureScale>) {
  using R = PictureScale;
  return std::tuple(
      field<&R::um_per_px>("um_per_px").within(1e-3, 1e3, "µm").must().says("length of a pixel"),
      field<&R::relative_error>("relative_error")
          .within(0, 1)
          .always()
          .says("", "standard error over the value"),
      field<&R::how>("how").always(), field<&R::readings>("readings"));
}
constexpr auto fields_of(Told<CrossingScratches>) {
  using R = CrossingScratches;
  return std::tuple(
      field<&R::direction_deg>("direction_deg").within(-180, 180, "°").must(),
      field<&R::direction_error_deg>("direction_error_deg").within(0, 180, "°").always(),
      field<&R::spacing_px>("spacing_px").within(1e-3, kFarInPicture, "px").must(),
      field<&R::spacing_error_px>("spacing_error_px").within(0, kFarInPicture, "px").always());
}
constexpr auto fields_of(Told<LensTake>) {
  using R = LensTake;
  constexpr double kFar = kFarInPicture;
  return std::tuple(
      field<&R::box>("box").says("", "scratches: the points are corners, not a line"),
      field<&R::value_px>("value_px").within(0, kFar, "px").must(),
      field<&R::error_px>("error_px").within(0, kFar, "px").always().says("", "standard error"),
      field<&R::second>("second")
          .within(-kFar, kFar)
          .says("", "chip: depth in px; scratches: direction in degrees"),
      field<&R::common_px>("common_px")
          .within(0, kFar, "px")
          .says("", "the part of the error that repeats share"),
      field<&R::soft_px>("soft_px").within(0, kFar, "px").says("", "10 to 90 % width"),
      field<&R::streaks>("streaks").within(0, 1).says("", "scratches: share of deep ones"),
      field<&R::crossing>("crossing").says("", "the weaker direction of a crosshatch"));
}
constexpr auto fields_of(Told<LensMeasure>) {
  using R = LensMeasure;
  return std::tuple(field<&R::kind>("kind").word(parse_lens_measure, kLensMeasures).always(),
                    field<&R::takes>("takes").must(), field<&R::note>("note"));
}
constexpr auto fields_of(Told<BrightBand>) {
  using R = BrightBand;
  constexpr double kFar = kFarInPicture;
  return std::tuple(
      field<&R::share>("share").within(0, 1).must().says("", "of the length that has one"),
      field<&R::mean_px>("mean_px").within(0, kFar, "px").must(),
      field<&R::mean_error_px>("mean_error_px").within(0, kFar, "px").always(),
      field<&R::median_px>("median_px").within(0, kFar, "px").always(),
      field<&R::ninth_px>("ninth_px")
          .within(0, kFar, "px")
          .always()
          .says("", "nine tenths of it are narrower"),
      field<&R::most_px>("most_px").within(0, kFar, "px").always(),
      field<&R::most_error_px>("most_error_px").within(0, kFar, "px").always());
}
constexpr auto fields_of(Told<StretchRecession>) {
  using R = StretchRecession;
  constexpr double kFar = kFarInPicture;
  return std::tuple(
      field<&R::since>("since").within(1, 9e15).must().says("",
                                                            "row of the earlier picture, whose "
                                                            "pixels the figures are in"),
      field<&R::mean_px>("mean_px").within(-kFar, kFar, "px").must(),
      field<&R::mean_error_px>("mean_error_px").within(0, kFar, "px").always(),
      field<&R::most_px>("most_px").within(0, kFar, "px").always(),
      field<&R::most_error_px>("most_error_px").within(0, kFar, "px").always(),
      field<&R::length_px>("length_px").within(1, kFar, "px").must());
}
constexpr auto fields_of(Told<EdgeStretch>) {
  using R = EdgeStretch;
  constexpr double kFar = kFarInPicture;
  return std::tuple(
      field<&R::length_px>("length_px").within(1, kFar, "px").must(),
      field<&R::wander_px>("wander_px")
          .within(0, kFar, "px")
          .always()
          .says("", "of the sound apex, root mean square"),
      field<&R::wander_error_px>("wander_error_px").within(0, kFar, "px").always(),
      field<&R::belly_px>("belly_px").within(0, kFar, "px").always(),
      field<&R::chipped_share>("chipped_share").within(0, 1).always(),
      field<&R::soft_px>("soft_px").within(0, kFar, "px").always(),
      field<&R::recession>("recession").says("", "since another picture of the place"),
      field<&R::burr>("burr").says("", "heights of one that stands"),
      field<&R::band>("band").says("", "widths of a bright band"));
}
constexpr auto fields_of(Told<SamePlace>) {
  using R = SamePlace;
  return std::tuple(
      field<&R::other>("other").within(1, 9e15).must().says("", "row of the other picture"),
      field<&R::residual_px>("residual_px").within(0, kFarInPicture, "px").always(),
      field<&R::doubt>("doubt").says("", "why it may be more than 2 px off"));
}
constexpr auto fields_of(Told<HintAnswer>) {
  using R = HintAnswer;
  constexpr double kFar = kFarInPicture;
  return std::tuple(field<&R::kind>("kind").word(parse_apex_damage, 3).always(),
                    field<&R::length_px>("length_px").within(0, kFar, "px").always(),
                    field<&R::size_px>("size_px").within(0, kFar, "px").always(),
                    field<&R::accepted>("accepted").always(),
                    field<&R::length_error_px>("length_error_px").within(0, kFar, "px"),
                    field<&R::size_error_px>("size_error_px").within(0, kFar, "px"));
}
constexpr auto fields_of(Told<Micrograph>) {
  using R = Micrograph;
  return std::tuple(
      field<&R::name>("name").always().says("", "of the file it came from"),
      field<&R::kind>("kind").always().says("", "`png`, `jpeg`, `tiff`, `bmp`"),
      field<&R::width>("width").within(0, 1e5, "px").always(),
      field<&R::height>("height").within(0, 1e5, "px").always(),
      field<&R::size>("size").within(0, 1e12, "bytes").always(),
      field<&R::sha256>("sha256").always().says("", "of the file as it was brought in"),
      field<&R::made_at>("made_at").always().says("brought in", "UTC"),
      field<&R::taken_at>("taken_at").says("taken", "EXIF, else the file's own time"),
      field<&R::blade>("blade"), field<&R::run>("run"),
      field<&R::cuts>("cuts").within(0, 9e15).says("", "of the run when it was taken"),
      field<&R::side>("side").word(parse_edge_side, 2),
      field<&R::at_mm>("at_mm")
          .within(-kFarInPicture, kFarInPicture, "mm")
          .says("place", "from the heel"),
      field<&R::mark>("mark"), field<&R::magnification>("magnification"),
      field<&R::instrument>("instrument"),
      field<&R::stone>("stone").says("", "a sample piece of it"), field<&R::note>("note"),
      field<&R::scale>("scale").says("", "its own; wins over its magnification's"),
      field<&R::measures>("measures"), field<&R::laid_over>("laid_over"), field<&R::hints>("hints"),
      field<&R::other_side>("other_side")
          .says("", "the blade lies on the other side than its brightness says"),
      field<&R::along>("along").says("", "measured along the apex"));
}
constexpr auto fields_of(Told<MagnificationScale>) {
  using R = MagnificationScale;
  return std::tuple(field<&R::magnification>("magnification").must(),
                    field<&R::made_at>("made_at").always(), field<&R::instrument>("instrument"));
}

}  // namespace bq::inline trial
