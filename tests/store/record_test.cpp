// What is declared of a record's fields is what files take, write and refuse, and what the document
// says.
#include <gtest/gtest.h>

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <nlohmann/json.hpp>
#include <set>
#include <sstream>

#include "instrument/instrument_fields.h"
#include "plan/plan_fields.h"
#include "rehearsal/recipe.h"
#include "store/any_table.h"
#include "store/bench_json.h"
#include "store/edge_record_json.h"
#include "store/jig_fields.h"
#include "store/list_table.h"
#include "store/micrograph_json.h"
#include "store/plan_file.h"
#include "store/project_file.h"
#include "store/rule_records.h"
#include "store/section_file.h"
#include "store/shelf_json.h"
#include "store/table_understanding.h"
#include "support.h"
#include "trial/bench_fields.h"
#include "trial/edge_record_fields.h"
#include "trial/micrograph_fields.h"
#include "trial/shelf_fields.h"

using namespace bq;

namespace {

using Json = nlohmann::json;

/// One record as a file holds it.
struct KeptAct {
  std::string family, kind, json;
};
std::vector<KeptAct> every_kept() {
  std::ifstream in(BQ_SOURCE_DIR "/tests/data/records.txt");
  std::vector<KeptAct> out;
  for (std::string line; std::getline(in, line);) {
    const auto first = line.find('\t'), second = line.find('\t', first + 1);
    out.push_back({line.substr(0, first), line.substr(first + 1, second - first - 1),
                   line.substr(second + 1)});
  }
  return out;
}

/// What a text is written as after it was read, or why it was refused.
Checked<std::string> again(const std::string& family, const std::string& kind,
                           const std::string& json) {
  const auto written = [](const auto& read, const auto& write) -> Checked<std::string> {
    if (!read) return read.refusal();
    return write(*read);
  };
  if (family == "abrasive") return written(parse_abrasive(json), abrasive_json);
  if (family == "sharpening") return written(parse_sharpening(json), sharpening_json);
  if (family == "comparison") return written(parse_comparison(json), comparison_json);
  if (family == "edge") return written(parse_edge_record(kind, json), edge_record_json);
  if (family == "event") return written(parse_bench_event(kind, json), bench_event_json);
  if (family == "session") return written(parse_bench_session(kind, json), bench_session_json);
  if (family == "protocol") return written(parse_protocol(json), protocol_json);
  if (family == "micrograph") return written(parse_micrograph(json), micrograph_json);
  if (family == "scales") return written(parse_scales(json), scales_json);
  if (family == "plan")
    return written(parse_plan(json), [](const TrialPlan& plan) {
      return nlohmann::ordered_json::parse(plan_json(plan)).dump();
    });
  if (family == "book") return written(parse_plan_book(json), plan_book_json);
  if (family == "section") return written(parse_section_plan(json), section_plan_json);
  if (family == "marker") return written(parse_marker_file(json), marker_file_json);
  if (family == "instruments") return written(parse_instruments(json), instruments_json);
  if (family == "gauge") return written(parse_gauge_log(json), gauge_log_json);
  return Refusal{"no family " + family};
}

/// Visits declared records with their family and kind, and where one stands in the kept text.
template <class Visit>
void for_every_record(const Visit& visit) {
  visit.template operator()<Abrasive>("abrasive", "", "");
  visit.template operator()<Sharpening>("sharpening", "", "");
  visit.template operator()<Comparison>("comparison", "", "");
  visit.template operator()<AngleRecord>("edge", "angle", "");
  visit.template operator()<ThicknessRecord>("edge", "thickness", "");
  visit.template operator()<FindingRecord>("edge", "finding", "");
  visit.template operator()<SpotRecord>("edge", "spot", "");
  visit.template operator()<SettingRecord>("edge", "setting", "");
  visit.template operator()<ConditionRecord>("edge", "condition", "");
  visit.template operator()<CutEvent>("event", "cut", "");
  visit.template operator()<LookEvent>("event", "look", "");
  visit.template operator()<RestEvent>("event", "rest", "");
  visit.template operator()<StopEvent>("event", "stop", "");
  visit.template operator()<CheckWeightEvent>("event", "check weight", "");
  visit.template operator()<StrokeEvent>("event", "stroke", "");
  visit.template operator()<DamageSearch>("session", "damage search", "");
  visit.template operator()<SteadinessSession>("session", "steadiness", "");
  visit.template operator()<BenchProtocol>("protocol", "", "");
  visit.template operator()<Micrograph>("micrograph", "", "");
  visit.template operator()<TrialPlan>("plan", "", "");
  visit.template operator()<CheckpointChoice>("plan", "", "");
  visit.template operator()<DurableLimit>("plan", "", "durable[0]");
  visit.template operator()<DesignChoice>("plan", "", "design");
  visit.template operator()<Blocking>("plan", "", "blocks");
  visit.template operator()<PlanBlade>("plan", "", "blades[0]");
  visit.template operator()<PlanRates>("plan", "", "rates");
  visit.template operator()<PlanTruth>("plan", "", "truth");
  visit.template operator()<PlanQuestion>("plan", "", "question");
  visit.template operator()<HoldSearch>("plan", "", "question.hold");
  visit.template operator()<PlanExtension>("plan", "", "extensions[0]");
  visit.template operator()<Claim>("book", "", "claims[0]");
  visit.template operator()<ClaimTest>("book", "", "claims[0]");
  visit.template operator()<ClaimTest::Value>("book", "", "claims[0].values[0]");
  visit.template operator()<SectionPlan>("section", "", "");
  visit.template operator()<Grind>("section", "", "grinds[1]");
  visit.template operator()<MarkerQuestion>("marker", "", "");
  visit.template operator()<MarkerSettings>("marker", "", "");
  visit.template operator()<MarkerTouch>("marker", "", "touches[0]");
  visit.template operator()<InstrumentProfile>("instruments", "", "instruments[0]");
  visit.template operator()<GaugeLogOptions>("gauge", "", "");
  visit.template operator()<GaugeEntry>("gauge", "", "entries[1]");
}

/// The object at a path as refusals name it: "claims[0].values[0]"; "" the whole.
Json& at_path(Json& whole, std::string path) {
  if (path.empty()) return whole;
  for (char& sign : path)
    if (sign == '.' || sign == '[') sign = '/';
  std::erase(path, ']');
  return whole.at(Json::json_pointer("/" + path));
}

Json kept_of(const std::string& family, const std::string& kind) {
  for (const auto& kept : every_kept())
    if (kept.family == family && kept.kind == kind) return Json::parse(kept.json);
  return {};
}

// --- docs/records.md
template <class F>
std::string may_be(const F& one) {
  using B = typename F::Bare;
  if constexpr (F::is_word) {
    std::string out;
    for (int i = 0; i < one.words; ++i)
      if (const auto word = one.name(B(i)); !word.empty())
        out += (out.empty() ? "`" : ", `") + std::string(word) + "`";
    return out.empty() ? "a word" : out;
  } else if constexpr (F::is_number) {
    if (one.most > 1e15) return "a number";
    return print_number(one.least, 6) + " to " + print_number(one.most, 6) +
           (one.unit.empty() ? "" : " " + std::string(one.unit));
  } else if constexpr (std::is_same_v<B, bool>) {
    return "true or false";
  } else if constexpr (std::is_same_v<B, std::string>) {
    return "a text";
  } else if constexpr (Declared<B>) {
    return "an object, below";
  } else if constexpr (std::is_same_v<B, InstrumentUnit>) {
    return "a unit";
  } else if constexpr (std::is_same_v<B, FactorValue>) {
    return "a number or a text";
  } else if constexpr (std::is_same_v<B, GrindUntil>) {
    return "a word or an object";
  } else if constexpr (std::is_same_v<B, LevelMatch> || std::is_same_v<B, Observations>) {
    return "an object";
  } else {
    return "a list";
  }
}

template <class R>
void put_rows(std::ostream& out) {
  for_each_field<R>([&](const auto& one) {
    using Value = typename std::decay_t<decltype(one)>::Value;
    if constexpr (Declared<Value>) {
      if (one.is_flat) return put_rows<Value>(out);
    }
    std::string what(one.label);
    if (!one.note.empty()) what += (what.empty() ? "" : "; ") + std::string(one.note);
    out << "| `" << one.key << "` | " << what << " | " << may_be(one) << " | "
        << (one.needed        ? "must be there"
            : one.always_told ? "always written"
                              : "where it says something")
        << " |\n";
  });
}

template <class R>
void put_table(std::ostream& out, const char* title) {
  out << "\n## " << title
      << "\n\n| key | what it is | may be | in a file |\n| --- | --- | --- | --- |\n";
  put_rows<R>(out);
}

std::string records_document() {
  std::ostringstream out;
  out << "# Records: what is declared of each field\n\n"
         "Made from the declarations (`src/*/*_fields.h`) by the test "
         "`Records.TheDocumentIsWhatIsDeclared`; to make it anew run it with `BQ_WRITE_DOCS=1`. "
         "These are the JSON objects in the cells of a [project file](file-format.md), which names "
         "the few keys that are no single field. Both ends of a range are taken; a number outside "
         "it, a broken number where a count stands and an unknown word are refused with the path "
         "of the key. Angles are per side.\n";
  put_table<Abrasive>(out, "An abrasive");
  put_table<FlatnessEntry>(out, "A look at its face (`flatness`)");
  put_table<Sharpening>(out, "A sharpening");
  put_table<SharpeningStep>(out, "A step of it (`steps`)");
  put_table<Comparison>(out, "A comparison of two treatments");
  put_table<Treatment>(out, "A treatment (`first`, `second`)");
  put_table<ComparisonPair>(out, "A pair of readings (`pairs`)");
  put_table<OutlineRecord>(out, "History: `outline`");
  put_table<AngleRecord>(out, "History: `angle`");
  put_table<ThicknessRecord>(out, "History: `thickness`");
  put_table<FindingRecord>(out, "History: `finding`");
  put_table<SpotRecord>(out, "History: `spot`");
  put_table<SectionRecord>(out, "History: `section`");
  put_table<SettingRecord>(out, "History: `setting`");
  put_table<NoteRecord>(out, "History: `note`");
  put_table<ConditionRecord>(out, "History: `condition`");
  put_table<PreparedEvent>(out, "Bench: `prepared`");
  put_table<GateEvent>(out, "Bench: `gate`");
  put_table<CutEvent>(out, "Bench: `cut`");
  put_table<LookEvent>(out, "Bench: `look`");
  put_table<RestEvent>(out, "Bench: `rest`");
  put_table<DeviationEvent>(out, "Bench: `deviation`");
  put_table<StopEvent>(out, "Bench: `stop`");
  put_table<GoOnEvent>(out, "Bench: `go on`");
  put_table<CheckWeightEvent>(out, "Bench: `check weight`");
  put_table<StrokeEvent>(out, "Bench: `stroke`");
  put_table<DamageSearch>(out, "A damage search");
  put_table<SearchRound>(out, "A round of it (`rounds`)");
  put_table<SteadinessSession>(out, "A steadiness session");
  put_table<BenchProtocol>(out, "The bench's protocol (`bench-protocol`)");
  put_table<Micrograph>(out, "A micrograph");
  put_table<PictureScale>(out, "A scale (`scale`)");
  put_table<ScaleReading>(out, "A reading of it (`readings`)");
  put_table<MagnificationScale>(out, "A magnification's scale (`lens-scales`)");
  put_table<LensMeasure>(out, "A measure (`measures`)");
  put_table<LensTake>(out, "A taking of it (`takes`)");
  put_table<CrossingScratches>(out, "The weaker direction of a crosshatch (`crossing`)");
  put_table<SamePlace>(out, "Laid over another picture (`laid_over`)");
  put_table<HintAnswer>(out, "An answered hint (`hints`)");
  put_table<EdgeStretch>(out, "Along the apex (`along`)");
  put_table<BrightBand>(out, "A band of it (`burr`, `band`)");
  put_table<StretchRecession>(out, "How far it fell back (`recession`)");
  put_table<InstrumentProfile>(out, "An instrument (`instruments`)");
  put_table<SectionPlan>(out, "A section (`plan`)");
  put_table<Grind>(out, "A grind of it (`grinds`)");
  put_table<MarkerQuestion>(out, "A marker test (`marker` file)");
  put_table<MarkerTouch>(out, "A touch of it (`touches`)");
  put_table<GaugeLogFile>(out, "A gauge log");
  put_table<GaugeEntry>(out, "A line of it (`entries`)");
  put_table<EvidenceKey>(out, "A key of rules (rule-format.md)");
  put_table<EvidenceQuestion>(out, "A question of it (`questions`)");
  put_table<EvidenceAnswer>(out, "An answer (`answers`)");
  put_table<EvidenceOutcome>(out, "An outcome (`outcomes`)");
  put_table<TrialPlan>(out, "A trial's plan, and its checkpoints (plan-format.md)");
  put_table<PlanFactor>(out, "A factor of it (`factors`)");
  put_table<Exclusion>(out, "What is not run (`exclude`)");
  put_table<OnlyRule>(out, "Levels that go with these alone (`only`)");
  put_table<DurableLimit>(out, "Least angle that lasts (`durable`)");
  put_table<DesignChoice>(out, "The design (`design`)");
  put_table<Blocking>(out, "The blocks (`blocks`)");
  put_table<PlanBlade>(out, "A blade of it (`blades`)");
  put_table<PlanRates>(out, "What the work takes (`rates`)");
  put_table<PlanTruth>(out, "What is taken as true (`truth`)");
  put_table<PlanQuestion>(out, "The question (`question`)");
  put_table<HoldSearch>(out, "The search for the slimmest edge (`hold`)");
  put_table<PlanExtension>(out, "Runs that were added (`extensions`)");
  put_table<ClaimTest>(out, "A claim and its test");
  put_table<ClaimTest::Value>(out, "A value of it (`values`)");
  return out.str();
}

}  // namespace

