#include "store/edge_record_json.h"

#include <array>

#include "quantity/said.h"
#include "store/section_records.h"
#include "store/shelf_records.h"
#include "trial/edge_record_fields.h"

namespace bq::inline store {
namespace {

constexpr std::array<std::string_view, 10> kRecordKinds{
    "outline", "angle",   "thickness", "finding",    "spot",
    "section", "setting", "note",      "sharpening", "condition"};

}  // namespace

template <>
struct JsonValue<OutlinePoint> : JsonPair<OutlinePoint, &OutlinePoint::x_mm, &OutlinePoint::y_mm> {
};

std::string_view kind_of_record(const EdgeRecordData& data) { return kRecordKinds[data.index()]; }

std::string edge_record_json(const EdgeRecordData& data) {
  // Bytes that are no UTF-8 can only come from a damaged file; they are shown as such, not thrown
  // at.
  return compact_text(std::visit([](const auto& record) { return record_json(record); }, data));
}

Checked<EdgeRecordData> parse_edge_record(std::string_view kind, std::string_view json) {
  return read_json<EdgeRecordData>(json, [&](const JsonFields& f) -> Checked<EdgeRecordData> {
    if (const auto record = read_one_of<EdgeRecordData>(kRecordKinds, kind, f)) return *record;
    return Refusal{said("a record of kind \"{kind}\" is not known to this version",
                        {{"kind", std::string(kind)}})};
  });
}

}  // namespace bq::inline store
