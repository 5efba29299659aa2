#pragma once

#include "output.h"
#include "trial/micrograph.h"

/// Puts a measure's "um", "plus_minus_um" and "depth_um" or "direction_deg"; nothing without a
/// scale.
void put_value(Json& out, const bq::LensMeasure& measure,
               const std::optional<bq::PictureScale>& scale);
