// What each kind of record is on the disk and in memory.
#include "workflow/act_records.h"

#include <algorithm>

#include "quantity/said.h"
#include "workflow/project_state.h"
#include "workflow/put_in_order.h"
#include "workflow/rows_by_id.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {
namespace {

template <class Row>
void put_row(std::vector<Row>& rows, const Row& row) {
  const auto place = place_of(rows, row.id);
  if (place != rows.end() && place->id == row.id)
    *place = row;
  else
    rows.insert(place, row);
}

template <class Row>
void take_row(std::vector<Row>& rows, std::int64_t id) {
  const auto place = place_of(rows, id);
  if (place != rows.end() && place->id == id) rows.erase(place);
}

/// Puts what is now, or takes out what was.
template <class Row>
void bring(std::vector<Row>& rows, const Row* was, const Row* now) {
  if (now)
    put_row(rows, *now);
  else
    take_row(rows, was->id);
}

template <class Card>
void bring_card(std::vector<Card>& cards, const std::optional<Card>& was,
                const std::optional<Card>& now) {
  if (now)
    put_in_order(cards, *now);
  else
    std::erase_if(cards, [&](const Card& card) { return card.name == was->name; });
}

/// A card that the file keeps by its name.
template <class Card>
void write_card(ProjectFile& file, const std::optional<Card>& was, const std::optional<Card>& now,
                void (ProjectFile::*set)(const Card&),
                void (ProjectFile::*remove)(const std::string&)) {
  if (now)
    (file.*set)(*now);
  else
    (file.*remove)(was->name);
}

template <class Record, class Member>
auto* part_of(std::optional<Record>& record, Member Record::* member) {
  return record ? &((*record).*member) : nullptr;
}

void write(ProjectState& s, std::optional<KeptText>&, std::optional<KeptText>& now) {
  s.file.set_setting(now->key, now->value);
}
void remember(ProjectState& s, std::optional<KeptText>&, std::optional<KeptText>& now) {
  s.kept[now->key] = now->value;
}

void write(ProjectState& s, std::optional<RunEvent>& was, std::optional<RunEvent>& now) {
  if (now)
    s.file.put_event(now->run_id, now->event);
  else
    s.file.remove_event(was->event.id);
}
void remember(ProjectState& s, std::optional<RunEvent>& was, std::optional<RunEvent>& now) {
  const std::int64_t run = (now ? now : was)->run_id;
  bring(run ? s.trial.runs[s.run_index(run)].events : s.trial.gauge_checks,
        part_of(was, &RunEvent::event), part_of(now, &RunEvent::event));
}

void write(ProjectState& s, std::optional<RunReading>& was, std::optional<RunReading>& now) {
  if (now)
    s.file.put_reading(now->run_id, now->reading, s.trial.labels);
  else
    s.file.remove_reading(was->reading.id);
}
void remember(ProjectState& s, std::optional<RunReading>& was, std::optional<RunReading>& now) {
  const std::size_t at = s.run_index((now ? now : was)->run_id);
  Run& run = s.trial.runs[at];
  bring(run.readings, part_of(was, &RunReading::reading), part_of(now, &RunReading::reading));
  if (now) run.cuts_done = std::max(run.cuts_done, now->reading.cuts);
  s.touch(at);
}

void write(ProjectState& s, std::optional<ReadingMark>&, std::optional<ReadingMark>& now) {
  s.file.mark_reading(now->reading, now->excluded, s.trial.labels.text(now->reason));
}
void remember(ProjectState& s, std::optional<ReadingMark>&, std::optional<ReadingMark>& now) {
  const std::size_t at = s.run_index(now->run_id);
  Reading& reading = *place_of(s.trial.runs[at].readings, now->reading);
  reading.excluded = now->excluded;
  reading.reason = now->reason;
  s.touch(at);
}

void write(ProjectState& s, std::optional<RunCuts>&, std::optional<RunCuts>& now) {
  s.file.set_cuts(now->run_id, now->cuts_done);
}
void remember(ProjectState& s, std::optional<RunCuts>&, std::optional<RunCuts>& now) {
  s.trial.runs[s.run_index(now->run_id)].cuts_done = now->cuts_done;
}

void write(ProjectState& s, std::optional<RunHead>&, std::optional<RunHead>& now) {
  s.file.update_run(now->run_id, now->facts, now->plan);
}
void remember(ProjectState& s, std::optional<RunHead>&, std::optional<RunHead>& now) {
  const std::size_t at = s.run_index(now->run_id);
  s.trial.runs[at].facts = now->facts;
  s.trial.runs[at].plan = now->plan;
  s.touch(at);
}

void write(ProjectState& s, std::optional<RunSteel>&, std::optional<RunSteel>& now) {
  s.file.set_run_steel(now->run_id, now->steel);
}
void remember(ProjectState& s, std::optional<RunSteel>&, std::optional<RunSteel>& now) {
  const std::size_t at = s.run_index(now->run_id);
  s.trial.runs[at].facts.steel = now->steel;
  s.touch(at);
}

void write(ProjectState& s, std::optional<Run>& was, std::optional<Run>& now) {
  if (now)
    now->id = s.file.add_run(*now);
  else
    s.file.remove_run(was->id);
}
void remember(ProjectState& s, std::optional<Run>& was, std::optional<Run>& now) {
  if (now)
    s.insert_run(*now);
  else
    s.erase_run(was->id);
}

void write(ProjectState& s, std::optional<BladeHead>& was, std::optional<BladeHead>& now) {
  if (!now)
    s.file.remove_blade(was->blade.id);
  else if (was)
    s.file.update_blade(now->blade);
  else
    now->blade = s.file.add_blade(now->blade);
}
void remember(ProjectState& s, std::optional<BladeHead>& was, std::optional<BladeHead>& now) {
  if (!now) return take_row(s.trial.blades, was->blade.id);
  if (!was) return put_row(s.trial.blades, now->blade);
  Blade& blade = s.trial.blades[s.blade_index(now->blade.id)];
  auto records = std::move(blade.records);
  blade = now->blade;
  blade.records = std::move(records);
  if (was->blade.name == blade.name) return;
  for (auto& run : s.trial.runs)  // they hold on to the blade, not to its name
    if (run.facts.blade == was->blade.name) run.facts.blade = blade.name;
}

void write(ProjectState& s, std::optional<BladeLine>& was, std::optional<BladeLine>& now) {
  if (!now)
    s.file.remove_edge_records({was->record});
  else if (was)
    s.file.change_edge_record(now->record);
  else
    now->record = s.file.add_edge_records(now->blade_id, {now->record}).front();
}
void remember(ProjectState& s, std::optional<BladeLine>& was, std::optional<BladeLine>& now) {
  bring(s.trial.blades[s.blade_index((now ? now : was)->blade_id)].records,
        part_of(was, &BladeLine::record), part_of(now, &BladeLine::record));
}

void write(ProjectState& s, std::optional<MicrographFacts>& was,
           std::optional<MicrographFacts>& now) {
  if (now && was) return s.file.set_micrograph(now->micrograph);
  if (now) return s.file.add_micrograph(now->micrograph, now->thumbnail);
  was->thumbnail = s.file.thumbnail(was->micrograph.id);  // may have been made since
  s.file.remove_micrograph(was->micrograph.id);
}
void remember(ProjectState& s, std::optional<MicrographFacts>& was,
              std::optional<MicrographFacts>& now) {
  bring(s.trial.micrographs, part_of(was, &MicrographFacts::micrograph),
        part_of(now, &MicrographFacts::micrograph));
}

void write(ProjectState& s, std::optional<MagnificationScales>&,
           std::optional<MagnificationScales>& now) {
  s.file.set_scales(now->all);
}
void remember(ProjectState& s, std::optional<MagnificationScales>&,
              std::optional<MagnificationScales>& now) {
  s.trial.scales = now->all;
}

void write(ProjectState& s, std::optional<StrokeSamples>& was, std::optional<StrokeSamples>& now) {
  if (now) {
    s.file.put_stroke(now->run_id, *now->stroke);
    now->id = now->stroke->id;
    return;
  }
  was->stroke = s.file.stroke(was->id);
  if (!was->stroke)
    refuse(
        said("The samples of the stroke cannot be read, so it is left where it is. Nothing was "
             "changed."));
  s.file.remove_stroke(was->id);
}
void remember(ProjectState&, std::optional<StrokeSamples>&, std::optional<StrokeSamples>&) {}

void write(ProjectState& s, std::optional<PictureBytes>& was, std::optional<PictureBytes>& now) {
  if (now) {
    s.file.put_picture(*now->file);
    now->id = now->file->id;
    return;
  }
  was->file = s.file.picture(was->id);
  if (!was->file)
    refuse(
        said("The picture's file cannot be read, so it is left where it is. Nothing was changed."));
  s.file.remove_picture(was->id);
}
void remember(ProjectState&, std::optional<PictureBytes>&, std::optional<PictureBytes>&) {}

void write(ProjectState& s, std::optional<BenchSession>& was, std::optional<BenchSession>& now) {
  if (now)
    *now = s.file.set_bench_session(*now);
  else
    s.file.remove_bench_session(was->id);
}
void remember(ProjectState& s, std::optional<BenchSession>& was, std::optional<BenchSession>& now) {
  bring(s.sessions, was ? &*was : nullptr, now ? &*now : nullptr);
}

void write(ProjectState& s, std::optional<SteelCard>& was, std::optional<SteelCard>& now) {
  write_card(s.file, was, now, &ProjectFile::set_steel_card, &ProjectFile::remove_steel_card);
}
void remember(ProjectState& s, std::optional<SteelCard>& was, std::optional<SteelCard>& now) {
  bring_card(s.trial.steels, was, now);
}

void write(ProjectState& s, std::optional<MediumCard>& was, std::optional<MediumCard>& now) {
  write_card(s.file, was, now, &ProjectFile::set_medium_card, &ProjectFile::remove_medium_card);
}
void remember(ProjectState& s, std::optional<MediumCard>& was, std::optional<MediumCard>& now) {
  bring_card(s.trial.media, was, now);
}

void write(ProjectState& s, std::optional<Abrasive>& was, std::optional<Abrasive>& now) {
  write_card(s.file, was, now, &ProjectFile::set_abrasive, &ProjectFile::remove_abrasive);
}
void remember(ProjectState& s, std::optional<Abrasive>& was, std::optional<Abrasive>& now) {
  bring_card(s.trial.shelf, was, now);
}

void write(ProjectState& s, std::optional<Comparison>& was, std::optional<Comparison>& now) {
  if (now)
    *now = s.file.set_comparison(*now);
  else
    s.file.remove_comparison(was->id);
}
void remember(ProjectState& s, std::optional<Comparison>& was, std::optional<Comparison>& now) {
  bring(s.trial.comparisons, was ? &*was : nullptr, now ? &*now : nullptr);
}

void write(ProjectState& s, std::optional<ImportedTables>& was,
           std::optional<ImportedTables>& now) {
  if (now) {
    now->mark = s.file.import_mark();
    now->counts = s.file.import(*now->tables, KnownRuns::refuse);
  } else {
    s.file.take_back_import(was->mark);
  }
  (now ? now : was)->other = std::make_shared<Trial>(s.file.load());
}
void remember(ProjectState& s, std::optional<ImportedTables>& was,
              std::optional<ImportedTables>& now) {
  s.exchange(*(now ? now : was)->other);
}

template <class Record>
std::optional<Record>& side(Change<Record>& change, bool after) {
  return after ? change.after : change.before;
}

void let_go(Change<StrokeSamples>& change, Way way) {
  if (auto& on_disk = side(change, way == Way::forth)) on_disk->stroke.reset();
}
void let_go(Change<PictureBytes>& change, Way way) {
  if (auto& on_disk = side(change, way == Way::forth)) on_disk->file.reset();
}
void let_go(Change<ImportedTables>& change, Way) { change.after->other.reset(); }
template <class Record>
void let_go(Change<Record>& /*small*/, Way) {}

}  // namespace

void write(ProjectState& state, AnyChange& change, Way way) {
  std::visit(
      [&](auto& of) { write(state, side(of, way == Way::back), side(of, way == Way::forth)); },
      change);
}

void remember(ProjectState& state, AnyChange& change, Way way) {
  std::visit(
      [&](auto& of) { remember(state, side(of, way == Way::back), side(of, way == Way::forth)); },
      change);
}

void let_go(AnyChange& change, Way way) {
  std::visit([&](auto& of) { let_go(of, way); }, change);
}

}  // namespace bq::inline workflow
