#pragma once

#include <string>
#include <string_view>

#include "edge/abrasive.h"
#include "quantity/checked.h"
#include "trial/comparison.h"
#include "trial/sharpening.h"

namespace bq::inline store {

/// An abrasive, a sharpening or a comparison as they stand in the project file
/// (docs/file-format.md), and back. Reading refuses what is out of range with the field's path;
/// fields nobody knows are left alone.
std::string abrasive_json(const Abrasive& abrasive);
Checked<Abrasive> parse_abrasive(std::string_view json);
std::string sharpening_json(const Sharpening& sharpening);
Checked<Sharpening> parse_sharpening(std::string_view json);
std::string comparison_json(const Comparison& comparison);
Checked<Comparison> parse_comparison(std::string_view json);

}  // namespace bq::inline store
