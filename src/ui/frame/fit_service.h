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
  /// Looks what is stale and starts fitting it. Says `changed` when the fits are other ones than
  /// before: not for a change that no fit hangs on, and once for readings that do.
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
  using KnownFits = std::map<std::int64_t, Known>;  ///< by the run's number
  /// The runs of the bench as they stand: what the fits of all are settled by.
  struct Bench {
    std::vector<std::pair<std::int64_t, std::string>> runs;  ///< number and name
    std::vector<std::string> work;                           ///< work_of_runs, in that order
    bool operator==(const Bench&) const = default;
  };
  struct Batch {
    KnownFits fitted;
    Bench bench;
    Fits settled;  ///< all fits of that bench; null when the work was stopped
  };
  static Fits settled(const Bench& bench, const KnownFits& known);
  void fit(std::vector<std::pair<std::uint64_t, Run>> stale, Unit unit);
  void assemble();
  void take(const Batch& batch);

  KnownFits known_;
  Bench bench_;
  Fits fits_ = std::make_shared<std::vector<RunFit>>();
  std::atomic<std::size_t> done_{0};
  int total_ = 0;
  QTimer ticker_;
  LatestJob<Batch> job_;
};

}  // namespace bq::ui
