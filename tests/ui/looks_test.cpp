// What a person must be able to read: contrast, and text that fits where it stands.
#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QLabel>
#include <QStyleOptionComboBox>
#include <QTest>
#include <cmath>

#include "support.h"
#include "ui/findings/findings_view.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/plan/plan_view.h"
#include "ui/plot/plot_view.h"
#include "ui/rack/rack_view.h"
#include "ui/section/section_view.h"
#include "ui/stones/stones_view.h"
#include "ui/theme/theme.h"
#include "ui/verdict/verdict_view.h"

using namespace bq;
using namespace bq::ui;

namespace {

/// Contrast ratio of two colours as WCAG 2.1 defines it.
double contrast(const QColor& a, const QColor& b) {
  const auto luminance = [](const QColor& c) {
    const auto linear = [](double v) {
      return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
    };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
  };
  const double one = luminance(a), two = luminance(b);
  return (std::max(one, two) + 0.05) / (std::min(one, two) + 0.05);
}

/// Every visible text of a widget's children that does not fit; the widgets' own ideas of their
/// size are asked.
QStringList clipped(QWidget* in) {
  QStringList out;
  const auto inside = [&](QWidget* widget) {  // not scrolled away
    return !widget->visibleRegion().isEmpty();
  };
  for (auto* label : in->findChildren<QLabel*>()) {
    if (!label->isVisible() || label->text().isEmpty() || !inside(label)) continue;
    const QSize needed =
        label->wordWrap() ? QSize(0, label->heightForWidth(label->width())) : label->sizeHint();
    if (needed.width() > label->width() + 1 || (needed.height() > label->height() + 2 &&
                                                label->parentWidget()->height() >= label->height()))
      out << QStringLiteral("label \"%1\" needs %2x%3, has %4x%5")
                 .arg(label->text().left(60))
                 .arg(needed.width())
                 .arg(needed.height())
                 .arg(label->width())
                 .arg(label->height());
  }
  for (auto* button : in->findChildren<QAbstractButton*>()) {
    if (!button->isVisible() || button->text().isEmpty() || !inside(button)) continue;
    QFont font = button->font();
    const int text = QFontMetrics(font).horizontalAdvance(button->text());
    const bool whole_in_tip =
        !button->toolTip().isEmpty() && button->toolTip().contains(button->text());
    if ((text > button->width() && !whole_in_tip) || button->height() < QFontMetrics(font).height())
      out << QStringLiteral("button \"%1\" needs %2, has %3")
                 .arg(button->text())
                 .arg(text)
                 .arg(button->width());
  }
  for (auto* box : in->findChildren<QComboBox*>()) {
    if (!box->isVisible() || !inside(box)) continue;
    const int text = box->fontMetrics().horizontalAdvance(box->currentText());
    QStyleOptionComboBox option;
    option.initFrom(box);
    const bool whole_in_tip = box->toolTip().contains(
        box->currentText());  // a name of the user's may be longer than any field
    if (text > box->width() - 26 && !whole_in_tip)
      out << QStringLiteral("choice \"%1\" needs %2, has %3")
                 .arg(box->currentText())
                 .arg(text)
                 .arg(box->width() - 26);
  }
  return out;
}

class Looks : public testing::Test {
 protected:
  void SetUp() override {
    window_ = std::make_unique<MainWindow>();
    window_->show();
    window_->workbench().open(QString::fromStdString(test::demo_project(folder_).string()));
    ASSERT_TRUE(test::wait_for(
        [&] { return window_->workbench().has_project() && !window_->workbench().fitting(); }));
  }
  void expect_all_readable(const char* when) {
    for (const Station station : {Station::rack, Station::section, Station::stones, Station::plan,
                                  Station::bench, Station::findings, Station::verdict}) {
      window_->go_to(station);
      if (station == Station::findings) {
        auto* findings = static_cast<FindingsView*>(window_->station(station));
        ASSERT_TRUE(test::wait_for([&] { return findings->settled(); }));
      }
      if (station == Station::verdict) {
        auto* verdict = static_cast<VerdictView*>(window_->station(station));
        ASSERT_TRUE(test::wait_for([&] { return verdict->settled(); }));
      }
      QTest::qWait(30);
      const QStringList bad = clipped(window_.get());
      EXPECT_TRUE(bad.isEmpty()) << when << ", " << std::string(name_of(station)) << ":\n"
                                 << bad.join('\n').toStdString();
    }
    window_->go_to(Station::section);
    auto* section = static_cast<SectionView*>(window_->station(Station::section));
    for (const auto page :
         {SectionView::Page::marker, SectionView::Page::gauge, SectionView::Page::jig,
          SectionView::Page::lift, SectionView::Page::wear, SectionView::Page::outcomes}) {
      section->open_page(page);
      QTest::qWait(30);
      const QStringList bad = clipped(window_.get());
      EXPECT_TRUE(bad.isEmpty()) << when << ", helper " << int(page) << ":\n"
                                 << bad.join('\n').toStdString();
    }
    window_->go_to(Station::stones);
    auto* stones = static_cast<StonesView*>(window_->station(Station::stones));
    for (int page = 0; page <= int(StonesView::Page::card); ++page) {
      stones->open_page(StonesView::Page(page));
      QTest::qWait(30);
      const QStringList bad = clipped(window_.get());
      EXPECT_TRUE(bad.isEmpty()) << when << ", page " << page << " of Stones:\n"
                                 << bad.join('\n').toStdString();
    }
    window_->go_to(Station::plan);
    auto* plan = static_cast<PlanView*>(window_->station(Station::plan));
    ASSERT_TRUE(test::wait_for([&] { return !plan->model().studying(); }));
    for (int panel = 0; panel <= int(PlanView::Panel::expect); ++panel) {
      plan->open_panel(PlanView::Panel(panel));
      QTest::qWait(30);
      const QStringList bad = clipped(window_.get());
      EXPECT_TRUE(bad.isEmpty()) << when << ", panel " << panel << " of Plan:\n"
                                 << bad.join('\n').toStdString();
    }
    plan->open_page(PlanView::Page::claim);
    QTest::qWait(30);
    const QStringList bad = clipped(window_.get());
    EXPECT_TRUE(bad.isEmpty()) << when << ", claims:\n" << bad.join('\n').toStdString();
    plan->open_page(PlanView::Page::trial);
  }
  test::Folder folder_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace

TEST(Contrast, TextIsSevenToOneAndMarksThreeToOneInEveryTheme) {
  for (const auto name : {ThemeName::chalk, ThemeName::slate, ThemeName::contrast}) {
    choose_theme(name);
    const Theme& t = theme();
    for (const auto& ground : {t.ground, t.panel}) {
      EXPECT_GE(contrast(t.ink, ground), 7.0);
      EXPECT_GE(contrast(t.quiet, ground), 7.0);
      for (int i = 0; i < 6; ++i) EXPECT_GE(contrast(t.series(i), ground), 3.0) << i;
    }
    EXPECT_GE(contrast(t.ink, t.chosen), 7.0);
    EXPECT_GE(contrast(t.on_ochre, t.ochre), 7.0);
    EXPECT_GE(contrast(t.danger, t.panel), 4.5);
  }
  choose_theme(ThemeName::chalk);
}

// Marks that are many are stamped; nobody is to see it. The same points as two series of few are
// drawn as shapes.
TEST(Marks, ManyLookLikeFew) {
  choose_theme(ThemeName::chalk);
  for (int style = 0; style < 6; ++style) {
    PlotSeries all;
    all.line = false;
    all.markers = true;
    all.style = style;
    for (int i = 0; i < 100; ++i) {
      all.x.push_back(1 + 0.0137 * i * i);
      all.y.push_back(150 + 40 * std::sin(0.37 * i));
    }
    PlotSeries first = all, second = all;
    first.x.resize(50);
    first.y.resize(50);
    second.x.erase(second.x.begin(), second.x.begin() + 50);
    second.y.erase(second.y.begin(), second.y.begin() + 50);
    const auto picture = [](const std::vector<PlotSeries>& series) {
      PlotView view;
      view.resize(640, 400);
      view.show_plot({QStringLiteral("x"), QStringLiteral("y")}, series);
      view.show();
      QTest::qWait(30);
      return view.grab().toImage().convertToFormat(QImage::Format_RGB32);
    };
    const QImage stamped = picture({all}), drawn = picture({first, second});
    ASSERT_EQ(stamped.size(), drawn.size());
    double sum = 0;
    int largest = 0, inked = 0;
    for (int y = 0; y < drawn.height(); ++y)
      for (int x = 0; x < drawn.width(); ++x) {
        const int off = std::abs(qGreen(stamped.pixel(x, y)) - qGreen(drawn.pixel(x, y)));
        largest = std::max(largest, off);
        sum += off;
        inked += qGreen(drawn.pixel(x, y)) < 180;
      }
    EXPECT_GT(inked, 500) << style;
    EXPECT_LT(largest, 70) << style;  // an eighth of a pixel off at an edge
    EXPECT_LT(sum / inked, 10) << style;
  }
}

TEST_F(Looks, NothingIsClippedAtTheUsualSizeAndAtTheSmallest) {
  window_->resize(1280, 800);
  expect_all_readable("1280 x 800");
  window_->resize(1100, 700);
  expect_all_readable("1100 x 700");
}

TEST_F(Looks, LongNamesAndInclusiveAnglesFitToo) {
  window_->workbench().edit([](ProjectSession& session) {
    for (std::size_t i = 0; i < 2; ++i) {
      Blade blade = session.trial().blades[i];
      blade.name =
          "Trim knife of the long bench by the north window, number " + std::to_string(i + 1);
      blade.steel = "A steel whose maker was fond of words";
      session.update_blade(i, blade);
    }
  });
  bq::ui::Display display = window_->workbench().display();
  display.angles = AngleConvention::inclusive;
  window_->workbench().set_display(display);
  window_->resize(1280, 800);
  window_->go_to(Station::rack);
  static_cast<RackView*>(window_->station(Station::rack))->choose_blade(0);
  expect_all_readable("long names");
  display.angles = AngleConvention::per_side;
  window_->workbench().set_display(display);
}
