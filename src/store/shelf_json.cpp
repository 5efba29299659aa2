#include "store/shelf_json.h"

#include "store/shelf_records.h"

namespace bq::inline store {

std::string abrasive_json(const Abrasive& a) { return compact_text(record_json(a)); }

Checked<Abrasive> parse_abrasive(std::string_view json) {
  return read_json<Abrasive>(json, read_record<Abrasive>);
}

std::string sharpening_json(const Sharpening& s) { return compact_text(record_json(s)); }

Checked<Sharpening> parse_sharpening(std::string_view json) {
  return read_json<Sharpening>(json, read_record<Sharpening>);
}

std::string comparison_json(const Comparison& c) { return compact_text(record_json(c)); }

Checked<Comparison> parse_comparison(std::string_view json) {
  return read_json<Comparison>(json, read_record<Comparison>);
}

}  // namespace bq::inline store
