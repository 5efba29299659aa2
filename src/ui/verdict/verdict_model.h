#pragma once

#include <QObject>
#include <functional>

#include "ui/frame/workbench.h"
#include "workflow/limits.h"
#include "workflow/verdict.h"

namespace bq::ui {

/// The verdict on the runs of now under what is wanted of an edge, worked out beside the window.
/// Nothing is worked out while nobody looks.
class VerdictModel : public QObject {
  Q_OBJECT
 public:
  /// `wanted`: limits, wishes and stones as they are in the hand; asked whenever it is worked out.
  VerdictModel(Workbench& workbench, std::function<LimitsFile()> wanted, QObject* parent = nullptr);
  /// Whether the station is looked at; what changed meanwhile is worked out then.
  void set_watched(bool watched);
  /// Works it out anew: something else is wanted.
  void refresh();
  /// Never null: before anything is known its why_not says so.
  [[nodiscard]] const Verdict& verdict() const { return *verdict_; }
  [[nodiscard]] bool settled() const { return !job_.busy(); }

 signals:
  void found();

 private:
  void take(std::shared_ptr<const Verdict> verdict);

  Workbench& workbench_;
  std::function<LimitsFile()> wanted_;
  std::shared_ptr<const Verdict> verdict_ = std::make_shared<const Verdict>();
  std::shared_ptr<ObjectionMemory> memory_;
  LatestJob<std::shared_ptr<Verdict>> job_;
  bool watched_ = false, stale_ = true;
};

}  // namespace bq::ui
