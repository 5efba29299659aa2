#include <gtest/gtest.h>
#include <rapidcheck.h>

#include "instrument/instrument_line.h"
#include "stats/random.h"

using namespace bq;

namespace {

InstrumentLine line_for(const InstrumentProfile& profile) {
  auto parser = LineParser::make(profile);
  EXPECT_TRUE(parser.ok()) << (parser.ok() ? "" : parser.refusal().reason);
  return InstrumentLine(*parser);
}

std::vector<InstrumentReading> readings_of(InstrumentLine& line, std::string_view bytes) {
  std::vector<InstrumentReading> out;
  line.feed(bytes, [&](const InstrumentReading& r) { out.push_back(r); });
  return out;
}

InstrumentReading read_one(std::string_view text,
                           InstrumentProfile profile = usual_profile(InstrumentRole::gauge)) {
  return LineParser::make(profile)->parse({text, true, {}});
}

}  // namespace

TEST(InstrumentLine, BuiltInFormatTakesNumberAndUnitAndNothingElse) {
  const struct {
    const char* text;
    double value;
    Unit unit;
    double step;
  } good[] = {{"312 gf", 312, Unit::gf, 1},     {"312gf", 312, Unit::gf, 1},
              {"+3.06 N", 3.06, Unit::N, 0.01}, {" 0.450 lbf ", 0.45, Unit::lbf, 0.001},
              {".5 N", 0.5, Unit::N, 0.1},      {"-2 gf", -2, Unit::gf, 1},
              {"12. gf", 12, Unit::gf, 1}};
  for (const auto& item : good) {
    const auto r = read_one(item.text);
    EXPECT_EQ(r.status, ReadingStatus::ok) << item.text << ": " << r.why;
    EXPECT_EQ(r.value, item.value);
    EXPECT_EQ(r.unit.unit, item.unit);
    EXPECT_NEAR(r.resolution, item.step, 1e-12);
  }
  for (const char* bad : {"",
                          "312",
                          "gf",
                          "312 g",
                          "312 mm",
                          "312  gf",
                          "312 gf ok",
                          "3e2 gf",
                          "1.2.3 gf",
                          "--3 gf",
                          "+-3 gf",
                          "3,5 gf",
                          "nan gf",
                          "inf gf",
                          "312 gf413 gf",
                          "0x10 gf",
                          "\x01"
                          "312 gf",
                          "1234567890123456 gf",
                          "312 deg",
                          "312 \xff"}) {
    const auto r = read_one(bad);
    EXPECT_EQ(r.status, ReadingStatus::garbage) << bad;
    EXPECT_FALSE(r.why.empty());
  }
}

TEST(InstrumentLine, CapacityAndUnitsAreChecked) {
  auto profile = usual_profile(InstrumentRole::gauge);
  profile.capacity = 500;
  EXPECT_EQ(read_one("499 gf", profile).status, ReadingStatus::ok);
  EXPECT_EQ(read_one("500 gf", profile).status, ReadingStatus::overload);
  EXPECT_EQ(read_one("-501 gf", profile).status, ReadingStatus::overload);
  EXPECT_EQ(read_one("5 N", profile).status, ReadingStatus::overload) << "5 N is 510 gf";
  EXPECT_EQ(read_one("4.9 N", profile).status, ReadingStatus::ok);
  EXPECT_EQ(read_one("3.2 deg", usual_profile(InstrumentRole::angle)).status, ReadingStatus::ok);
  EXPECT_EQ(read_one("3.2 \xc2\xb0", usual_profile(InstrumentRole::angle)).status,
            ReadingStatus::ok);
}

TEST(InstrumentLine, UsersPatternsCoverOtherGauges) {
  auto profile = usual_profile(InstrumentRole::gauge);
  profile.pattern = R"(ST,(?<flag>\w\w),(?<value>[+-]?\d+\.\d)(?<unit>[a-zA-Z]+)?)";
  profile.overload_text = "OL";
  profile.unstable_text = "US";
  EXPECT_EQ(read_one("ST,GS,+0312.5gf", profile).value, 312.5);
  EXPECT_EQ(read_one("ST,GS,0312.5", profile).unit.unit, Unit::gf)
      << "the profile's unit where the line has none";
  EXPECT_EQ(read_one("ST,US,0312.5gf", profile).status, ReadingStatus::unstable);
  EXPECT_EQ(read_one("ST,OL,9999.9gf", profile).status, ReadingStatus::overload);
  EXPECT_EQ(read_one("XST,GS,0312.5gf", profile).status, ReadingStatus::garbage)
      << "the whole line must fit";
  EXPECT_EQ(read_one("ST,GS,0312.5gfx\t", profile).status, ReadingStatus::garbage);
  for (const char* bad : {"(", "\\d+", "(?<value", "(?<wrong>\\d+)", "(?C1)(?<value>\\d+)\\C"}) {
    profile.pattern = bad;
    EXPECT_FALSE(LineParser::make(profile).ok()) << bad;
  }
  profile.pattern = std::string(500, 'a');
  EXPECT_FALSE(LineParser::make(profile).ok());
  // A pattern that would take for ever gives up instead.
  profile.pattern = "(?<value>(a+)+)[bc]";
  EXPECT_NE(read_one(std::string(100, 'a'), profile).why.find("steps"), std::string::npos);
}

