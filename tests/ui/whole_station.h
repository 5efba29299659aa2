#pragma once

#include <QTest>

#include "ui/bench/bench_view.h"
#include "ui/frame/main_window.h"

namespace bq::test {

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
