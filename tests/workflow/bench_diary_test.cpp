// A bench against its diary: what happens is written down as plain lines in the order of time, and
// every notion of "this edge" is looked up there by reading back. The trial holds the same as the
// program records it, its runs in the order of the plan and not of the cutting.
#include <gtest/gtest.h>

#include <cmath>

#include "report/edge_card.h"
#include "stats/random.h"
#include "trial/edge_map.h"
#include "trial/making.h"
#include "workflow/bench_study.h"

using namespace bq;

namespace {

struct DiaryLine {
  enum Kind { sharpened, cut, angle, damage, cleared, section, read, weight } kind = cut;
  std::size_t blade = 0, run = 0;
  double at_mm = 0, value = 0;  ///< degrees, µm, or whether a check weight was good
  std::int64_t id = 0;          ///< of a reading
};

class BenchWithDiary {
 public:
  explicit BenchWithDiary(std::uint64_t seed) : random_(seed) {
    for (int i = 0; i < 2; ++i) {
      Blade blade;
      blade.name = "blade " + std::to_string(i);
      trial.blades.push_back(blade);
    }
    for (int i = 0; i < 8; ++i) {
      bq::Run run;
      run.facts.name = "run " + std::to_string(i);
      run.facts.blade = trial.blades[any(2)].name;
      trial.runs.push_back(run);
    }
  }

  /// One thing that happens on a bench, minutes after the one before.
  void something() {
    minute_ += 3 + int(any(40));
    const std::size_t blade = any(2), what = any(9);
    if (what == 0) return sharpen(blade);
    if (what <= 3) return cut(any(trial.runs.size()));
    if (what == 4) {
      AngleRecord record;
      record.side = EdgeSide::left;
      record.at_mm = 10.0 * double(any(3));
      record.angle_deg = 12 + double(any(8));
      record.bevel = any(2) ? MeasuredBevel::edge_bevel : MeasuredBevel::micro_bevel;
      put(blade, record);
      if (record.bevel == MeasuredBevel::edge_bevel)
        diary.push_back({DiaryLine::angle, blade, 0, record.at_mm, record.angle_deg, 0});
      return;
    }
    if (what <= 6) {
      SpotRecord spot;
      spot.kind = SpotKind::damage;
      spot.at_mm = 10.0 * double(any(4));
      spot.cleared = any(3) == 0;
      spot.size_um = spot.cleared ? 0 : 20 + 10.0 * double(any(20));
      put(blade, spot);
      diary.push_back({spot.cleared ? DiaryLine::cleared : DiaryLine::damage, blade, 0, spot.at_mm,
                       spot.size_um, 0});
      return;
    }
    if (what == 7) {
      CheckWeightEvent check;
      check.nominal = 200;
      const bool good = any(3) != 0;
      check.value = good ? 201 : 215;
      check.last_reading = next_reading_ - 1;
      BenchEvent event;
      event.made_at = now();
      event.data = check;
      trial.gauge_checks.push_back(event);
      diary.push_back({DiaryLine::weight, 0, 0, 0, good ? 1.0 : 0.0, 0});
      return;
    }
    if (any(4) == 0) {
      put(blade, SectionRecord{});
      diary.push_back({DiaryLine::section, blade, 0, 0, 0, 0});
    }
  }

  [[nodiscard]] std::size_t any(std::size_t count) { return std::size_t(random_.below(count)); }

  Trial trial;
  std::vector<DiaryLine> diary;

 private:
  std::string now() const {
    const int days = minute_ / 1440, left = minute_ % 1440;
    const auto two = [](int n) { return (n < 10 ? "0" : "") + std::to_string(n); };
    return "2026-03-" + two(1 + days) + "T" + two(left / 60) + ":" + two(left % 60) + ":00Z";
  }
  void put(std::size_t blade, EdgeRecordData data) {
    trial.blades[blade].records.push_back({0, now(), std::move(data)});
  }

