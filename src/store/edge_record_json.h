#pragma once

#include <string>
#include <string_view>

#include "quantity/checked.h"
#include "trial/edge_record.h"

namespace bq::inline store {

/// The word a record is stored under: "outline", "angle", "thickness", "finding", "spot",
/// "section", "setting", "note".
std::string_view kind_of_record(const EdgeRecordData& data);
/// The record's content as JSON (docs/file-format.md).
std::string edge_record_json(const EdgeRecordData& data);
/// The inverse. Refused: an unknown kind, a field that is missing or out of range.
Checked<EdgeRecordData> parse_edge_record(std::string_view kind, std::string_view json);

}  // namespace bq::inline store
