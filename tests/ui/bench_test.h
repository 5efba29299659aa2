#pragma once

#include <gtest/gtest.h>

#include <QPushButton>
#include <QTest>

#include "bench_hand.h"
#include "support.h"
#include "ui/hand.h"

namespace bq::test {

/// A project with runs to make, and the Bench of a window on it.
class Bench : public testing::Test {
 protected:
  void make(int runs, const std::vector<std::int64_t>& checkpoints, int each,
            const std::function<void(BenchProtocol&)>& change = {}) {
    BenchProtocol protocol;
    protocol.debounce_ms = 0;
    protocol.gate = false;
    if (change) change(protocol);
    path_ = folder_ / "bench.bquarry";
    make_bench_project(path_, runs, checkpoints, each, protocol);
  }
  void open() {
    window_ = std::make_unique<ui::MainWindow>();
    window_->show();
    window_->workbench().open(QString::fromStdString(path_.string()));
    ASSERT_TRUE(wait_for([&] { return window_->workbench().has_project(); }));
    window_->go_to(Station::bench);
    hand().bench()->setFocus();
  }
  BenchHand hand() { return {*window_}; }
  ui::BenchModel& model() { return hand().model(); }
  const bq::Run& run() { return *model().run(); }
  void press(int key) { hand().press(key); }
  void type(const char* text) {
    QTest::keyClick(hand().bench()->trial(), *text);  // the first figure finds the field by itself
    QTest::keyClicks(hand().bench()->entry(), QString::fromUtf8(text + 1));
    QTest::keyClick(hand().bench()->entry(), Qt::Key_Return);
  }
  QString said() {
    EXPECT_TRUE(wait_for([&] { return window_->workbench().all_kept(); }));
    return hand().bench()->kept_line();
  }
  QString instruction() { return hand().bench()->instruction(); }
  void use(InstrumentRole role, const QString& link, const std::string& request) {
    InstrumentProfile profile = usual_profile(role);
    profile.port = link.toStdString();
    profile.request = request;
    ASSERT_TRUE(model().desk().set_profile(profile));
    ASSERT_TRUE(wait_for([&] { return model().desk().open(role); }));
  }
  QString link(const char* name) { return QString::fromStdString((folder_ / name).string()); }
  template <class T>
  T* page(ui::BenchView::Page which) {
    hand().bench()->open_page(which);
    return static_cast<T*>(hand().bench()->page(which));
  }
  static QPushButton* button(QWidget* in, const QString& start) {
    QTest::qWait(10);  // new buttons show with the next turn
    for (auto* b : in->findChildren<QPushButton*>())
      if (b->text().startsWith(start) && b->isVisible()) return b;
    return nullptr;
  }

  Folder folder_;
  std::filesystem::path path_;
  std::unique_ptr<ui::MainWindow> window_;
};

}  // namespace bq::test
