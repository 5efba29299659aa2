#include "store/rule_file.h"

#include "store/rule_records.h"

namespace bq::inline store {

Checked<EvidenceKey> parse_rule_file(std::string_view json) {
  return read_json<EvidenceKey>(json, read_record<EvidenceKey>);
}

}  // namespace bq::inline store
