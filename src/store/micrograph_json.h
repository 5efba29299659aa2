#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "quantity/checked.h"
#include "trial/micrograph.h"

namespace bq::inline store {

/// Facts and measures of a picture as they stand in the project file (docs/file-format.md), and
/// back; without its id. Refused with the field's path.
std::string micrograph_json(const Micrograph& micrograph);
Checked<Micrograph> parse_micrograph(std::string_view json);

/// Scales of magnifications, kept as a setting.
inline constexpr const char* kScalesKey = "lens-scales";
std::string scales_json(const std::vector<MagnificationScale>& scales);
Checked<std::vector<MagnificationScale>> parse_scales(std::string_view json);

}  // namespace bq::inline store
