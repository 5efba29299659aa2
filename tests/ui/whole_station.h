#pragma once

#include <QTest>

#include <memory>

#include "support.h"
#include "ui/bench/bench_view.h"
#include "ui/frame/main_window.h"
#include "ui/hand.h"

namespace bq::test {

/// A window on the whole demo, its curves fitted; none when that did not come about.
inline std::unique_ptr<ui::MainWindow> window_on_demo(const Folder& folder) {
  auto window = std::make_unique<ui::MainWindow>();
  window->resize(1280, 800);
  window->show();
  const auto& bench = window->workbench();
  window->workbench().open(QString::fromStdString(whole_demo_project(folder).string()));
  if (!wait_for([&] { return bench.has_project() && !bench.fitting(); })) return nullptr;
  return window;
}

/// The station, gone to, with pages that are made when they are first opened: for whoever walks all
/// its widgets.
inline QWidget* whole_station(ui::MainWindow& window, Station which) {
  window.go_to(which);
  QTest::qWait(20);
  QWidget* station = window.station(which);
  if (which == Station::bench) {
    auto* bench = static_cast<ui::BenchView*>(station);
    for (int page = 0; page <= int(ui::BenchView::Page::protocol); ++page)
      bench->open_page(ui::BenchView::Page(page));
    bench->open_page(ui::BenchView::Page::trial);
  }
  return station;
}

}  // namespace bq::test
