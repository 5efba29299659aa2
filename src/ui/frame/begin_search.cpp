#include "ui/frame/begin_search.h"

#include "ui/frame/workbench.h"
#include "ui/parts/words.h"

namespace bq::ui {

bool begin_damage_search(Workbench& workbench, DamageSearch search) {
  for (const auto& blade : workbench.trial().blades)
    if (search.blade.empty() && !blade.retired && blade.steel == search.steel)
      search.blade = blade.name;
  BenchSession session;
  session.data = search;
  if (!workbench.edit(
          [&](ProjectSession& s) { s.set_bench_session(session, "beginning a damage search"); }))
    return false;
  emit workbench.told(
      search.blade.empty()
          ? Workbench::tr("The search \"%1\" is on the Bench, under Damage search. It has no blade "
                          "yet.")
                .arg(text_of(search.name))
          : Workbench::tr("The search \"%1\" with %2 is on the Bench, under Damage search.")
                .arg(text_of(search.name), text_of(search.blade)));
  emit workbench.station_wanted(Station::bench);
  return true;
}

}  // namespace bq::ui
