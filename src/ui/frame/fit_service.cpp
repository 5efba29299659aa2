#include "ui/frame/fit_service.h"

#include "bluntness/bench_scatter.h"

namespace bq::ui {

FitService::FitService(QObject* parent) : QObject(parent) {
  ticker_.setInterval(100);
  connect(&ticker_, &QTimer::timeout, this, [this] { emit progress(int(done_.load()), total_); });
}

void FitService::clear() {
  job_.stop();
  known_.clear();
  bench_ = {};
  fits_ = std::make_shared<std::vector<RunFit>>();
}

void FitService::belongs_to(std::function<std::uint64_t()> number) {
  job_.belongs_to(std::move(number), [this] { take({}); });
}

void FitService::stop() { job_.stop(); }

void FitService::refresh(const ProjectSession& session) {
  const Trial& trial = session.trial();
  const Unit unit = trial.unit();
  Bench bench{{}, work_of_runs(trial)};
  std::vector<std::pair<std::uint64_t, Run>> stale;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const Run& run = trial.runs[i];
    bench.runs.emplace_back(run.id, run.facts.name);
    const auto found = known_.find(run.id);
    if (found == known_.end() || found->second.revision != session.revision(i) ||
        found->second.unit != unit)
      stale.emplace_back(session.revision(i), run);
  }
  const bool same_bench = bench == bench_;
  bench_ = std::move(bench);
  if (!stale.empty()) fit(std::move(stale), unit);
  // While readings of the same runs are being fitted the curves that are there stay.
  if (!same_bench) assemble();
}

void FitService::fit(std::vector<std::pair<std::uint64_t, Run>> stale, Unit unit) {
  total_ = int(stale.size());
  if (total_ > 20) ticker_.start();
  const auto runs = std::make_shared<std::vector<std::pair<std::uint64_t, Run>>>(std::move(stale));
  job_.ask(
      [this, runs, unit, bench = bench_, known = known_](const std::stop_token& stop) mutable {
        done_ = 0;
        Batch batch;
        std::vector<RunFit> fitted(runs->size());
        stats::Work work{stats::core_count(), stop, &done_};
        if (!stats::for_each_piece(runs->size(), work, [&](std::size_t i) {
              fitted[i] = fit_run((*runs)[i].second, unit);
            }))
          return batch;
        for (std::size_t i = 0; i < runs->size(); ++i) {
          const auto& [revision, run] = (*runs)[i];
          known[run.id] = batch.fitted[run.id] = {revision, unit,
                                                  std::make_shared<RunFit>(std::move(fitted[i]))};
        }
        batch.settled = settled(bench, known);
        batch.bench = std::move(bench);
        return batch;
      },
      [this](const Batch& batch) { take(batch); });
}

void FitService::take(const Batch& batch) {
  for (const auto& [id, entry] : batch.fitted) known_[id] = entry;
  if (!job_.busy()) {
    ticker_.stop();
    emit progress(0, 0);
  }
  if (!batch.settled || batch.bench != bench_) return assemble();
  fits_ = batch.settled;
  emit changed();
}

FitService::Fits FitService::settled(const Bench& bench, const KnownFits& known) {
  auto fits = std::make_shared<std::vector<RunFit>>();
  fits->reserve(bench.runs.size());
  for (const auto& [id, name] : bench.runs) {
    const auto found = known.find(id);
    if (found != known.end())
      fits->push_back(*found->second.fit);
    else
      fits->emplace_back().why_not = "being fitted";
    fits->back().run = name;
  }
  settle_on_bench(*fits, bench.work, stats::core_count());
  return fits;
}

void FitService::assemble() {
  fits_ = settled(bench_, known_);
  emit changed();
}

}  // namespace bq::ui
