#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "store/project_file.h"

namespace bq::inline workflow {

// What acts change, kind by kind. Ids that are 0 are given out when the record is first kept; a
// time that is empty is set then.

/// A small text that belongs to the project: the threshold, a section in hand, the plan book.
struct KeptText {
  std::string key, value;
};
/// One line of what happened on the bench; run 0: of none (check weights).
struct RunEvent {
  std::int64_t run_id = 0;
  BenchEvent event;
};
/// A reading; its run's cuts are never below it.
struct RunReading {
  std::int64_t run_id = 0;
  Reading reading;
};
/// What is thought of a reading that is there.
struct ReadingMark {
  std::int64_t run_id = 0, reading = 0;
  bool excluded = false;
  LabelId reason = 0;
};
struct RunCuts {
  std::int64_t run_id = 0, cuts_done = 0;
};
struct RunHead {
  std::int64_t run_id = 0;
  RunFacts facts;
  RunPlan plan;
};
/// The steel of a run alone: it follows its blade's.
struct RunSteel {
  std::int64_t run_id = 0;
  std::string steel;
};
/// A blade without its history. Its runs speak of it by the name it has.
struct BladeHead {
  Blade blade;
};
/// One line of a blade's history.
struct BladeLine {
  std::int64_t blade_id = 0;
  EdgeRecord record;
};
struct MicrographFacts {
  Micrograph micrograph;
  std::string thumbnail;  ///< for one that comes in
};
struct MagnificationScales {
  std::vector<MagnificationScale> all;
};
/// A force stroke's samples. They are held here only while they are not in the file.
struct StrokeSamples {
  std::int64_t run_id = 0, id = 0;
  std::optional<ForceStroke> stroke;
};
/// A picture's file. Its bytes are held here only while they are not in the project.
struct PictureBytes {
  std::int64_t id = 0;
  std::optional<PictureFile> file;
};
/// Tables that came in.
struct ImportedTables {
  std::shared_ptr<const Trial> tables;
  ProjectFile::ImportMark mark;
  ImportCounts counts;
  std::shared_ptr<Trial> other;  ///< while it is carried out: the trial as it is on the other side
};

/// One record as it was and as it is to be; empty: there is none. Going back is the same change
/// with the two exchanged.
template <class Record>
struct Change {
  std::optional<Record> before, after;
};

using AnyChange =
    std::variant<Change<KeptText>, Change<RunEvent>, Change<RunReading>, Change<ReadingMark>,
                 Change<RunCuts>, Change<RunHead>, Change<RunSteel>, Change<Run>, Change<BladeHead>,
                 Change<BladeLine>, Change<MicrographFacts>, Change<MagnificationScales>,
                 Change<StrokeSamples>, Change<PictureBytes>, Change<BenchSession>,
                 Change<SteelCard>, Change<MediumCard>, Change<Abrasive>, Change<Comparison>,
                 Change<ImportedTables>>;

enum class Way { forth, back };

/// What a person did, as a value: done by bringing every record from `before` to `after`, taken
/// back by bringing them, last first, from `after` to `before`.
struct Act {
  std::string text;  ///< "reading 312 gf of run C07"
  std::vector<AnyChange> changes;
};

}  // namespace bq::inline workflow
