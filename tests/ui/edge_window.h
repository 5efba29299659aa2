#pragma once

#include <gtest/gtest.h>

#include <QAbstractButton>
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTableWidget>
#include <QTest>
#include <QWheelEvent>
#include <cmath>

#include "support.h"
#include "trial/edge_map.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/parts/number_entry.h"
#include "ui/rack/blade_page.h"
#include "ui/rack/edge_strip.h"
#include "ui/rack/rack_view.h"
#include "ui/section/gauge_page.h"
#include "ui/section/grind_list.h"
#include "ui/section/grind_row.h"
#include "ui/section/jig_page.h"
#include "ui/section/lens_scale.h"
#include "ui/section/lift_page.h"
#include "ui/section/marker_page.h"
#include "ui/section/outcomes_panel.h"
#include "ui/section/section_drawing.h"
#include "ui/section/section_view.h"
#include "ui/section/wear_page.h"

namespace bq::test {

using namespace bq::ui;

/// The window on the demo project, with what a hand does to it.
class EdgeWindow : public testing::Test {
 protected:
  void SetUp() override {
    path_ = QString::fromStdString(demo_project(folder_).string());
    open();
  }
  void open() {
    window_ = std::make_unique<MainWindow>();
    window_->show();
    window_->workbench().open(path_);
    ASSERT_TRUE(test::wait_for(
        [&] { return window_->workbench().has_project() && !window_->workbench().fitting(); }));
    QTest::qWait(20);
  }
  [[nodiscard]] const Trial& trial() const { return window_->workbench().trial(); }
  int blade(const char* name) {
    for (std::size_t i = 0; i < trial().blades.size(); ++i)
      if (trial().blades[i].name == name) return int(i);
    return -1;
  }
  SectionView* section(const char* name) {
    window_->go_to(Station::section);
    auto* view = static_cast<SectionView*>(window_->station(Station::section));
    view->choose_blade(blade(name));
    QTest::qWait(20);
    return view;
  }
  RackView* rack(const char* name) {
    window_->go_to(Station::rack);
    auto* view = static_cast<RackView*>(window_->station(Station::rack));
    view->choose_blade(blade(name));
    QTest::qWait(20);
    return view;
  }
  template <class T>
  static T* named(QWidget* in, const QString& accessible) {
    for (auto* widget : in->findChildren<T*>())
      if (widget->accessibleName() == accessible) return widget;
    return nullptr;
  }
  static QAbstractButton* button(QWidget* in, const QString& text) {
    for (auto* b : in->findChildren<QAbstractButton*>())
      if (b->text() == text && b->isVisible()) return b;
    return nullptr;
  }
  static void click(QAbstractButton* b) {
    ASSERT_NE(b, nullptr);
    QTest::mouseClick(b, Qt::LeftButton);
    QTest::qWait(5);
  }
  template <class T>
  static T* dialog(QWidget* in) {
    for (auto* d : in->findChildren<QDialog*>())
      if (d->isVisible()) return qobject_cast<T*>(d);
    return nullptr;
  }
  void undo() {
    window_->activateWindow();
    QTest::qWait(10);
    QTest::keyClick(window_.get(), Qt::Key_Z, Qt::ControlModifier);
  }

  Folder folder_;
  QString path_;
  std::unique_ptr<MainWindow> window_;
};

}  // namespace bq::test
