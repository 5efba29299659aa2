#pragma once

#include <QCoreApplication>
#include <QMetaObject>
#include <QPointer>
#include <functional>
#include <memory>
#include <optional>
#include <thread>

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
  [[nodiscard]] bool busy() const { return busy_; }

 private:
  void start(Work work, Done done) {
    busy_ = true;
    worker_ = std::jthread([this, alive = alive_, work = std::move(work),
                            done = std::move(done)](const std::stop_token& stop) mutable {
      auto result = std::make_shared<Result>(work(stop));
      QMetaObject::invokeMethod(
          QCoreApplication::instance(),
          [this, alive, result, done = std::move(done)] {
            if (!*alive) return;
            busy_ = false;
            // What was waiting starts first, so that `done` may ask for more.
            if (waiting_) {
              auto next = std::move(*waiting_);
              waiting_.reset();
              start(std::move(next.first), std::move(next.second));
            }
            done(std::move(*result));
          },
          Qt::QueuedConnection);
    });
  }

  std::shared_ptr<bool> alive_;
  std::jthread worker_;
  std::optional<std::pair<Work, Done>> waiting_;
  bool busy_ = false;
};

}  // namespace bq::ui
