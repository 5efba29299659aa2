#pragma once

#include <gtest/gtest.h>

#include <QPushButton>
#include <QTest>
#include <memory>

#include "lens/png_bytes.h"
#include "rehearsal/virtual_microscope.h"
#include "support.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"
#include "ui/lens/lens_canvas.h"
#include "ui/lens/lens_view.h"
#include "ui/parts/number_entry.h"

namespace bq::test {

using namespace bq::ui;

/// The window on Lens with the demo's readings, and a hand for its picture.
class LensWindow : public testing::Test {
 protected:
  void SetUp() override { open(QString::fromStdString(test::demo_project(folder_).string())); }
  void open(const QString& path) {
    path_ = path;
    window_ = std::make_unique<MainWindow>();
    window_->show();
    window_->workbench().open(path);
    ASSERT_TRUE(wait_for(
        [&] { return window_->workbench().has_project() && !window_->workbench().fitting(); }));
    QTest::keyClick(window_.get(), Qt::Key_6, Qt::ControlModifier);
    view_ = static_cast<LensView*>(window_->station(Station::lens));
    QTest::qWait(20);
  }
  [[nodiscard]] LensModel& model() { return view_->model(); }
  [[nodiscard]] const Trial& trial() { return window_->workbench().trial(); }
  LensCanvas* canvas() { return view_->canvas(); }
  /// A simulated picture as a file; its truth.
  MicroscopeTruth file(const char* name, const MicroscopeSubject& subject, MicroscopeShot shot) {
    const auto picture = *micrograph(subject, shot);
    const std::string bytes = png_bytes(picture.image);
    folder_.write(name, bytes);
    return picture.truth;
  }
  void bring(const char* name) {
    const auto before = trial().micrographs.size();
    model().bring_in({QString::fromStdString((folder_ / name).string())});
    ASSERT_TRUE(wait_for([&] {
      return trial().micrographs.size() == before + 1 && !model().busy() && model().pixels();
    })) << window_->message().toStdString();
  }
  void click(Spot at) {
    QTest::mouseClick(canvas(), Qt::LeftButton, {}, canvas()->screen_of(at).toPoint());
  }
  void key(int key, Qt::KeyboardModifiers modifiers = {}) {
    QTest::keyClick(canvas(), Qt::Key(key), modifiers);
  }
  /// The scale from the picture's own bar: K, both ends, the length, the button.
  void calibrate(const MicroscopeTruth& truth) {
    key(Qt::Key_K);
    click(truth.bar_from);
    click(truth.bar_to);
    ASSERT_EQ(model().points().size(), 2u);
    auto* known = test::named<NumberEntry>(view_, "Known length");
    ASSERT_TRUE(known && known->isVisible());
    known->setValue(truth.bar_um);
    QTest::mouseClick(test::shown_button(view_, "Keep the scale"), Qt::LeftButton);
    ASSERT_TRUE(model().scale()) << window_->message().toStdString();
  }

  test::Folder folder_;
  QString path_;
  std::unique_ptr<MainWindow> window_;
  LensView* view_ = nullptr;
};

}  // namespace bq::test
