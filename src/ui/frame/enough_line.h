#pragma once

#include <QLabel>

#include "ui/frame/workbench.h"

namespace bq::ui {

/// "How sure": whether enough runs were made to choose an edge, as the Verdict says it, on any page
/// that asks. Worked out beside the window while the line is on a page that is looked at; empty
/// where there is nothing to say yet.
class EnoughLine : public QLabel {
  Q_OBJECT
 public:
  explicit EnoughLine(Workbench& workbench, QWidget* parent = nullptr);
  /// Off: the line is empty and nothing is worked out for it.
  void set_wanted(bool wanted);
  [[nodiscard]] bool settled() const { return !job_.busy(); }
  /// Of every such line in a widget.
  [[nodiscard]] static bool all_settled(const QWidget& in);

 protected:
  void showEvent(QShowEvent* event) override;

 private:
  void refresh();

  Workbench& workbench_;
  LatestJob<std::shared_ptr<QString>> job_;
  bool wanted_ = true, stale_ = true;
};

}  // namespace bq::ui
