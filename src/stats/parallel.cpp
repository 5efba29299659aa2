#include "stats/parallel.h"

#include <algorithm>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

namespace bq::stats {

bool for_each_piece(std::size_t count, const Work& work,
                    const std::function<void(std::size_t)>& piece) {
  std::atomic<std::size_t> next{0};
  std::atomic<bool> failed{false};
  std::exception_ptr failure;
  std::mutex failure_guard;
  const auto run = [&] {
    while (!work.stop.stop_requested() && !failed.load(std::memory_order_relaxed)) {
      const std::size_t index = next.fetch_add(1);
      if (index >= count) return;
      try {
        piece(index);
      } catch (...) {
        const std::lock_guard lock(failure_guard);
        if (!failure) failure = std::current_exception();
        failed = true;
      }
      if (work.done) work.done->fetch_add(1, std::memory_order_relaxed);
    }
  };
  const auto extra =
      std::min<std::size_t>(std::max(1u, work.workers), std::max<std::size_t>(1, count)) - 1;
  {
    std::vector<std::jthread> others;
    others.reserve(extra);
    for (std::size_t i = 0; i < extra; ++i) others.emplace_back(run);
    run();
  }
  if (failure) std::rethrow_exception(failure);
  return next.load() >= count;
}

unsigned core_count() { return std::max(1u, std::thread::hardware_concurrency()); }

}  // namespace bq::stats
