// Micrographs in the project file: bytes in parts, facts, migration, damage that `check` finds.
#include "store/picture_store.h"

#include <SQLiteCpp/SQLiteCpp.h>
#include <gtest/gtest.h>

#include <atomic>
#include <thread>

#include "lens/png_bytes.h"
#include "stats/random.h"
#include "store/micrograph_json.h"
#include "store/one_at_a_time.h"
#include "support.h"
#include "workflow/project_session.h"

namespace bq {
namespace {

std::string noise(std::size_t size, std::uint64_t seed) {
  stats::Random random(seed);
  std::string out(size, '\0');
  for (char& c : out) c = char(random.below(256));
  return out;
}

/// Everything that can be said of a picture.
Micrograph full() {
  Micrograph m;
  m.name = "apex \"1\".png";
  m.kind = "png";
  m.width = 800;
  m.height = 600;
  m.size = 12345;

  m.sha256 = "ab12";
  m.made_at = "2026-04-01T10:00:00Z";
  m.taken_at = "2026-03-02T10:15:00";
  m.blade = "B1";
  m.run = "C07";
  m.cuts = 150;
  m.side = EdgeSide::right;
  m.at_mm = 40.5;

  m.mark = "scribed cross 2";
  m.magnification = "20x";
  m.stone = "";
  m.note = "oiled";
  m.scale = PictureScale{0.25, 0.002, "100 µm between two points", {}};
  LensTake take;
  take.points = {{1.5, 2}, {30, 40.25}};
  take.drawn = {{1, 2}, {3, 4}};
  take.value_px = 52.5;

  take.error_px = 0.4;
  take.second = 12.5;
  take.second_error = 0.3;
  take.streaks = 0.1;

  take.box = true;
  LensTake by_hand = take;
  by_hand.snapped = false;
  by_hand.box = false;
  by_hand.second.reset();
  by_hand.second_error = 0;

  by_hand.streaks = 0;
  m.measures = {{LensMeasureKind::chip, {take, by_hand}, "left of the cross"}};
  m.laid_over = {{3,
                  {{{1, 2}, {3, 4}}, {{5, 6}, {7, 8}}},
                  {0.99, 0.02, 5, -3},
                  0.25,
                  "the marks lie close together"}};
  m.hints = {{ApexDamage::roll, {10, 20}, 30, 5, true, 3, 0.5}};
  m.instrument = "the new camera";
  m.measures[0].takes[0].common_px = 0.3;
  m.measures[0].takes[0].second_common = 0.2;
  m.measures[0].takes[0].soft_px = 2.5;
  m.along = EdgeStretch{{1, 300},
                        {799, 302},
                        798,
                        {{40, 12}, {8, 3}},
                        0.6,
                        0.1,
                        3.5,
                        0.06,
                        2.4,
                        {0.5, -0.25},
                        StretchRecession{3, 4.5, 0.6, 12, 0.9, 640, {4, 5}},
                        80,
                        1.5,
                        0.2,
                        0.4,
                        0.1,
                        BrightBand{0.9, 12, 0.7, 11, 16, 17, 0.9},
                        BrightBand{0.3, 5, 0.4, 4.5, 7, 8, 0.5}};
  m.measures[0].takes[0].crossing = CrossingScratches{-48, 0.5, 11, 0.6};
  m.other_side = true;
  return m;
}

TEST(PictureStore, FactsComeBackAsTheyWereAndFaultsAreNamed) {
  const auto back = parse_micrograph(micrograph_json(full()));
  ASSERT_TRUE(back) << back.refusal().reason;
  EXPECT_EQ(*back, full());
  EXPECT_EQ(*parse_micrograph(micrograph_json(Micrograph{})), Micrograph{});
  const std::vector<MagnificationScale> scales{
      {"20x", {0.25, 0.001, "stage scale", {}}, "2026-04-01T10:00:00Z"},
      {"20x",
       {0.5, 0.002, "two", {{{1, 2}, {201, 2}, 100, 200, 0.5}, {{1, 2}, {1, 402}, 200, 400, 0.5}}},
       "2026-04-02T10:00:00Z",
       "the new camera",
       800,
       600}};
  EXPECT_EQ(*parse_scales(scales_json(scales)), scales);
  const auto fault = [](const std::string& json) {
    const auto read = parse_micrograph(json);
    return read ? std::string("taken") : read.refusal().reason;
  };
  EXPECT_NE(fault(R"({"measures":[{"kind":"chip","takes":[{"value_px":-1}]}]})")
                .find("measures[0].takes[0].value_px"),
            std::string::npos);
  EXPECT_NE(fault(R"({"measures":[{"kind":"dent","takes":[]}]})").find("measures[0].kind"),
            std::string::npos);
  EXPECT_NE(fault(R"({"laid_over":[{"other":1,"map":[0,0,0,0]}]})").find("laid_over[0].map"),
            std::string::npos);
  EXPECT_NE(fault(R"({"scale":{"um_per_px":0}})").find("scale.um_per_px"), std::string::npos);
  stats::Random random(8);
  const std::string whole = micrograph_json(full());
  for (int i = 0; i < 3000; ++i) {
    std::string text = whole;
    for (int k = 0; k < 3; ++k) text[random.below(text.size())] = char(32 + random.below(95));
    (void)parse_micrograph(text);  // refuses or reads; never throws
  }
}

TEST(PictureStore, BytesGoInPartsWhileTheWindowGoesOnWriting) {
  test::Folder folder;
  const auto path = folder / "p.bquarry";
  const std::string bytes = noise(5'300'000, 1);
  std::int64_t id = 0;
  {
    ProjectFile::create(path, "pictures");
    auto session = ProjectSession::open(path);
    const auto pictures = session.pictures();
    std::atomic<int> parts = 0;
    std::jthread worker(
        [&] { id = pictures->add("big.png", "png", bytes, [&](double) { return ++parts > 0; }); });
    for (int i = 0; i < 20; ++i) session.keep("note", std::to_string(i), "a note");
    worker.join();
    EXPECT_EQ(parts, 6);
    Micrograph m = micrograph_of({id, "big.png", "png", bytes});
    session.add_micrograph(m, "small");
    EXPECT_EQ(session.thumbnail(id), "small");
    EXPECT_EQ(*pictures->bytes(id), bytes);
    session.undo();
    EXPECT_TRUE(session.trial().micrographs.empty());
    session.redo();
    EXPECT_EQ(session.trial().micrographs.size(), 1u);
    // Stopped on the way: nothing is left.
    EXPECT_EQ(pictures->add("no.png", "png", bytes, [](double share) { return share < 0.5; }), 0);
    // Brought in and never counted: gone at the next opening.
    (void)pictures->add("lost.png", "png", "abc");
    m.note = "kept";
    session.set_micrograph(m, "a note");
  }
  {
    const auto file = ProjectFile::open(path, ProjectFile::Access::write);
    EXPECT_EQ(file.load().micrographs.at(0).note, "kept");
    EXPECT_EQ(*file.pictures()->bytes(id), bytes);
    EXPECT_TRUE(file.check().empty());
  }
  SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
  EXPECT_EQ(db.execAndGet("SELECT count(*) FROM picture").getInt(), 1);
  EXPECT_EQ(db.execAndGet("SELECT count(*) FROM picture_part").getInt(), 6);
  db.exec("UPDATE picture_part SET bytes = x'00' WHERE part = 2");
  const auto problems = ProjectFile::open(path, ProjectFile::Access::read).check();
  ASSERT_EQ(problems.size(), 1u);
  EXPECT_NE(problems[0].find("big.png"), std::string::npos) << problems[0];
}

TEST(PictureStore, AClosedProjectTakesNothingMore) {
  test::Folder folder;
  std::shared_ptr<PictureStore> pictures;
  {
    ProjectFile file = ProjectFile::create(folder / "p.bquarry", "pictures");
    pictures = file.pictures();
  }
  EXPECT_THROW((void)pictures->add("a.png", "png", "abc"), StoreError);
  EXPECT_FALSE(pictures->bytes(1));
}

TEST(PictureStore, LooksWithPicturesOfVersion4BecomeMicrographs) {
  test::Folder folder;
  const auto path = folder / "old.bquarry";
  std::filesystem::copy_file(BQ_SOURCE_DIR "/tests/data/version4.bquarry", path);
  std::filesystem::permissions(path, std::filesystem::perms::owner_write,
                               std::filesystem::perm_options::add);
  {
    // A line that cannot be read must not keep the whole project shut.
    SQLite::Database db(path.string(), SQLite::OPEN_READWRITE);
    db.exec(
        "INSERT INTO bench_event(run_id, made_at, kind, data) VALUES(1, '', 'look', '{broken')");
  }
  EXPECT_TRUE(ProjectFile::open(path, ProjectFile::Access::read).load().micrographs.empty())
      << "opened for reading it stays as it is";
  auto session = ProjectSession::open(path);
  EXPECT_NE(session.opening_note().find("old.version-4.bquarry"), std::string::npos);
  ASSERT_EQ(session.trial().micrographs.size(), 1u);
  const Micrograph& m = session.trial().micrographs[0];
  EXPECT_EQ(m.name, "corner.png");
  EXPECT_EQ(m.run, session.trial().runs[0].facts.name);
  EXPECT_EQ(m.blade, session.trial().runs[0].facts.blade);
  EXPECT_EQ(m.cuts, 40);
  EXPECT_EQ(*m.at_mm, 62);
  EXPECT_EQ(m.width, 96);
  EXPECT_EQ(sha256_of(*session.pictures()->bytes(m.id)), m.sha256);
  EXPECT_THROW(session.remove_micrograph(m.id), StoreError) << "the look rests on it";
}

TEST(PictureStore, ALookKeptAtTheBenchIsAMicrographAndRenamingFollows) {
  test::Folder folder;
  const auto path = folder / "p.bquarry";
  ProjectFile::create(path, "pictures");
  auto session = ProjectSession::open(path);
  session.add_blade({0, "B1", "Marl Tough", "", false, {}});
  bq::Run run;
  run.facts.name = "R1";
  run.facts.blade = "B1";
  run.facts.steel = "Marl Tough";
  session.add_run(run);
  const std::string png = png_bytes(*GreyImage::make(40, 30, 99));
  session.keep_look(0, {DamageFound::bent, 40, true, 62, "", 0},
                    PictureFile{0, "look.png", "png", png}, "A");
  ASSERT_EQ(session.trial().micrographs.size(), 1u);
  EXPECT_EQ(session.trial().micrographs[0].run, "R1");
  EXPECT_EQ(session.trial().micrographs[0].width, 40);
  RunFacts facts = session.trial().runs[0].facts;
  facts.name = "R2";
  session.update_run(0, facts, session.trial().runs[0].plan);
  EXPECT_EQ(session.trial().micrographs[0].run, "R2");
  session.undo();
  EXPECT_EQ(session.trial().micrographs[0].run, "R1");
  session.undo();
  EXPECT_TRUE(session.trial().micrographs.empty());
  EXPECT_TRUE(session.trial().runs[0].events.empty());
  session.redo();
  EXPECT_EQ(ProjectFile::create(folder / "other.bquarry", "x").load().micrographs.size(), 0u);
  EXPECT_EQ(session.trial().micrographs.size(), 1u);
  EXPECT_THROW(session.set_scale({"20x", {0.25, 0.001, "", {}}, ""}), StoreError);
  session.set_scale({"20x", {0.25, 0.001, "", {}}, "", "", 40, 30});
  EXPECT_EQ(session.trial().scales.size(), 1u);
  session.undo();
  EXPECT_TRUE(session.trial().scales.empty());
}

TEST(PictureStore, WhoeverWaitsForTheProjectGoesBetweenTwoPiecesOfAPicture) {
  OneAtATime project;
  int asked = 0;
  for (int piece = 0; piece < 50; ++piece) {
    std::unique_lock held(project);
    std::thread window([&] {
      const std::lock_guard lock(project);
      ++asked;
    });
    while (!project.is_waited_for()) std::this_thread::yield();
    project.let_others();  // this thread holds it: nobody can go, and nothing is waited for
    EXPECT_EQ(asked, piece);
    held.unlock();
    project.let_others();
    {
      const std::lock_guard next(project);
      EXPECT_EQ(asked, piece + 1);
    }
    window.join();
  }
}

}  // namespace
}  // namespace bq
