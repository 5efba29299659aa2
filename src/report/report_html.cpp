// The trial's report as one HTML page.
#include <cctype>

#include "quantity/xml_text.h"
#include "report/trial_report.h"

namespace bq::inline report {
namespace {

std::string list(const std::vector<std::string>& lines) {
  if (lines.empty()) return "";
  std::string out = "<ul>";
  for (const auto& line : lines) out += "<li>" + xml_text(line) + "</li>\n";
  return out + "</ul>\n";
}

std::string table(const AnswerTable& table) {
  if (table.rows.empty()) return "";
  std::string out = "<table><thead><tr>";
  for (const auto& head : table.heads) out += "<th>" + xml_text(head) + "</th>";
  out += "</tr></thead>\n<tbody>\n";
  for (const auto& row : table.rows) {
    out += "<tr>";
    for (const auto& cell : row) {
      const bool number = !cell.empty() && (std::isdigit(static_cast<unsigned char>(cell[0])) ||
                                            cell.starts_with("−") || cell.starts_with("+"));
      out += (number ? "<td class=\"n\">" : "<td>") + xml_text(cell) + "</td>";
    }
    out += "</tr>\n";
  }
  return out + "</tbody></table>\n";
}

/// For whoever ordered the trial; a page of its own where it is printed.
std::string first_page(const TrialReport& report) {
  const FirstPage& first = report.first;
  std::string out =
      "<section class=\"first\">\n<p class=\"verdict\">" + xml_text(report.verdict) + "</p>\n";
  if (first.edge) out += svg_of(*first.edge);
  if (!first.make.empty()) {
    out += "<dl>\n";
    for (const auto& [label, value] : first.make)
      out += "<dt>" + xml_text(label) + "</dt><dd>" + xml_text(value) + "</dd>\n";
    out += "</dl>\n";
  }
  for (const auto& [heading, lines] : first.lists())
    out += "<h3>" + heading + "</h3>\n" + list(lines);
  for (const auto& caution : report.cautions)
    out += "<p class=\"caution\">" + xml_text(caution) + "</p>\n";
  return out + "</section>\n";
}

constexpr const char* kStyle =
    "body{font:13px/1.5 "
    "B612,sans-serif;color:#23282d;background:#fbf8f2;max-width:190mm;margin:10mm auto;padding:0 "
    "5mm;font-variant-numeric:tabular-nums}"
    "h1{font-size:24px;margin:0}h2{font-size:17px;margin:22px 0 4px;border-top:1px solid "
    "#c9c2b4;padding-top:10px}h3{font-size:13px;margin:10px 0 2px}"
    ".verdict{font-size:20px;font-weight:bold;margin:12px 0 "
    "6px}.quiet{color:#4c5156}.q{color:#4c5156;margin:22px 0 0;border-top:1px solid "
    "#c9c2b4;padding-top:10px}"
    ".answer{font-size:16px;font-weight:bold;margin:2px 0 "
    "6px}table{border-collapse:collapse;margin:8px "
    "0;font-size:12px}th{text-align:left;color:#4c5156;font-weight:normal;"
    "border-bottom:1px solid #c9c2b4;padding:3px 10px 3px 0}td{padding:2px 10px 2px "
    "0;vertical-align:top}td.n{text-align:right}svg{max-width:100%;height:auto}"
    "dl{display:grid;grid-template-columns:max-content auto;gap:2px "
    "14px;margin:8px 0}dt{color:#4c5156}dd{margin:0}.first{break-after:page}"
    "ul{margin:4px 0;padding-left:6mm}p{margin:4px 0}.caution{border-left:3px solid "
    "#a3341f;padding-left:3mm}a{color:#1d5b9c}@media print{body{background:#fff;margin:0}}";

}  // namespace

std::string report_html(const TrialReport& report) {
  std::string out =
      "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>Trial report: " +
      xml_text(report.title) + "</title>\n<style>" + kStyle + "</style></head>\n<body>\n<h1>" +
      xml_text(report.title) + "</h1>\n<p class=\"quiet\">Trial report" +
      (report.date.empty() ? "" : ", " + xml_text(report.date)) + ". " + xml_text(report.work) +
      "</p>\n" + first_page(report) + "<h2>In detail</h2>\n" + list(report.reasons);
  if (report.trade_off) out += svg_of(*report.trade_off);
  if (!report.ranking.rows.empty())
    out += "<h2>Edges that pass the limits</h2>\n<p class=\"quiet\">" + xml_text(report.rule) +
           "</p>\n" + table(report.ranking);
  if (!report.sensitivity.empty())
    out += "<h2>What would change it</h2>\n" + list(report.sensitivity);
  if (!report.schools.empty()) {
    out += "<h2>Where practitioners disagree</h2>\n";
    for (const auto& [matter, sentences] : report.schools) {
      out += "<h3>" + xml_text(matter) + "</h3>\n";
      for (const auto& sentence : sentences) out += "<p>" + xml_text(sentence) + "</p>\n";
    }
  }
  for (const auto& part : report.parts) {
    out += "<p class=\"q\">" + xml_text(part.question) + "</p>\n<p class=\"answer\">" +
           xml_text(part.sentence) + "</p>\n";
    for (const auto& remark : part.remarks) out += "<p>" + xml_text(remark) + "</p>\n";
    if (part.picture) out += svg_of(*part.picture);
    out += table(part.table);
    if (!part.computed.empty())
      out += "<details><summary>How was this computed?</summary><p class=\"quiet\">" +
             xml_text(part.computed) + "</p></details>\n";
  }
  if (!report.micrographs.empty()) {
    out += "<h2>Pictures of the edges</h2>\n";
    for (const auto& [drawing, caption] : report.micrographs)
      out += "<figure>" + svg_of(drawing) + "<figcaption class=\"quiet\">" + xml_text(caption) +
             "</figcaption></figure>\n";
    if (!report.micrographs_note.empty())
      out += "<p class=\"quiet\">" + xml_text(report.micrographs_note) + "</p>\n";
  }
  out += "<h2>Methods and uncertainty</h2>\n";
  for (const auto& line : report.methods) out += "<p>" + xml_text(line) + "</p>\n";
  if (!report.csv.empty())
    out += "<p><a download=\"" + xml_text(report.csv_name) +
           "\" href=\"data:text/csv;charset=utf-8;base64," + base64(report.csv) +
           "\">All readings as a table (CSV)</a></p>\n";
  return out + "</body></html>\n";
}

}  // namespace bq::inline report
