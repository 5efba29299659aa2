#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "edge/clamp_jig.h"
#include "edge/edge_outline.h"
#include "edge/evidence_key.h"
#include "edge/section.h"
#include "trial/sharpening.h"

namespace bq::inline trial {

/// The blade's cutting edge seen from the side. The latest one holds.
struct OutlineRecord {
  std::string origin;  ///< a preset's name, "points", "table", "drawing"
  std::vector<OutlinePoint> points;
  bool operator==(const OutlineRecord&) const = default;
};

/// Which bevel an angle was measured on.
enum class MeasuredBevel { not_said, edge_bevel, micro_bevel };
std::string_view name_of(MeasuredBevel bevel);  ///< "" where it is not said
std::optional<MeasuredBevel> parse_measured_bevel(std::string_view text);

/// One angle read on one side at one place.
struct AngleRecord {
  EdgeSide side = EdgeSide::left;
  double at_mm = 0;           ///< from the heel along x
  double angle_deg = 0;       ///< per side, from the centre plane
  double plus_minus_deg = 0;  ///< 95 % half-width; 0: not known
  std::string method;         ///< "gauge", "marker test", "reflected beam", "callipers", "keyed"
  MeasuredBevel bevel = MeasuredBevel::not_said;
  bool operator==(const AngleRecord&) const = default;
};

/// One thickness at a place and a distance from the apex.
struct ThicknessRecord {
  double at_mm = 0, distance_mm = 0, thickness_mm = 0;
  bool operator==(const ThicknessRecord&) const = default;
};

enum class IntakeCheck {
  straightness,
  chips,
  corrosion,
  profile,
  coating,
  recurve,
  previous_bevel
};
inline constexpr int kIntakeChecks = 7;
std::string_view name_of(IntakeCheck check);
std::optional<IntakeCheck> parse_intake_check(std::string_view text);
/// What a finding of this kind means for a trial, one sentence.
std::string_view meaning_of(IntakeCheck check);

/// What an intake check found. The latest of each check holds.
struct FindingRecord {
  IntakeCheck check = IntakeCheck::straightness;
  bool trouble = false;
  std::optional<double> at_mm;    ///< place from the heel
  std::optional<double> size_mm;  ///< depth of a chip, height of a bend
  std::string note;
  bool operator==(const FindingRecord&) const = default;
};

enum class SpotKind { burr, hangs, bright, damage };
std::string_view name_of(SpotKind kind);
std::optional<SpotKind> parse_spot_kind(std::string_view text);

/// Something at one place of the edge.
struct SpotRecord {
  SpotKind kind = SpotKind::burr;
  std::optional<EdgeSide> side;  ///< empty: on both, or it cannot be told
  double at_mm = 0;
  double size_um = 0;    ///< 0: not measured
  bool cleared = false;  ///< it was there and is gone
  std::string note;
  bool operator==(const SpotRecord&) const = default;
};

/// The section that this blade has, or is to have, from now on.
struct SectionRecord {
  SectionPlan plan;
  std::string note;
  bool operator==(const SectionRecord&) const = default;
};

/// A jig setting that worked.
struct SettingRecord {
  double angle_deg = 0;  ///< per side, at the held station
  double pivot_x_mm = 0, pivot_lateral_mm = 0, pivot_height_mm = 0, offset_mm = 0;
  double shift_mm = 0, turn_deg = 0;
  double range_deg = 0;  ///< over the edge, predicted
  std::string note;
  bool operator==(const SettingRecord&) const = default;
};

struct NoteRecord {
  std::string text;
  bool operator==(const NoteRecord&) const = default;
};

/// A sharpening as it was done.
struct SharpeningRecord {
  Sharpening sharpening;
  bool operator==(const SharpeningRecord&) const = default;
};

/// What the edge-condition key said of this edge.
struct ConditionRecord {
  std::string condition;  ///< the outcome's id; "" when it could not tell
  std::string name;       ///< in words
  double probability = 0;
  Observations evidence;  ///< what was seen: answer by question
  std::string run;        ///< the run it was looked at in; "" none
  std::optional<double> at_mm;
  std::string note;
  bool operator==(const ConditionRecord&) const = default;
};

using EdgeRecordData =
    std::variant<OutlineRecord, AngleRecord, ThicknessRecord, FindingRecord, SpotRecord,
                 SectionRecord, SettingRecord, NoteRecord, SharpeningRecord, ConditionRecord>;

/// One dated line of a blade's history.
struct EdgeRecord {
  std::int64_t id = 0;
  std::string made_at;  ///< UTC, ISO 8601
  EdgeRecordData data;
  bool operator==(const EdgeRecord&) const = default;
};

/// "angle, left, 40 mm from the heel: 15.2° ± 0.4° per side (marker test)".
std::string describe(const EdgeRecordData& data);

/// What a steel is; each absent value is not known.
struct SteelCard {
  std::string name;
  std::optional<double> hardness_hrc;
  std::optional<double> hard_phase_percent;  ///< volume share of the hard phase
  std::string behaviour;  ///< when deburred: "ductile", "between", "brittle"; "": not said
  std::string toughness;  ///< "tough", "middling", "brittle"; "": not said
  std::optional<double> bend_strength_MPa;
  std::string note;
  bool operator==(const SteelCard&) const = default;
};
struct MediumCard {
  std::string name;
  std::string form;  ///< "8 mm mat, 600 mm wide rolls"
  std::string note;
  bool operator==(const MediumCard&) const = default;
};

}  // namespace bq::inline trial