  /// To the end or broken off; for a run of the blade that was not cut yet, or for none.
  void sharpen(std::size_t blade) {
    SharpeningRecord record;
    const bool finished = any(4) != 0;
    SharpeningStep step;
    step.done = finished;
    record.sharpening.steps = {step};
    std::optional<std::size_t> fresh;
    for (std::size_t i = 0; i < trial.runs.size(); ++i)
      if (trial.runs[i].facts.blade == trial.blades[blade].name && !trial.runs[i].cuts_done)
        fresh = i;
    if (fresh && any(2)) record.sharpening.run = trial.runs[*fresh].facts.name;
    put(blade, record);
    if (finished) diary.push_back({DiaryLine::sharpened, blade, 0, 0, 0, 0});
  }

  /// A run is cut in one go, with a reading, unless it was cut on an edge that is gone.
  void cut(std::size_t index) {
    bq::Run& run = trial.runs[index];
    const std::size_t blade = run.facts.blade == "blade 0" ? 0 : 1;
    if (run.cuts_done > 0) {
      for (std::size_t i = diary.size(); i-- > 0;) {
        if (diary[i].kind == DiaryLine::cut && diary[i].run == index) break;
        if (diary[i].kind == DiaryLine::sharpened && diary[i].blade == blade) return;
      }
    }
    run.cuts_done += 20;
    Reading reading;
    reading.id = next_reading_++;
    reading.cuts = run.cuts_done;
    reading.value = 200;
    // Some are of a table that somebody else took: no check weight of this bench speaks of them.
    const bool own = any(4) != 0;
    if (own) reading.gauge = trial.labels.id_of("keyed");
    run.readings.push_back(reading);
    BenchEvent event;
    event.made_at = now();
    event.cuts = run.cuts_done;
    event.data = RestEvent{};
    run.events.push_back(event);
    diary.push_back({DiaryLine::cut, blade, index, 0, 0, 0});
    if (own) diary.push_back({DiaryLine::read, blade, index, 0, 0, reading.id});
  }

  stats::Random random_;
  int minute_ = 0;
  std::int64_t next_reading_ = 1;
};

using Diary = std::vector<DiaryLine>;

/// Lines of a blade since its last finished sharpening.
Diary since_sharpened(const Diary& diary, std::size_t blade) {
  Diary out;
  for (const auto& line : diary) {
    if (line.kind == DiaryLine::sharpened && line.blade == blade) out.clear();
    if (line.blade == blade && line.kind != DiaryLine::weight) out.push_back(line);
  }
  return out;
}

std::optional<std::size_t> cuts_on_edge(const Diary& diary, std::size_t blade) {
  std::optional<std::size_t> out;
  for (const auto& line : since_sharpened(diary, blade))
    if (line.kind == DiaryLine::cut) out = line.run;
  return out;
}

double damage_on_edge(const Diary& diary, std::size_t blade) {
  std::map<double, double> there;  // all that was noted at a place, the largest
  for (const auto& line : since_sharpened(diary, blade)) {
    if (line.kind == DiaryLine::damage) there[line.at_mm] = std::max(there[line.at_mm], line.value);
    if (line.kind == DiaryLine::cleared) there.erase(line.at_mm);
  }
  double out = 0;
  for (const auto& [at, um] : there) out = std::max(out, um);
  return out;
}

/// Mean over the places of the mean at each; empty where nothing was measured on this edge.
std::optional<double> angle_of_edge(const Diary& diary, std::size_t blade) {
  std::map<double, std::pair<double, int>> places;
  for (const auto& line : since_sharpened(diary, blade)) {
    if (line.kind == DiaryLine::section) places.clear();
    if (line.kind != DiaryLine::angle) continue;
    places[line.at_mm].first += line.value;
    ++places[line.at_mm].second;
  }
  if (places.empty()) return std::nullopt;
  double sum = 0;
  for (const auto& [at, entry] : places) sum += entry.first / entry.second;
  return sum / double(places.size());
}

/// Number of the finished sharpening before a run's first cut; 0: none.
int sharpening_before(const Diary& diary, std::size_t blade, std::size_t run) {
  int count = 0;
  for (const auto& line : diary) {
    if (line.kind == DiaryLine::sharpened && line.blade == blade) ++count;
    if (line.kind == DiaryLine::cut && line.run == run) return count;
  }
  return -1;
}

/// Ids of readings with a bad check weight between the good ones around them.
std::set<std::int64_t> readings_in_doubt(const Diary& diary) {
  std::set<std::int64_t> out;
  for (std::size_t i = 0; i < diary.size(); ++i) {
    if (diary[i].kind != DiaryLine::read) continue;
    bool bad = false;
    for (std::size_t k = i; k-- > 0;) {
      if (diary[k].kind != DiaryLine::weight) continue;
      if (diary[k].value == 1) break;
      bad = true;
    }
    for (std::size_t k = i + 1; k < diary.size(); ++k) {
      if (diary[k].kind != DiaryLine::weight) continue;
      if (diary[k].value == 1) break;
      bad = true;
    }
    if (bad) out.insert(diary[i].id);
  }
  return out;
}

}  // namespace

