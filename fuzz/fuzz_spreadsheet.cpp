// Parts of spreadsheets as anybody may have made them: read with rows in order and cells that are
// bounded, or refused with a sentence.
#include <cstdlib>

#include "store/any_table.h"
#include "store/archive.h"
#include "store/spreadsheet.h"

using namespace bq;

namespace {

constexpr const char* kRels =
    "<r><Relationship Id='d' Type='x/officeDocument' Target='xl/workbook.xml'/></r>";
constexpr const char* kBookRels =
    "<r><Relationship Id='s' Type='x/worksheet' Target='sheet.xml'/><Relationship Id='t' "
    "Type='x/sharedStrings' Target='strings.xml'/><Relationship Id='y' Type='x/styles' "
    "Target='styles.xml'/></r>";
constexpr const char* kBook =
    "<w xmlns:r='r'><workbookPr/><sheets><sheet name='S' r:id='s'/></sheets></w>";
constexpr const char* kSheet =
    "<w><sheetData><row r='1'><c r='A1' t='s'><v>0</v></c><c r='B1' s='1'><v>46082.5</v></c></row>"
    "</sheetData></w>";
constexpr const char* kStrings = "<sst><si><t>run</t></si></sst>";
constexpr const char* kStyles =
    "<st><numFmts><numFmt numFmtId='170' formatCode='yyyy-mm-dd'/></numFmts><cellXfs><xf "
    "numFmtId='0'/><xf numFmtId='170'/></cellXfs></st>";

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 1) return 0;
  const std::string text(reinterpret_cast<const char*>(data) + 1, size - 1);
  const int which = data[0] % 5;
  std::vector<ArchiveEntry> parts;
  if (which == 0)
    parts = {{"content.xml", text, false}};
  else
    parts = {{"_rels/.rels", kRels, false},
             {"xl/workbook.xml", which == 1 ? text : kBook, false},
             {"xl/_rels/workbook.xml.rels", kBookRels, false},
             {"xl/sheet.xml", which == 2 ? text : kSheet, false},
             {"xl/strings.xml", which == 3 ? text : kStrings, false},
             {"xl/styles.xml", which == 4 ? text : kStyles, false}};
  const auto archive = archive_of(parts);
  if (!archive) return 0;
  const auto sheets = read_spreadsheet(*archive);
  if (!sheets) {
    if (sheets.refusal().reason.empty()) std::abort();
    return 0;
  }
  for (const auto& sheet : *sheets) {
    std::uint64_t line = 0;
    for (const auto& row : sheet.grid.rows) {
      if (row.line <= line || row.cells.size() > kMostTableColumns) std::abort();
      line = row.line;
    }
  }
  (void)understand_table(*archive);
  return 0;
}
