#pragma once

#include <QWidget>
#include <vector>

#include "bluntness/recommendation.h"
#include "ui/frame/workbench.h"

namespace bq::ui {

/// How sure the first place is, at a glance: one band, shared among the edges by their chance to
/// last longest. Those that cannot be told apart from the first stand under one bracket.
class ChanceBand : public QWidget {
  Q_OBJECT
 public:
  explicit ChanceBand(const Workbench& workbench, QWidget* parent = nullptr);
  /// Ranked edges, the first first; empty: nothing is shown.
  void show_edges(const std::vector<RankedEdge>& edges);
  /// What the band shows, in words: "Cairn Hard 12° per side, 25 µm 80 %, …".
  [[nodiscard]] QString words() const;

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  struct Part {
    QString name;
    std::string steel;
    double chance = 0;
    bool tied = false;  ///< or the first itself
  };
  const Workbench& workbench_;
  std::vector<Part> parts_;  ///< those with a chance worth a name, rank by rank
  double others_ = 0;
};

}  // namespace bq::ui