// Written by the readers and writers before the fields were declared; every key of every kind is in
// it.
TEST(Records, AreWrittenByteForByteAsTheyWere) {
  const auto all = every_kept();
  EXPECT_GT(all.size(), 30U);
  for (const auto& kept : all) {
    const auto made = again(kept.family, kept.kind, kept.json);
    ASSERT_TRUE(made) << kept.family << " " << kept.kind << ": " << made.refusal().reason;
    EXPECT_EQ(*made, kept.json) << kept.family << " " << kept.kind;
  }
}

TEST(Records, EveryNumberOutsideItsRangeIsRefusedByItsKey) {
  int tried = 0;
  for_every_record([&]<class R>(const char* family, const char* kind, const std::string& path) {
    Json kept = kept_of(family, kind);
    ASSERT_TRUE(kept.is_object()) << family << " " << kind;
    const std::string before = path.empty() ? "" : path + ".";
    for_each_field<R>([&](const auto& one) {
      using F = std::decay_t<decltype(one)>;
      if constexpr (F::is_number) {
        EXPECT_TRUE(at_path(kept, path).contains(one.key)) << one.key << ": the kept text lacks it";
        for (const double outside : {one.least - 1, one.most * 1.5 + 1}) {
          Json changed = kept;
          at_path(changed, path)[one.key] = std::floor(outside);
          const auto made = again(family, kind, changed.dump());
          ASSERT_FALSE(made) << family << " " << kind << " took " << changed.dump();
          EXPECT_EQ(made.refusal().reason.find(before + one.key + ": must lie between"), 0U)
              << made.refusal().reason;
          ++tried;
        }
        if constexpr (std::is_integral_v<typename F::Bare>) {
          Json changed = kept;
          at_path(changed, path)[one.key] = one.least + 3.5;
          const auto made = again(family, kind, changed.dump());
          ASSERT_FALSE(made) << one.key << " took a broken number";
          EXPECT_EQ(made.refusal().reason, before + one.key + ": must be a whole number");
        }
      }
    });
  });
  EXPECT_GT(tried, 230);
}

