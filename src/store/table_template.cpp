#include "store/table_template.h"

#include "quantity/csv_cell.h"
#include "quantity/number.h"
#include "quantity/xml_text.h"
#include "store/archive.h"

namespace bq::inline store {
namespace {

constexpr const char* kFillIn =
    "Fill in below the heads; the example row is left out when the table comes in. Columns that "
    "are "
    "not needed may be deleted, others added.";

}  // namespace

std::string_view name_of(TemplateKind kind) {
  switch (kind) {
    case TemplateKind::readings:
      return "readings";
    case TemplateKind::run_per_row:
      return "run-per-row";
    case TemplateKind::blades:
      return "blades";
    case TemplateKind::stones:
      return "stones";
    case TemplateKind::pairs:
      return "pairs";
    case TemplateKind::gauge:
      return "gauge";
    case TemplateKind::strokes:
      return "strokes";
  }
  return "";
}

std::optional<TemplateKind> parse_template_kind(std::string_view text) {
  for (const TemplateKind kind : kTemplateKinds)
    if (text == name_of(kind)) return kind;
  return std::nullopt;
}

std::vector<std::vector<std::string>> template_rows(TemplateKind kind) {
  switch (kind) {
    case TemplateKind::readings:
      return {{kFillIn},
              {"Cuts are those made so far in the run; the angle is per side; the finish is a grit "
               "(P1000) or a size in µm."},
              {"run", "blade", "steel", "edge angle (per side)", "finish", "medium", "cut mode",
               "operator", "cuts", "reading (gf)"},
              {"example", "K1", "Fenland Plain", "15", "P1000", "coir mat", "slice", "operator A",
               "0", "112"}};
    case TemplateKind::run_per_row:
      return {
          {kFillIn},
          {"One row a run; a head is a count of cuts, under it the reading there. A run that was "
           "stopped leaves the rest empty."},
          {"run", "blade", "steel", "edge angle (per side)", "finish", "medium", "0 cuts",
           "50 cuts", "100 cuts", "200 cuts", "500 cuts"},
          {"example", "K1", "Fenland Plain", "15", "P1000", "coir mat", "112 gf", "131 gf",
           "148 gf", "190 gf", ""}};
    case TemplateKind::blades:
      return {{kFillIn},
              {"One row a blade."},
              {"blade", "steel", "note"},
              {"example", "Fenland Plain", "trim knife, 200 mm"}};
    case TemplateKind::stones:
      return {
          {kFillIn},
          {"Kind: bench stone, diamond plate, film, belt, wheel, rod or strop. Grit with its "
           "standard (P400, F220, JIS 1000), or the size in µm. Rate in mm³ a minute."},
          {"stone", "kind", "grit", "size (µm)", "rate (mm³/min)", "length (mm)", "price", "note"},
          {"example", "bench stone", "JIS 1000", "", "1.1", "200", "", "soak 10 minutes"}};
    case TemplateKind::pairs:
      return {
          {kFillIn},
          {"One row a marked place: the reading after the first treatment and after the second, "
           "on the same blade."},
          {"blade", "place", "before (gf)", "after (gf)"},
          {"example", "heel", "131", "118"}};
    case TemplateKind::gauge:
      return {{kFillIn},
              {"Every operator reads every part as many times, two at least; a part is one place "
               "of one edge, or a reference."},
              {"part", "operator", "repeat", "reading (gf)"},
              {"example", "operator A", "1", "131"}};
    case TemplateKind::strokes:
      return {{kFillIn},
              {"One row a sample, evenly spaced in time, with the force before and after the cut; "
               "the run is in the project."},
              {"run", "cuts", "stroke", "time (s)", "force (N)"},
              {"example", "100", "1", "0.000", "0.02"}};
  }
  return {};
}

std::string csv_of(const std::vector<std::vector<std::string>>& rows) {
  std::string out;
  for (const auto& row : rows) {
    std::string line;
    for (std::size_t i = 0; i < row.size(); ++i) line += (i > 0 ? "," : "") + csv_cell(row[i]);
    out += line + "\n";
  }
  return out;
}

std::string ods_of(const std::vector<std::vector<std::string>>& rows, const std::string& sheet) {
  constexpr const char* kType = "application/vnd.oasis.opendocument.spreadsheet";
  std::string content =
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<office:document-content "
      "xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\" "
      "xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\" "
      "xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\" office:version=\"1.3\">"
      "<office:body><office:spreadsheet><table:table table:name=\"" +
      xml_text(sheet) + "\">";
  for (const auto& row : rows) {
    content += "<table:table-row>";
    for (const auto& cell : row) {
      const auto number = parse_number(cell, CommaRule::never);
      if (cell.empty())
        content += "<table:table-cell/>";
      else if (number && cell.find_first_not_of("0123456789.-") == std::string::npos)
        content += "<table:table-cell office:value-type=\"float\" office:value=\"" + cell +
                   "\"><text:p>" + cell + "</text:p></table:table-cell>";
      else
        content += "<table:table-cell office:value-type=\"string\"><text:p>" + xml_text(cell) +
                   "</text:p></table:table-cell>";
    }
    content += "</table:table-row>";
  }
  content += "</table:table></office:spreadsheet></office:body></office:document-content>\n";
  const std::string manifest =
      std::string(
          "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<manifest:manifest "
          "xmlns:manifest=\"urn:oasis:names:tc:opendocument:xmlns:manifest:1.0\" "
          "manifest:version=\"1.3\"><manifest:file-entry manifest:full-path=\"/\" "
          "manifest:media-type=\"") +
      kType +
      "\"/><manifest:file-entry manifest:full-path=\"content.xml\" "
      "manifest:media-type=\"text/xml\"/></manifest:manifest>\n";
  const auto out = archive_of({{"mimetype", kType, false},
                               {"META-INF/manifest.xml", manifest, true},
                               {"content.xml", content, true}});
  return out ? *out : std::string();
}

}  // namespace bq::inline store
