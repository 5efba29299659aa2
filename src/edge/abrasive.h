#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline edge {

enum class AbrasiveKind { bench_stone, diamond_plate, film, belt, wheel, rod, strop };
inline constexpr int kAbrasiveKinds = 7;
std::string_view name_of(AbrasiveKind kind);
std::optional<AbrasiveKind> parse_abrasive_kind(std::string_view text);
/// Kinds whose face wears hollow and is to be kept flat.
bool has_flat_face(AbrasiveKind kind);
/// Kinds that a machine drives: their cautions differ.
bool is_powered(AbrasiveKind kind);

/// What a steel asks of an abrasive, by its hard phase: below 3 % plain, to 8 % alloyed, above
/// hard. The bounds are round figures of this program.
enum class CuttingClass { plain, alloyed, hard_phase };
std::string_view name_of(CuttingClass cutting_class);
/// Plain where the hard phase is not known.
CuttingClass cutting_class_of(std::optional<double> hard_phase_percent);

/// How an abrasive takes a class: at its rate, at 0.4 of it, or practically not (0.05): an abrasive
/// softer than the hard phase wears round instead of cutting. The two factors are round figures of
/// this program.
enum class Bite { well, slowly, hardly };
std::string_view name_of(Bite bite);
std::optional<Bite> parse_bite(std::string_view text);
double rate_factor(Bite bite);

/// One look at a stone's face with a straight edge.
struct FlatnessEntry {
  std::string date;         ///< ISO 8601 day
  double deviation_um = 0;  ///< hollow in the middle (sagitta), >= 0
  double over_mm = 0;       ///< length of the straight edge's span; 0: the stone's own length
  bool flattened = false;   ///< it was made flat after this look
  std::string note;
  bool operator==(const FlatnessEntry&) const = default;
};

/// An abrasive of the shelf. Absent values are not known. Sizes in µm of particle.
struct Abrasive {
  std::string name;
  AbrasiveKind kind = AbrasiveKind::bench_stone;
  std::string label;                  ///< "P400", "JIS 1000"; "" without one
  std::optional<double> measured_um;  ///< wins over the label
  std::optional<double> rate_mm3_per_min;
  std::string rate_pressure;  ///< at which pressure the rate holds, in words
  std::array<Bite, 3> bites{Bite::well, Bite::well, Bite::well};  ///< by CuttingClass
  double length_mm = 200;
  std::vector<FlatnessEntry> flatness;  ///< oldest first
  double flat_within_um = 30;           ///< flatten before use above this
  int check_every_blades = 10;          ///< look at the face again after so many blades
  int blades_since_check = 0;
  double soak_min = 0;
  std::optional<double> price;      ///< of a new one, in the bench's own money
  std::optional<double> usable_mm;  ///< height that can be worn away
  std::optional<double> wear_um_per_blade;
  int break_in_blades = 0;  ///< still to be broken in for so many blades
  bool loaded = false;      ///< clogged: dress it
  bool streaks = false;     ///< leaves single deep scratches
  std::string mess;         ///< in words
  // Strops.
  std::optional<double> substrate_mm, substrate_MPa;  ///< thickness and modulus of what lies under
  int blades_since_upkeep = 0;                        ///< since it was cleaned and dressed again
  bool blackened = false;
  std::string note;
  bool retired = false;
  bool operator==(const Abrasive&) const = default;
};

/// Refused: no name, a label that is no designation, values out of range. Nothing else is half
/// valid.
std::optional<Refusal> fault_of(const Abrasive& abrasive);

/// Effective particle size (µm): the measured one, else the label's mean; empty without both.
std::optional<double> size_um(const Abrasive& abrasive);
/// "6.2 µm measured (label JIS 2000: 6.7 µm)".
std::string print_size(const Abrasive& abrasive);

/// Rate (mm³/min) on a class. Where none was entered 0.08 mm³/min for every µm of size is taken
/// (estimate, a round figure of this program for work by hand) and `estimated` is set.
struct Rate {
  double mm3_per_min = 0;
  bool estimated = false;
};
std::optional<Rate> rate_on(const Abrasive& abrasive, CuttingClass cutting_class);

/// The abrasive that takes most metal in a minute from steel of a class; `fits` says which kinds
/// come into question. Retired ones and strops are left out; empty without a rate on any.
struct Quickest {
  const Abrasive* abrasive = nullptr;
  Rate rate;
};
template <class Fits>
std::optional<Quickest> quickest_of(const std::vector<Abrasive>& shelf, CuttingClass cutting_class,
                                    const Fits& fits) {
  std::optional<Quickest> best;
  for (const auto& abrasive : shelf) {
    if (abrasive.retired || abrasive.kind == AbrasiveKind::strop || !fits(abrasive.kind)) continue;
    const auto rate = rate_on(abrasive, cutting_class);
    if (rate && (!best || rate->mm3_per_min > best->rate.mm3_per_min))
      best = Quickest{&abrasive, *rate};
  }
  return best;
}

/// A hollow that turns the contact by no more asks for nothing, whatever its depth: no hand and few
/// jigs hold an angle closer (a round figure of this program).
inline constexpr double kTurnThatMatters_deg = 0.1;
/// The face at its last look. A hollow of sagitta s over length C turns the contact at its ends by
/// atan(4·s/C).
struct FaceState {
  bool known = false;
  double deviation_um = 0;
  double turn_deg = 0;  ///< largest, at the ends
  bool flatten_first = false;
  std::string sentence;  ///< "flatten before use: 160 µm hollow over 200 mm turns the contact …"
};
FaceState face_state(const Abrasive& abrasive);

/// What is to be done or known before this abrasive touches a blade of the class; in the order of
/// the work.
std::vector<std::string> before_use(const Abrasive& abrasive, CuttingClass cutting_class);

/// Price of one blade's wear; empty without price, usable height and wear.
std::optional<double> wear_price_per_blade(const Abrasive& abrasive);

struct ShelfRules {
  double too_far = 3.5;     ///< neighbouring sizes with a larger ratio skip too far
  double redundant = 1.25;  ///< with a smaller one they do the same work
};
enum class ShelfRemarkKind { too_far, redundant, unknown_size };
struct ShelfRemark {
  ShelfRemarkKind kind = ShelfRemarkKind::too_far;
  std::string coarse, fine;  ///< names; `fine` is empty for unknown_size
  double ratio = 0;
  std::string sentence;
};
/// Sizes of neighbours compared, retired and strops left out; coarse first.
std::vector<ShelfRemark> shelf_remarks(const std::vector<Abrasive>& shelf,
                                       const ShelfRules& rules = {});

}  // namespace bq::inline edge
