#pragma once

#include "edge/edge_geometry.h"
#include "trial/trial.h"

namespace bq::inline rehearsal {

/// What a medium does to an edge, and how it is cut.
struct VirtualMedium {
  std::string name;
  CutMode cut_mode = CutMode::slice;
  double stroke_mm = 100;
  double wear_um2_per_m = 0.1;   ///< section area worn per metre of cut by wear factor 1
  double tooth_life_cuts = 400;  ///< e-folding cuts of the teeth
};

struct VirtualSteel {
  std::string name;
  double wear_factor = 1;  ///< multiplies the medium's wear
};

/// What the reading responds to.
struct VirtualGauge {
  Unit unit = Unit::gf;
  double resolution = 1;          ///< readings are rounded to this
  double gf_per_um = 100;         ///< gram-force per µm of effective apex width
  double slice_tooth_gain = 0.7;  ///< µm of effective width saved per µm of tooth when slicing
  double push_tooth_loss = 0.4;   ///< µm added per µm of tooth when pushing
};

/// SDs of ln: the wear of a run, of a blade and of a block (all its runs alike), the scatter of a
/// checkpoint, of a reading.
struct VirtualScatter {
  double run_sd = 0.12;
  double blade_sd = 0;
  double block_sd = 0;
  double checkpoint_sd = 0.03;
  double reading_sd = 0.05;
};

/// The edge of DOMAIN §12 as far as readings go: apex width worn by area, teeth from the finish and
/// a residual burr, both decaying. Deterministic; scatter is added by the virtual bench.
class VirtualBlade {
 public:
  struct Start {
    EdgeGeometry geometry;
    Finish finish;
    double wear_factor = 1;       ///< steel × run scatter
    double residual_burr_um = 0;  ///< effective width the burr hides while it stands
    double burr_life_cuts = 12;
  };
  VirtualBlade(const Start& start, const VirtualMedium& medium, const VirtualGauge& gauge);

  /// Fresh apex width (µm) of a finish: 0.8·(particle size)^0.2, at least 0.3.
  static double fresh_width_um(double finish_um);
  /// Tooth height (µm) of a finish: 0.25·(particle size)^0.6.
  static double tooth_um(double finish_um);

  [[nodiscard]] double apex_width_um(double cuts) const;
  /// Reading without scatter (gf) after so many cuts.
  [[nodiscard]] double reading_gf(double cuts) const;
  /// Cuts until reading_gf reaches a threshold; the truth a trial tries to find. Empty beyond
  /// `limit`.
  [[nodiscard]] std::optional<double> true_life(double threshold_gf, double limit) const;

 private:
  Start start_;
  VirtualMedium medium_;
  VirtualGauge gauge_;
};

}  // namespace bq::inline rehearsal
