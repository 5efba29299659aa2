#include "edge/asked_number.h"

#include <gtest/gtest.h>
#include <rapidcheck.h>

using namespace bq;

namespace {

double worth(const char* typed, const AskedNumber& asked) {
  const auto read = read_asked(typed, asked);
  EXPECT_TRUE(read.ok()) << typed << ": " << (read ? "" : read.refusal().reason);
  return read ? *read : -1;
}
std::string why(const char* typed, const AskedNumber& asked) {
  const auto read = read_asked(typed, asked);
  EXPECT_FALSE(read.ok()) << typed << " was taken as " << (read ? *read : 0);
  return read ? "" : read.refusal().reason;
}

const AskedNumber kWidth{0, 5000, "µm thick behind the bevel", false, false, {}};
const AskedNumber kStock{0.05, 50, "mm", false, false, {}};
const AskedNumber kEdge{0.1, 79.9, "° per side", false, false, AngleConvention::per_side};
const AskedNumber kDoubled{0.1, 159.8, "° incl.", false, false, AngleConvention::inclusive};

TEST(AskedNumber, TakesEveryUnitOfItsKindAndBothDecimalSigns) {
  EXPECT_EQ(worth("11.5", kStock), 11.5);
  EXPECT_EQ(worth("2,5", kStock), 2.5);
  EXPECT_EQ(worth(" 0.254 ", kStock), 0.254);
  EXPECT_EQ(worth("10 thou", kStock), 0.254);
  EXPECT_EQ(worth("0.5in", kStock), 12.7);
  EXPECT_EQ(worth("62.5", kWidth), 62.5);
  EXPECT_EQ(worth("62.5 µm", kWidth), 62.5);
  EXPECT_EQ(worth("62.5 µm thick behind the bevel", kWidth), 62.5);
  EXPECT_EQ(worth("0,03 mm", kWidth), 30);
  EXPECT_EQ(worth("12", {0, 99, "mm³/min", false, false, {}}), 12);
  EXPECT_EQ(worth("12 mm³/min", {0, 99, "mm³/min", false, false, {}}), 12);
  EXPECT_EQ(worth("1 lbf", {0, 9, "N", false, false, {}}), 4.4482216152605);
}

TEST(AskedNumber, AnEdgeAngleMayBeSaidInEitherConvention) {
  EXPECT_EQ(worth("15", kEdge), 15);
  EXPECT_EQ(worth("15°", kEdge), 15);
  EXPECT_EQ(worth("30 inclusive", kEdge), 15);
  EXPECT_EQ(worth("30° incl.", kEdge), 15);
  EXPECT_EQ(worth("15 per side", kDoubled), 30);
  EXPECT_EQ(worth("30", kDoubled), 30);
  EXPECT_NE(why("1 inclusive", {0, 5, "°", false, false, {}}).find("not an edge angle"),
            std::string::npos);
}

TEST(AskedNumber, ADesignationStandsWhereAParticleSizeIsAsked) {
  const AskedNumber finish{0.1, 500, "µm", false, true, {}};
  EXPECT_NEAR(worth("P1000", finish), 18.3, 0.2);
  EXPECT_NE(why("P1000", kWidth), "");
  EXPECT_NE(why("Q99", finish), "");
}

TEST(AskedNumber, RefusesWithTheReasonTheRangeAndTheUnit) {
  EXPECT_NE(why("1,500", kWidth).find("thousands"), std::string::npos);
  EXPECT_NE(why("51", kStock).find("from 0.05 to 50 mm"), std::string::npos);
  EXPECT_NE(why("90", kEdge).find("from 0.1 to 79.9° per side"), std::string::npos);
  EXPECT_NE(why("3 gf", kStock).find("a length is wanted"), std::string::npos);
  EXPECT_NE(why("3 mil", kStock).find("thou or mm"), std::string::npos);
  EXPECT_NE(why("2.5", {0, 9, "cuts", true, false, {}}).find("whole"), std::string::npos);
  EXPECT_NE(why("3 bananas", {0, 9, "min", false, false, {}}).find("in min"), std::string::npos);
  for (const char* nothing : {"", " ", "mm", "nan", "inf", "--3", "1e999", "3 4"})
    EXPECT_NE(why(nothing, kStock), "") << nothing;
}

TEST(AskedNumber, IsShownInFullWhereItIsShort) {
  EXPECT_EQ(print_asked(11.5, 2), "11.50");
  EXPECT_EQ(print_asked(0.254, 2), "0.254");
  EXPECT_EQ(print_asked(1.0 / 3, 2), "0.33");
  EXPECT_EQ(print_asked(62.5, 0), "62.5");
}

TEST(AskedNumber, NeverTakesWhatIsOutsideAndReadsBackWhatItShows) {
  EXPECT_TRUE(rc::check("any text", [](const std::string& text) {
    for (const AskedNumber& asked : {kWidth, kStock, kEdge, kDoubled})
      if (const auto read = read_asked(text, asked))
        RC_ASSERT(*read >= asked.least && *read <= asked.most);
  }));
  EXPECT_TRUE(rc::check("any number of up to nine figures", [] {
    const double value = *rc::gen::inRange(50, 50'000'000) / 1e6 + 0.05;
    const auto read = read_asked(print_asked(value, 2) + " mm", kStock);
    RC_ASSERT(read.ok());
    RC_ASSERT(std::abs(*read - value) < 1e-9 || std::abs(*read - value) <= 0.005);
  }));
}

}  // namespace