TEST(BenchDiary, EveryNotionOfThisEdgeIsWhatTheDiarySays) {
  int on_edge = 0, damaged = 0, measured = 0, started = 0, doubtful = 0;
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    SCOPED_TRACE("bench " + std::to_string(seed));
    BenchWithDiary bench(seed);
    for (int act = 0; act < 60; ++act) {
      bench.something();
      const Trial& trial = bench.trial;
      const Diary& diary = bench.diary;
      for (std::size_t blade = 0; blade < 2; ++blade) {
        const EdgeNow edge = edge_now(trial.blades[blade]);
        ASSERT_EQ(run_on_edge(trial, blade), cuts_on_edge(diary, blade)) << "act " << act;
        ASSERT_EQ(open_damage_um(edge), damage_on_edge(diary, blade)) << "act " << act;
        const auto mean = edge.left.mean_deg(), noted = angle_of_edge(diary, blade);
        ASSERT_EQ(mean.has_value(), noted.has_value()) << "act " << act;
        if (mean) {
          ASSERT_NEAR(*mean, *noted, 1e-12) << "act " << act;
        }
        on_edge += cuts_on_edge(diary, blade).has_value();
        damaged += damage_on_edge(diary, blade) > 0;
        measured += noted.has_value();
      }
    }
    const Trial& trial = bench.trial;
    for (std::size_t run = 0; run < trial.runs.size(); ++run) {
      const std::size_t blade = trial.runs[run].facts.blade == "blade 0" ? 0 : 1;
      const int noted = sharpening_before(bench.diary, blade, run);
      if (noted < 0) continue;  // not cut
      const auto own = making_of_run(trial, run);
      ASSERT_TRUE(own.has_value());
      int number = 0;
      for (std::size_t i = 0; i < own->making.sharpening.value_or(0) + 1; ++i)
        if (const auto* s = std::get_if<SharpeningRecord>(&trial.blades[blade].records[i].data))
          number += !current_step(s->sharpening);
      EXPECT_EQ(own->making.sharpening ? number : 0, noted) << trial.runs[run].facts.name;
      EXPECT_EQ(start_of(trial, trial.runs[run]).has_value(), noted > 0);
      started += noted > 0;
    }
    std::set<std::int64_t> doubted;
    for (const auto& [run, reading] : gauge_drift(trial, 2).doubtful)
      doubted.insert(trial.runs[run].readings[reading].id);
    EXPECT_EQ(doubted, readings_in_doubt(bench.diary));
    doubtful += int(doubted.size());
  }
  for (const int seen : {on_edge, damaged, measured, started, doubtful}) EXPECT_GT(seen, 100);
}
