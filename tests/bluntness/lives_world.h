#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "trial/trial.h"

// Worlds of readings and lives that none of our curves made, and benches cut in them.
namespace bq::test {

inline constexpr double kLivesLimit = 300, kLivesSlope = -1, kLivesSteel = 0.25;

/// How a reading goes from r0 to the limit at u = 1 (cuts over life); `b` differs between runs.
struct LivesWorld {
  const char* name;
  std::function<double(double r0, double u, double b)> growth;
};
const std::vector<LivesWorld>& lives_worlds();

/// How ln life scatters from run to run about the pattern, mean 0 and SD 0.25 in each: normal;
/// skewed (a shifted log-normal); Student's t with 3 degrees of freedom; Weibull lives.
enum class RunScatter { normal, skewed, heavy, weibull };
inline constexpr const char* kRunScatters[] = {"normal", "skewed", "t with 3", "Weibull"};

struct LivesBench {
  int runs = 24, checkpoints = 8;
  double stopped = 0;           ///< share of the runs that the cuts end before the limit of
  double checkpoint_sd = 0.05;  ///< of ln reading
  double correlation = 0;       ///< of neighbouring checkpoints
  RunScatter scatter = RunScatter::normal;
};

struct PlayedLives {
  Trial trial;
  std::vector<double> log_lives;
  double stopped = 0;  ///< share of the runs
};

/// Two steels at three angles, three readings a checkpoint of SD 5 %, cut to one count that a share
/// of them does not reach the limit by.
PlayedLives play_lives(const LivesWorld& world, const LivesBench& bench, std::uint64_t seed);

}  // namespace bq::test
