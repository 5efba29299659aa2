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
  order_.clear();
  fits_ = std::make_shared<std::vector<RunFit>>();
}

void FitService::belongs_to(std::function<std::uint64_t()> number) {
  job_.belongs_to(std::move(number), [this] { take({}); });
}

void FitService::stop() { job_.stop(); }

void FitService::refresh(const ProjectSession& session) {
  const Trial& trial = session.trial();
  const Unit unit = trial.unit();
  order_.clear();
  work_ = work_of_runs(trial);
  std::vector<std::pair<std::uint64_t, Run>> stale;
  for (std::size_t i = 0; i < trial.runs.size(); ++i) {
    const Run& run = trial.runs[i];
    order_.emplace_back(run.id, run.facts.name);
    const auto found = known_.find(run.id);
    if (found == known_.end() || found->second.revision != session.revision(i) ||
        found->second.unit != unit)
      stale.emplace_back(session.revision(i), run);
  }
  if (stale.empty()) {
    assemble();
    return;
  }
  total_ = int(stale.size());
  if (total_ > 20) ticker_.start();
  auto runs = std::make_shared<std::vector<std::pair<std::uint64_t, Run>>>(std::move(stale));
  job_.ask(
      [this, runs, unit](const std::stop_token& stop) {
        done_ = 0;
        std::vector<RunFit> fitted(runs->size());
        stats::Work work{stats::core_count(), stop, &done_};
        Batch batch;
        if (!stats::for_each_piece(runs->size(), work, [&](std::size_t i) {
              fitted[i] = fit_run((*runs)[i].second, unit);
            }))
          return batch;
        for (std::size_t i = 0; i < runs->size(); ++i)
          batch.emplace_back(
              (*runs)[i].second.id,
              Known{(*runs)[i].first, unit, std::make_shared<RunFit>(std::move(fitted[i]))});
        return batch;
      },
      [this](const Batch& batch) { take(batch); });
  assemble();
}

void FitService::take(const Batch& batch) {
  for (const auto& [id, entry] : batch) known_[id] = entry;
  if (!job_.busy()) {
    ticker_.stop();
    emit progress(0, 0);
  }
  assemble();
}

void FitService::assemble() {
  auto fits = std::make_shared<std::vector<RunFit>>();
  fits->reserve(order_.size());
  for (const auto& [id, name] : order_) {
    const auto found = known_.find(id);
    if (found != known_.end())
      fits->push_back(*found->second.fit);
    else
      fits->emplace_back().why_not = "being fitted";
    fits->back().run = name;
  }
  settle_on_bench(*fits, work_);
  fits_ = std::move(fits);
  emit changed();
}

}  // namespace bq::ui
