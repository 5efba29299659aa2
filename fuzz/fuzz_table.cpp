// Tables as people keep them: understood or not, without a fault; what is understood is a tidy
// table that the strict reader takes or refuses with a place, and a map comes back as it was.
#include <cstdlib>
#include <sstream>

#include "store/any_table.h"
#include "store/list_table.h"
#include "store/readings_table.h"

using namespace bq;

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 1) return 0;
  const std::string_view text(reinterpret_cast<const char*>(data) + 1, size - 1);
  if (const auto map = parse_table_map(text))
    if (!(*parse_table_map(table_map_text(*map)) == *map)) std::abort();
  TableMap map;
  if (data[0] & 1) map.unit = "gf";
  if (data[0] & 2) map.angles = "inclusive";
  if (data[0] & 4) map.decimal = ",";
  if (data[0] & 8) map.grit = "JIS";
  // As a list too: it is read, asks, or has faults with their place.
  if (const auto grid = read_grid(text))
    for (const ListKind kind : {ListKind::blades, ListKind::stones, ListKind::pairs}) {
      const ListTable list = understand_list(*grid, kind, map);
      if (list.blades.empty() && list.stones.empty() && !list.pairs && list.faults.empty() &&
          list.questions.empty())
        std::abort();
    }
  const AnyTable table = understand_table(text, map);
  if (table.tidy.empty()) {
    if (table.faults.empty() && table.questions.empty()) std::abort();
    return 0;
  }
  if (!table.questions.empty() || !table.faults.empty()) std::abort();
  ReadingsTableReader reader;
  std::istringstream tidy(table.tidy);
  reader.read(tidy, "t");
  const TableResult result = reader.finish();
  if (result.ok() && std::int64_t(result.trial.reading_count()) != table.readings) std::abort();
  return 0;
}
