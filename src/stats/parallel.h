#pragma once

#include <atomic>
#include <cstddef>
#include <functional>
#include <stop_token>

namespace bq::stats {

/// What a long job needs from outside: how many workers, a way to stop it, and how far it is.
struct Work {
  unsigned workers = 1;                      ///< at least 1
  std::stop_token stop = {};                 ///< asked between pieces
  std::atomic<std::size_t>* done = nullptr;  ///< counts finished pieces, may be null
};

/// Runs piece(0) … piece(count-1), each exactly once, on Work::workers threads. Pieces must not
/// depend on each other; a piece that writes only its own slot makes the result independent of the
/// worker count. Returns false when stopped before the end. The first exception is passed on.
bool for_each_piece(std::size_t count, const Work& work,
                    const std::function<void(std::size_t)>& piece);

/// The number of cores, at least 1.
unsigned core_count();

}  // namespace bq::stats