TEST(Records, EveryWordIsReadAndAStrangersIsRefusedWithThoseThatAreKnown) {
  for_every_record([&]<class R>(const char* family, const char* kind, const std::string& path) {
    const Json kept = kept_of(family, kind);
    const std::string before = path.empty() ? "" : path + ".";
    for_each_field<R>([&](const auto& one) {
      using F = std::decay_t<decltype(one)>;
      if constexpr (F::is_word) {
        std::set<std::string_view> names;
        for (int i = 0; i < one.words; ++i) {
          const auto value = typename F::Bare(i);
          EXPECT_TRUE(names.insert(one.name(value)).second) << one.key;
          EXPECT_EQ(one.parse(one.name(value)), value) << one.key;
        }
        Json changed = kept;
        at_path(changed, path)[one.key] = "sideways";
        const auto made = again(family, kind, changed.dump());
        ASSERT_FALSE(made) << one.key;
        EXPECT_EQ(made.refusal().reason.find(before + one.key + ": \"sideways\" is not known"), 0U)
            << made.refusal().reason;
        if (one.words > 1)
          EXPECT_NE(made.refusal().reason.find(" or "), std::string::npos) << made.refusal().reason;
      }
    });
  });
}

// The window, a list of stones and a file refuse the same stone with the same range.
TEST(Records, ARangeIsOneWhereverAStoneComesIn) {
  Abrasive stone;
  stone.name = "Grey";
  stone.measured_um = 0.001;
  const auto fault = fault_of(stone);
  ASSERT_TRUE(fault);
  EXPECT_EQ(fault->reason, "particle size, measured: must lie between 0.01 and 5000 µm");
  const auto read = parse_abrasive(R"({"name":"Grey","measured_um":0.001})");
  ASSERT_FALSE(read);
  EXPECT_EQ(read.refusal().reason, "measured_um: must lie between 0.01 and 5000");
}

