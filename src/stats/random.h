#pragma once

#include <array>
#include <cmath>
#include <cstdint>

namespace bq::stats {

/// A seeded random stream that gives the same numbers on every machine.
/// Generator: xoshiro256++ (Blackman & Vigna 2019, public domain description), its state filled by
/// splitmix64 from (seed, stream). Streams with different numbers are independent in practice, so
/// replicate i of a bootstrap always sees the same numbers, whichever worker runs it.
class Random {
 public:
  explicit Random(std::uint64_t seed, std::uint64_t stream = 0) {
    std::uint64_t state = seed ^ (stream * 0xd1342543de82ef95ULL + 0x2545f4914f6cdd1dULL);
    for (auto& word : state_) {
      state += 0x9e3779b97f4a7c15ULL;
      std::uint64_t z = state;
      z = (z ^ (z >> 30)) * 0xbf58476d1ce4e5b9ULL;
      z = (z ^ (z >> 27)) * 0x94d049bb133111ebULL;
      word = z ^ (z >> 31);
    }
  }

  std::uint64_t next() {
    const auto rotate = [](std::uint64_t x, int k) { return (x << k) | (x >> (64 - k)); };
    const std::uint64_t result = rotate(state_[0] + state_[3], 23) + state_[0];
    const std::uint64_t t = state_[1] << 17;
    state_[2] ^= state_[0];
    state_[3] ^= state_[1];
    state_[1] ^= state_[2];
    state_[0] ^= state_[3];
    state_[2] ^= t;
    state_[3] = rotate(state_[3], 45);
    return result;
  }

  /// Uniform in [0, 1), 53 bits.
  double uniform() { return double(next() >> 11) * 0x1.0p-53; }

  /// Standard normal by the polar method (Marsaglia & Bray 1964).
  double normal() {
    if (has_spare_) {
      has_spare_ = false;
      return spare_;
    }
    double u, v, s;
    do {
      u = 2 * uniform() - 1;
      v = 2 * uniform() - 1;
      s = u * u + v * v;
    } while (s >= 1 || s == 0);
    const double factor = std::sqrt(-2 * std::log(s) / s);
    spare_ = v * factor;
    has_spare_ = true;
    return u * factor;
  }

  /// Uniform in 0 … count-1 (count > 0), by multiplication with negligible bias below 2^32.
  std::uint64_t below(std::uint64_t count) { return ((next() >> 32) * count) >> 32; }

 private:
  std::array<std::uint64_t, 4> state_{};
  double spare_ = 0;
  bool has_spare_ = false;
};

}  // namespace bq::stats
