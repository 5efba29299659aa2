#pragma once

#include <QComboBox>
#include <QCoreApplication>

#include "trial/making.h"

namespace bq::ui {

/// Which bevel an angle is measured on. Asked wherever an edge has, or may have, a micro-bevel;
/// elsewhere it is the edge bevel.
class BevelChoice : public QComboBox {
  Q_DECLARE_TR_FUNCTIONS(bq::ui::BevelChoice)

 public:
  explicit BevelChoice(QWidget* parent = nullptr) : QComboBox(parent) {
    addItem(tr("which bevel?"), int(MeasuredBevel::not_said));
    addItem(tr("edge bevel"), int(MeasuredBevel::edge_bevel));
    addItem(tr("micro-bevel"), int(MeasuredBevel::micro_bevel));
    setAccessibleName(tr("Bevel that is measured"));
  }
  /// `asked`: the edge may have a micro-bevel. What was chosen stays until another edge is meant.
  void set_edge(const std::string& edge, bool asked) {
    if (edge == edge_) return;
    edge_ = edge;
    choose(asked ? MeasuredBevel::not_said : MeasuredBevel::edge_bevel);
  }
  void choose(MeasuredBevel bevel) { setCurrentIndex(findData(int(bevel))); }
  [[nodiscard]] MeasuredBevel bevel() const { return MeasuredBevel(currentData().toInt()); }
  [[nodiscard]] bool said() const { return bevel() != MeasuredBevel::not_said; }
  /// Why nothing is kept while it is not said.
  [[nodiscard]] static QString question() {
    return tr("say which bevel was measured, the edge bevel or the micro-bevel on it");
  }

 private:
  std::string edge_ = "none";
};

/// Asks of the edge that a blade has now.
inline void ask_bevel(BevelChoice& choice, const Trial& trial, std::size_t blade) {
  choice.set_edge(std::to_string(trial.blades[blade].id) + ":" +
                      std::to_string(makings_of(trial, blade).all.size()),
                  may_have_micro_bevel(trial, blade));
}

}  // namespace bq::ui
