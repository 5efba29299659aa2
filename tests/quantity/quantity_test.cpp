#include <gtest/gtest.h>
#include <rapidcheck/gtest.h>

#include "quantity/angle.h"
#include "quantity/measure.h"
#include "quantity/number.h"
#include "quantity/said.h"

using namespace bq;

TEST(Quantity, ReadsWhatAPersonTypes) {
  EXPECT_DOUBLE_EQ(parse_force("450 gf")->N(), 450 * 9.80665e-3);
  EXPECT_DOUBLE_EQ(parse_force("1,5 N")->N(), 1.5);
  EXPECT_DOUBLE_EQ(parse_force(" 2.5e1 ozf ")->in(Unit::lbf), 25.0 / 16);
  EXPECT_DOUBLE_EQ(parse_length("18 thou")->mm(), 0.4572);
  EXPECT_NEAR(parse_length("0.018 in")->mm(), 0.4572, 1e-15);
  EXPECT_DOUBLE_EQ(parse_length("5 µm")->mm(), 0.005);
  EXPECT_DOUBLE_EQ(parse_force("312", Unit::gf)->in(Unit::gf), 312);
  EXPECT_DOUBLE_EQ(*parse_angle("24 inclusive", std::nullopt), 12);
  EXPECT_DOUBLE_EQ(*parse_angle("12° per side", std::nullopt), 12);
  EXPECT_DOUBLE_EQ(*parse_angle("24", AngleConvention::inclusive), 12);
}

TEST(Quantity, RefusesWhatIsAmbiguousOrWrong) {
  for (const char* text : {"1,500 N", "1.200,5 N", "450", "450 g", "3 lb", "4 oz", "5 kg", "nan gf",
                           "inf N", "", "gf", "4 50 gf", "4.5.6 N", "7 mm", "1e999 N", "0x10 N"})
    EXPECT_FALSE(parse_force(text).ok()) << text;
  for (const char* text : {"18 mil", "5", "5 gf", "--3 mm"})
    EXPECT_FALSE(parse_length(text).ok()) << text;
  for (const char* text : {"12", "80 per side", "0 per side", "160 inclusive", "-3 inclusive",
                           "12 each", "1,200 per side"})
    EXPECT_FALSE(parse_angle(text, std::nullopt).ok()) << text;
  EXPECT_TRUE(parse_number("0,500").ok());  // a leading zero can only be a decimal
  EXPECT_FALSE(parse_number("0,5", CommaRule::never).ok());
  EXPECT_EQ(parse_force("450 g").refusal().place, 4u);
}

RC_GTEST_PROP(Quantity, ConversionGoesThereAndBack, ()) {
  const double value = *rc::gen::map(rc::gen::inRange(1, 1000000), [](int n) { return n / 977.0; });
  for (const auto& [a, b] : {std::pair(Unit::gf, Unit::lbf), std::pair(Unit::ozf, Unit::N),
                             std::pair(Unit::in, Unit::um)})
    RC_ASSERT(std::fabs(convert(convert(value, a, b), b, a) - value) < 1e-12 * value);
}

RC_GTEST_PROP(Quantity, PrintedNumbersReadBackToTheirDigits, ()) {
  const double value = *rc::gen::inRange(1, 2000000000) / 12345.0;
  const auto read = parse_number(print_number(value, 6), CommaRule::never);
  RC_ASSERT(read.ok());
  RC_ASSERT(std::fabs(*read - value) <= 0.6e-5 * value);
}

TEST(Quantity, PrintsForPeople) {
  EXPECT_EQ(print_number(450), "450");
  EXPECT_EQ(print_number(1309.4), "1309");
  EXPECT_EQ(print_number(123456), "123500");
  EXPECT_EQ(print_number(0.018), "0.018");
  EXPECT_EQ(print_angle(12.14, AngleConvention::inclusive), "24.3° inclusive");
  EXPECT_EQ(print_measure(1.5, Unit::N), "1.5 N");
}

TEST(Said, PlacesAreFilledInAndALanguageMayTurnThemRound) {
  const auto answer = [] {
    return said("{blade} lasts {times} as long", {{"blade", "Marl {times}"}, {"times", "2×"}});
  };
  EXPECT_EQ(answer(), "Marl {times} lasts 2× as long") << "what stands at a place is no sentence";
  say_by([](const char* sentence) -> std::string {
    return std::string_view(sentence).starts_with("{blade}") ? "{times} so lang hält {blade}, {oh"
                                                             : sentence;
  });
  EXPECT_EQ(answer(), "2× so lang hält Marl {times}, {oh");
  EXPECT_EQ(said("No {place} is given.", {{"other", "x"}}), "No {place} is given.");
  EXPECT_EQ(said("Nothing to say."), "Nothing to say.");
  say_by(nullptr);
  EXPECT_EQ(answer(), "Marl {times} lasts 2× as long");
}
