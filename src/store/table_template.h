#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace bq::inline store {

/// Tables to be filled in by hand.
enum class TemplateKind { readings, run_per_row, blades, stones, pairs, gauge, strokes };
inline constexpr TemplateKind kTemplateKinds[] = {
    TemplateKind::readings, TemplateKind::run_per_row, TemplateKind::blades, TemplateKind::stones,
    TemplateKind::pairs,    TemplateKind::gauge,       TemplateKind::strokes};
/// "readings", "run-per-row", "blades", "stones", "pairs", "gauge", "strokes".
std::string_view name_of(TemplateKind kind);
std::optional<TemplateKind> parse_template_kind(std::string_view text);

/// Two lines of notes, the heads, and an example row that is left out when the table comes in.
std::vector<std::vector<std::string>> template_rows(TemplateKind kind);

/// Rows as CSV (RFC 4180) and as an OpenDocument spreadsheet (.ods); figures are numbers there.
std::string csv_of(const std::vector<std::vector<std::string>>& rows);
std::string ods_of(const std::vector<std::vector<std::string>>& rows, const std::string& sheet);

}  // namespace bq::inline store
