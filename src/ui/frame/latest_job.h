#pragma once

#include <QString>
#include <functional>
#include <memory>
#include <optional>
#include <thread>

#include "ui/frame/hand_over.h"
#include "ui/frame/job_news.h"

namespace bq::ui {

/// Runs work on a thread and hands its result back on the window's thread. While one piece runs
/// only the newest of those asked for meanwhile is kept: dragging never queues up stale answers.
template <class Result>
class LatestJob {
 public:
  using Work = std::function<Result(std::stop_token)>;
  using Done = std::function<void(Result)>;

  LatestJob() : alive_(std::make_shared<bool>(true)) {}
  ~LatestJob() {
    *alive_ = false;
    worker_.request_stop();  // the jthread waits for its work to notice
  }
  LatestJob(const LatestJob&) = delete;
  LatestJob& operator=(const LatestJob&) = delete;

  void ask(Work work, Done done) {
    if (busy_) {
      waiting_ = {std::move(work), std::move(done)};
      return;
    }
    start(std::move(work), std::move(done));
  }
  void stop() {
    waiting_.reset();
    worker_.request_stop();
  }
  /// What this answers is of one project: `number` says which is open. A result that comes back for
  /// another one is dropped, and `dropped` (if given) is called instead.
  void belongs_to(std::function<std::uint64_t()> number, std::function<void()> dropped = {}) {
    number_ = std::move(number);
    dropped_ = std::move(dropped);
  }
  [[nodiscard]] bool busy() const { return busy_; }

 private:
  void start(Work work, Done done) {
    busy_ = true;
    const std::uint64_t project = number_ ? number_() : 0;
    worker_ = std::jthread([this, alive = alive_, project, work = std::move(work),
                            done = std::move(done)](const std::stop_token& stop) mutable {
      std::shared_ptr<Result> result;
      QString failed;
      try {
        result = std::make_shared<Result>(work(stop));
      } catch (...) {  // a thread that throws would end the program
        failed = words_of_exception();
      }
      hand_over([this, alive, project, result, failed, done = std::move(done)] {
        if (!*alive) return;
        busy_ = false;
        // What was waiting starts first, so that `done` may ask for more.
        if (waiting_) {
          auto next = std::move(*waiting_);
          waiting_.reset();
          start(std::move(next.first), std::move(next.second));
        }
        if (number_ && number_() != project) {
          if (dropped_) dropped_();
          return;
        }
        if (!result) {
          if (dropped_) dropped_();
          JobNews::of_this_program().tell(failed);
          return;
        }
        done(std::move(*result));
      });
    });
  }

  std::shared_ptr<bool> alive_;
  std::jthread worker_;
  std::optional<std::pair<Work, Done>> waiting_;
  std::function<std::uint64_t()> number_;
  std::function<void()> dropped_;
  bool busy_ = false;
};

}  // namespace bq::ui
