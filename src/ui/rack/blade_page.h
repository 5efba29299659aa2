#pragma once

#include <QWidget>
#include <vector>

#include "ui/frame/workbench.h"

class QLayout;
class QLabel;
class QListWidget;
class QPushButton;

namespace bq::inline trial {
struct EdgeNow;
}

namespace bq::ui {

class EdgeStrip;
class PlaceEntry;

/// One blade: the map of its edge, what intake found, the edge as it is now, and its history.
class BladePage : public QWidget {
  Q_OBJECT
 public:
  explicit BladePage(Workbench& workbench, QWidget* parent = nullptr);
  void show_blade(int index);
  [[nodiscard]] EdgeStrip* strip() const { return strip_; }
  [[nodiscard]] QString spread() const;
  [[nodiscard]] QString worst() const;
  [[nodiscard]] QString to_do() const;  ///< open work in its order

 signals:
  void stones_wanted(int blade);

 private:
  void set_up_words();
  QLayout* make_layers();  ///< what of the edge is drawn
  QLayout* make_intake();
  QLayout* make_edge();
  QLayout* make_past();
  void listen();
  void refresh();
  void refresh_to_do(const EdgeNow& edge);
  void close_hanging();
  void refresh_now(const EdgeNow& edge);
  void refresh_history();

  Workbench& workbench_;
  int blade_ = -1;
  EdgeStrip* strip_;
  PlaceEntry* entry_;
  QLabel *spread_, *worst_, *to_do_, *now_;
  QPushButton *passes_, *stones_;
  std::vector<QPushButton*> checks_;
  QListWidget* history_;
  QPushButton *steel_, *medium_, *remove_;
};

}  // namespace bq::ui
