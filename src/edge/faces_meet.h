#pragma once

#include <vector>

#include "edge/surface_piece.h"

namespace bq::inline edge {

/// True when the two faces meet somewhere above the apex at `bottom_mm` (only hollow faces can);
/// heights along h.
bool faces_meet(const std::vector<SurfacePiece>& left, const std::vector<SurfacePiece>& right,
                double bottom_mm);

}  // namespace bq::inline edge