// A number that was computed, not typed, may be none at all: as JSON it would be nothing, and be
// read as 0.
TEST(Records, WhatCouldNotBeReadAgainIsNotWritten) {
  const test::Folder folder;
  const auto path = folder / "p.bquarry";
  auto file = ProjectFile::create(path, "readable");
  const Blade blade = file.add_blade({0, "B1", "Marl", "", false, {}});
  const double none = std::nan("");
  const auto refused = [&](const char* what, const auto& write) {
    const auto before = file.changes();
    try {
      write();
      ADD_FAILURE() << what << " was written";
    } catch (const StoreError& error) {
      EXPECT_EQ(error.problem(), StoreProblem::refused) << what;
    }
    EXPECT_EQ(file.changes(), before) << what;
  };
  refused("a stroke", [&] {
    BenchEvent event;
    event.data = StrokeEvent{0, none, 0, 0, ""};
    file.put_event(0, event);
  });
  refused("an angle", [&] {
    file.add_edge_records(blade.id, {{0, "", AngleRecord{EdgeSide::left, 3, 95, 0, "", {}}}});
  });
  refused("a step of a sharpening", [&] {
    Sharpening sharpening;
    sharpening.steps.resize(2);
    sharpening.steps[1].seconds = none;
    file.add_edge_records(blade.id, {{0, "", SharpeningRecord{sharpening}}});
  });
  refused("a search", [&] {
    DamageSearch search;
    search.rounds.push_back({});  // no angle
    file.set_bench_session({0, "", search});
  });
  refused("a comparison", [&] {
    Comparison comparison;
    comparison.first.minutes = -1;
    file.set_comparison(comparison);
  });
  refused("a scale", [&] { file.set_scales({{"10x", {0, 0, "", {}}, "", ""}}); });
  const Trial kept = file.load();
  EXPECT_TRUE(kept.blades[0].records.empty());
  EXPECT_TRUE(kept.comparisons.empty());
}

