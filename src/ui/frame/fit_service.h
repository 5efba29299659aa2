#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <map>
#include <memory>

#include "bluntness/run_fits.h"
#include "ui/frame/latest_job.h"
#include "workflow/project_session.h"

namespace bq::ui {

/// Keeps the blunting curve of every run up to date, off the window's thread: only runs whose
/// readings changed are copied and fitted again.
class FitService : public QObject {
  Q_OBJECT
 public:
  using Fits = std::shared_ptr<const std::vector<RunFit>>;
  explicit FitService(QObject* parent = nullptr);
  /// Looks what is stale and starts fitting it.
  void refresh(const ProjectSession& session);
  void clear();
  /// See LatestJob::belongs_to: runs of two projects have the same numbers.
  void belongs_to(std::function<std::uint64_t()> number);
  void stop();
  /// One per run of the session at the last refresh; runs not fitted yet have why_not "being
  /// fitted".
  [[nodiscard]] Fits fits() const { return fits_; }
  [[nodiscard]] bool busy() const { return job_.busy(); }

 signals:
  void changed();
  /// `done` of `total` runs; total 0 when nothing runs.
  void progress(int done, int total);

 private:
  struct Known {
    std::uint64_t revision = 0;
    Unit unit = Unit::gf;
    std::shared_ptr<const RunFit> fit;
  };
  using Batch = std::vector<std::pair<std::int64_t, Known>>;
  void assemble();
  void take(const Batch& batch);

  std::map<std::int64_t, Known> known_;
  std::vector<std::pair<std::int64_t, std::string>> order_;
  std::vector<std::string> work_;  ///< work_of_runs, in that order
  Fits fits_ = std::make_shared<std::vector<RunFit>>();
  std::atomic<std::size_t> done_{0};
  int total_ = 0;
  QTimer ticker_;
  LatestJob<Batch> job_;
};

}  // namespace bq::ui
