// Labels and their codes: read back as what they name, never as another project's.
#include "workflow/label_codes.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "store/project_file.h"
#include "support.h"
#include "trial/making.h"

using namespace bq;

TEST(Labels, EveryCodeNamesItsThingAndNothingElse) {
  const test::Folder folder;
  const Trial trial =
      ProjectFile::open(test::demo_project(folder), ProjectFile::Access::read).load();
  const std::string tag = label_tag(1), other = label_tag(2);
  ASSERT_EQ(tag.size(), 6u);
  EXPECT_NE(tag, other);
  const auto labels = labels_of(trial, tag, {}, AngleConvention::per_side);
  std::set<std::string> codes;
  std::size_t runs = 0, stones = 0;
  for (const auto& label : labels) {
    EXPECT_TRUE(codes.insert(label.code).second) << label.code;
    const auto target = read_label(trial, tag, label.code);
    ASSERT_TRUE(target.ok()) << target.refusal().reason;
    const std::string name =
        target->kind == LabelTarget::Kind::blade ? trial.blades[target->index].name
        : target->kind == LabelTarget::Kind::run ? trial.runs[target->index].facts.name
                                                 : trial.shelf[target->index].name;
    EXPECT_EQ(name, label.name);
    runs += target->kind == LabelTarget::Kind::run;
    stones += target->kind == LabelTarget::Kind::abrasive;
    // A reader may send small letters.
    std::string small = label.code;
    for (char& c : small) c = char(std::tolower(static_cast<unsigned char>(c)));
    EXPECT_TRUE(read_label(trial, tag, small).ok());
    EXPECT_NE(read_label(trial, other, label.code).refusal().reason.find("another project"),
              std::string::npos);
  }
  EXPECT_EQ(runs, 3u) << "one under way, two planned";
  EXPECT_GT(stones, 5u);
  for (const char* bad : {"", "BQ", "X", "BQABCDEF", "BQABCDEFB", "BQABCDEFB1x", "BQABCDEFQ1",
                          "BQABCDEFB99999999999999999999"})
    EXPECT_FALSE(read_label(trial, tag, bad).ok()) << bad;
  EXPECT_NE(read_label(trial, tag, "BQ" + tag + "B987654").refusal().reason.find("any more"),
            std::string::npos);
}

TEST(Labels, ABlindRunsTapeShowsItsCodeAlone) {
  const test::Folder folder;
  const Trial trial =
      ProjectFile::open(test::demo_project(folder), ProjectFile::Access::read).load();
  const auto labels = labels_of(trial, label_tag(1), {"K02"}, AngleConvention::per_side);
  for (const auto& label : labels) {
    if (label.name != "K02" && label.name != "K03") continue;
    EXPECT_EQ(label.beneath.empty(), label.name == "K02");
    EXPECT_EQ(label.geometry.has_value(), label.name == "K03");
  }
  // A blade shows the edge that is on it, but not where that would tell a covered run.
  std::size_t drawn = 0;
  for (std::size_t i = 0; i < trial.blades.size(); ++i) {
    const auto on = run_on_edge(trial, i);
    const auto label = std::find_if(labels.begin(), labels.end(), [&](const Label& one) {
      return one.name == trial.blades[i].name;
    });
    if (!on || label == labels.end()) continue;
    const RunFacts& facts = trial.runs[*on].facts;
    EXPECT_EQ(label->geometry, facts.name == "K02" ? std::nullopt : facts.geometry) << label->name;
    drawn += label->geometry.has_value();
  }
  EXPECT_GT(drawn, 3u);
}

TEST(Labels, SheetsHoldTwentySevenWithWholeSymbols) {
  const auto symbol = qr_symbol("BQABCDEFB12");
  ASSERT_GE(symbol.size(), 21u);
  // The three finders: dark rings of seven modules, a light one inside, a dark core.
  const auto finder = [&](std::size_t top, std::size_t left) {
    for (std::size_t r = 0; r < 7; ++r)
      for (std::size_t c = 0; c < 7; ++c) {
        const bool ring = r == 0 || r == 6 || c == 0 || c == 6;
        const bool core = r >= 2 && r <= 4 && c >= 2 && c <= 4;
        EXPECT_EQ(symbol[top + r][left + c], ring || core) << r << "," << c;
      }
  };
  const std::size_t far = symbol.size() - 7;
  finder(0, 0);
  finder(0, far);
  finder(far, 0);
  std::vector<Label> labels(28, Label{"Marl Tough 1", {"Marl Tough"}, {}, {}, "BQABCDEFB1"});
  labels[3].name = std::string(90, 'W');
  EXPECT_EQ(label_pages(labels, 40).size(), 2u);
  EXPECT_EQ(labels_pdf(labels, "t").substr(0, 5), "%PDF-");
}