TEST(Records, WhatIsTooDeepIsRefusedBeforeItIsFollowed) {
  const std::string pit = std::string(200'000, '[') + std::string(200'000, ']');
  const auto refused = [](const auto& read) {
    return !read && read.refusal().reason.find("more than 100 deep") != std::string::npos;
  };
  EXPECT_TRUE(refused(parse_table_map("{\"columns\":{\"a\":" + pit + "}}")));
  EXPECT_TRUE(refused(parse_section_file("{\"stock_mm\":2,\"grinds\":" + pit + "}")));
  EXPECT_TRUE(refused(parse_edge_record("section", "{\"plan\":" + pit + "}")));
  EXPECT_TRUE(refused(parse_recipe("{\"blades\":" + pit + "}")));
  EXPECT_TRUE(refused(parse_abrasive("{\"name\":\"Grey\",\"flatness\":" + pit + "}")));
  // Brackets in a text are no depth.
  EXPECT_TRUE(parse_abrasive("{\"name\":\"Grey \\\" " + std::string(300, '[') + "\"}"));
}

TEST(Records, TheDocumentIsWhatIsDeclared) {
  const std::string path = BQ_SOURCE_DIR "/docs/records.md";
  const std::string made = records_document();
  if (std::getenv("BQ_WRITE_DOCS")) std::ofstream(path) << made;
  EXPECT_EQ(test::read_file(path), made) << "BQ_WRITE_DOCS=1 writes it anew";
}