// Cut the stream anywhere: the same readings.
TEST(InstrumentLine, FramingDoesNotCareHowBytesArrive) {
  EXPECT_TRUE(rc::check("pieces", [] {
    const std::string stream =
        "tail 1 gf\n312 gf\r\n\n" + std::string(300, '7') + "\n 5 N\nbad\n313 gf\n";
    auto whole = line_for(usual_profile(InstrumentRole::gauge));
    const auto expected = readings_of(whole, stream);
    auto line = line_for(usual_profile(InstrumentRole::gauge));
    std::vector<InstrumentReading> got;
    for (std::size_t at = 0; at < stream.size();) {
      const auto size = *rc::gen::inRange<std::size_t>(1, 40);
      for (const auto& r : readings_of(line, std::string_view(stream).substr(at, size)))
        got.push_back(r);
      at += size;
    }
    RC_ASSERT(got.size() == expected.size());
    for (std::size_t i = 0; i < got.size(); ++i)
      RC_ASSERT(got[i].raw == expected[i].raw && got[i].status == expected[i].status);
    RC_ASSERT(whole.counts().good == 3);
  }));
}

// "12 gf" may be the tail of "312 gf": never a reading after a break, unless silence shows that it
// began there.
TEST(InstrumentLine, LinesWhoseBeginningWasMissedAreNotTaken) {
  auto line = line_for(usual_profile(InstrumentRole::gauge));
  line.begin();
  auto got = readings_of(line, "12 gf\n313 gf\n");
  ASSERT_EQ(got.size(), 2u);
  EXPECT_EQ(got[0].status, ReadingStatus::garbage);
  EXPECT_EQ(got[1].value, 313);
  line.begin();
  line.quiet([](const InstrumentReading&) {});
  got = readings_of(line, "314 gf\n");
  EXPECT_EQ(got.at(0).status, ReadingStatus::ok);
  // An unfinished line is reported when the line falls silent, and does not glue itself to the next
  // one.
  EXPECT_TRUE(readings_of(line, "31").empty());
  std::vector<InstrumentReading> left;
  line.quiet([&](const InstrumentReading& r) { left.push_back(r); });
  ASSERT_EQ(left.size(), 1u);
  EXPECT_EQ(left[0].status, ReadingStatus::garbage);
  EXPECT_EQ(readings_of(line, "5 gf\n").at(0).value, 5);
}

// Noise between good lines: every good line comes through, no bad line does, and all are counted.
TEST(InstrumentLine, NoGoodLineIsLostAndNoBadOneTaken) {
  stats::Random random(20299);
  auto line = line_for(usual_profile(InstrumentRole::gauge));
  line.quiet([](const InstrumentReading&) {});
  std::string stream;
  std::vector<double> sent;
  long bad = 0;
  for (int i = 0; i < 20000; ++i) {
    if (random.below(4) == 0) {
      std::string noise;
      for (auto n = 1 + random.below(180); n > 0; --n) noise.push_back(char(random.below(256)));
      std::erase(noise, '\n');
      while (!noise.empty() && noise.back() == '\r') noise.pop_back();
      if (noise.empty()) noise = "?";
      noise.front() = '~';  // it must not be a number by chance
      stream += noise + "\n";
      ++bad;
    }
    sent.push_back(double(100 + i % 2000));
    stream += std::to_string(100 + i % 2000) + " gf\n";
  }
  std::vector<double> taken;
  while (!stream.empty()) {
    const auto size = std::min<std::size_t>(stream.size(), 1 + random.below(700));
    for (const auto& r : readings_of(line, std::string_view(stream).substr(0, size)))
      if (r.status == ReadingStatus::ok) taken.push_back(r.value);
    stream.erase(0, size);
  }
  EXPECT_EQ(taken, sent);
  EXPECT_EQ(line.counts().garbage, bad);
}

TEST(InstrumentLine, KeyedReadingsPassTheSameGate) {
  EXPECT_EQ(keyed("312", Unit::gf, {}).unit.unit, Unit::gf);
  EXPECT_EQ(keyed("3,06 N", Unit::gf, UnitKind::force).value, 3.06);
  for (const char* bad : {"", "0", "-3", "abc", "12 mm", "5 thou"})
    EXPECT_EQ(keyed(bad, Unit::gf, UnitKind::force).status, ReadingStatus::garbage) << bad;
  EXPECT_EQ(keyed("5 um", Unit::gf, {}).status, ReadingStatus::garbage);
}

TEST(InstrumentLine, ProfilesThatCannotWorkAreRefused) {
  auto profile = usual_profile(InstrumentRole::gauge);
  EXPECT_EQ(fault_of(profile), "");
  for (const auto role : {InstrumentRole::gauge, InstrumentRole::force_cell, InstrumentRole::angle})
    EXPECT_EQ(fault_of(usual_profile(role)), "");
  profile.baud = 300;
  EXPECT_NE(fault_of(profile), "");
  profile = usual_profile(InstrumentRole::force_cell);
  profile.unit = {Unit::mm};
  EXPECT_NE(fault_of(profile), "");
  profile = usual_profile(InstrumentRole::angle);
  profile.unit = {Unit::N};
  EXPECT_NE(fault_of(profile), "");
}
