#include "bluntness/curve_kernel.h"

#include <cmath>
#include <cstdint>
#include <cstring>

// Four doubles at a time with GCC's vector types. Every function below is inlined into two
// entry points each, one compiled for any amd64, one for AVX2 + FMA; `use_wide` picks at run time.
#define BQ_INLINE static inline __attribute__((always_inline))

namespace bq::inline bluntness::kernel {
namespace {

using V = double __attribute__((vector_size(32)));
using B = std::uint64_t __attribute__((vector_size(32)));

BQ_INLINE V load(const double* p) {
  V v;
  std::memcpy(&v, p, sizeof v);
  return v;
}
BQ_INLINE V all(double x) { return V{x, x, x, x}; }
BQ_INLINE B bits(V v) {
  B b;
  std::memcpy(&b, &v, sizeof b);
  return b;
}
BQ_INLINE V value(B b) {
  V v;
  std::memcpy(&v, &b, sizeof v);
  return v;
}
BQ_INLINE double sum(V v) { return (v[0] + v[1]) + (v[2] + v[3]); }

/// e^x for |x| <= 708: x = k·ln2 + r, |r| <= ln2/2, Taylor to r^13 (truncation below 5e-18).
BQ_INLINE V vexp(V x) {
  const V magic = all(0x1.8p52);
  x = x > all(708) ? all(708) : x;
  x = x < all(-708) ? all(-708) : x;
  const V shifted = x * all(1.44269504088896340736) + magic;
  const V k = shifted - magic;
  V r = x - k * all(6.93147180369123816490e-01);
  r = r - k * all(1.90821492927058770002e-10);
  const V r2 = r * r, r4 = r2 * r2;
  const V p01 = all(1.0) + r, p23 = all(1.0 / 2) + r * all(1.0 / 6);
  const V p45 = all(1.0 / 24) + r * all(1.0 / 120), p67 = all(1.0 / 720) + r * all(1.0 / 5040);
  const V p89 = all(1.0 / 40320) + r * all(1.0 / 362880);
  const V pab = all(1.0 / 3628800) + r * all(1.0 / 39916800);
  const V pcd = all(1.0 / 479001600) + r * all(1.0 / 6227020800);
  const V low = (p01 + r2 * p23) + r4 * (p45 + r2 * p67);
  const V high = (p89 + r2 * pab) + r4 * pcd;
  const V mantissa = low + (r4 * r4) * high;
  return value(bits(mantissa) + (bits(shifted) << 52));
}

/// ln x for positive normal x: x = 2^k·m, m in [√½, √2), then the classical odd series in
/// s = (m−1)/(m+1) with minimax coefficients (the form used by most C libraries; error < 1 ulp).
BQ_INLINE V vlog(V x) {
  const B offset = B{} + (0x3ff0000000000000ULL - 0x3fe6a09e667f3bcdULL);
  const B moved = bits(x) + offset;
  const V k = value((moved >> 52) | (B{} + 0x4330000000000000ULL)) - all(0x1p52 + 1023);
  const V m = value((moved & (B{} + 0x000fffffffffffffULL)) + (B{} + 0x3fe6a09e667f3bcdULL));
  const V f = m - all(1.0);
  const V s = f / (all(2.0) + f);
  const V z = s * s, w = z * z;
  const V odd = w * (all(3.999999999940941908e-01) +
                     w * (all(2.222219843214978396e-01) + w * all(1.531383769920937332e-01)));
  const V even =
      z * (all(6.666666666666735130e-01) +
           w * (all(2.857142874366239149e-01) +
                w * (all(1.818357216161805012e-01) + w * all(1.479819860511658591e-01))));
  const V half = all(0.5) * f * f;
  return k * all(6.93147180369123816490e-01) -
         ((half - (s * (half + odd + even) + k * all(1.90821492927058770002e-10))) - f);
}

/// Sums that one pass over the checkpoints fills.
template <int P>
struct Sums {
  V squares{};
  V gradient[P]{};
  V information[P * (P + 1) / 2]{};

  BQ_INLINE void add(Sums& sums, V weight, V residual, const V (&j)[P]) {
    sums.squares += weight * residual * residual;
    int place = 0;
    for (int a = 0; a < P; ++a) {
      const V weighted = weight * j[a];
      sums.gradient[a] += weighted * residual;
      for (int b = 0; b <= a; ++b) sums.information[place++] += weighted * j[b];
    }
  }

  BQ_INLINE void finish(const Sums& sums, stats::NormalEquations<P>& out) {
    out.sum_of_squares = sum(sums.squares);
    int place = 0;
    for (int a = 0; a < P; ++a) {
      out.gradient[a] = sum(sums.gradient[a]);
      for (int b = 0; b <= a; ++b)
        out.information(a, b) = out.information(b, a) = sum(sums.information[place++]);
    }
  }
};

struct Columns {
  const double *cuts, *log_cuts, *positive, *weight, *mean_log;
  std::size_t count;
  double per_reference;
  explicit Columns(const CheckpointTable& t)
      : cuts(t.cuts.data()),
        log_cuts(t.log_cuts.data()),
        positive(t.positive.data()),
        weight(t.weight.data()),
        mean_log(t.mean_log.data()),
        count(t.cuts.size()),
        per_reference(1 / t.reference_cuts) {}
};

/// The parameters themselves, all at once.
BQ_INLINE V parameters(const double* logs) { return vexp(load(logs)); }

BQ_INLINE void power_body(const Columns& c, const double* logs, stats::NormalEquations<3>& out) {
  const V p = parameters(logs);
  Sums<3> sums;
  const V r0 = all(p[0]), k = all(p[1]), b = all(p[2]);
  for (std::size_t i = 0; i < c.count; i += 4) {
    const V u = load(c.log_cuts + i);
    const V g = r0 + k * (vexp(b * u) * load(c.positive + i));
    const V fresh = r0 / g;
    const V worn = all(1.0) - fresh;
    Sums<3>::add(sums, load(c.weight + i), load(c.mean_log + i) - vlog(g),
                 {fresh, worn, worn * (b * u)});
  }
  Sums<3>::finish(sums, out);
}

BQ_INLINE void linear_body(const Columns& c, const double* logs, stats::NormalEquations<2>& out) {
  const V p = parameters(logs);
  Sums<2> sums;
  const V r0 = all(p[0]), k = all(p[1] * c.per_reference);
  for (std::size_t i = 0; i < c.count; i += 4) {
    const V g = r0 + k * load(c.cuts + i);
    const V fresh = r0 / g;
    Sums<2>::add(sums, load(c.weight + i), load(c.mean_log + i) - vlog(g),
                 {fresh, all(1.0) - fresh});
  }
  Sums<2>::finish(sums, out);
}

BQ_INLINE void wear_area_body(const Columns& c, const double* logs,
                              stats::NormalEquations<2>& out) {
  const V p = parameters(logs);
  Sums<2> sums;
  const V r0 = all(p[0] * p[0]), k = all(p[1] * c.per_reference);
  for (std::size_t i = 0; i < c.count; i += 4) {
    const V square = r0 + k * load(c.cuts + i);
    const V fresh = r0 / square;
    Sums<2>::add(sums, load(c.weight + i), load(c.mean_log + i) - all(0.5) * vlog(square),
                 {fresh, all(0.5) * (all(1.0) - fresh)});
  }
  Sums<2>::finish(sums, out);
}

BQ_INLINE void two_phase_body(const Columns& c, const double* logs,
                              stats::NormalEquations<4>& out) {
  const V p = parameters(logs);
  Sums<4> sums;
  const V r0 = all(p[0]), A = all(p[1]);
  const V rate = all(c.per_reference / p[2]), m = all(p[3] * c.per_reference);
  for (std::size_t i = 0; i < c.count; i += 4) {
    const V n = load(c.cuts + i);
    const V age = n * rate;
    const V decay = vexp(-age);
    const V fast = A - A * decay, slow = m * n;
    const V g = r0 + fast + slow;
    const V inverse = all(1.0) / g;
    Sums<4>::add(sums, load(c.weight + i), load(c.mean_log + i) - vlog(g),
                 {r0 * inverse, fast * inverse, -(A * decay * age * inverse), slow * inverse});
  }
  Sums<4>::finish(sums, out);
}

BQ_INLINE void start_body(const Columns& c, double base, StartSums& out) {
  V w{}, x{}, z{}, xx{}, xz{};
  const V r0 = all(base), least = all(0.01 * base);
  for (std::size_t i = 0; i < c.count; i += 4) {
    const V y = vexp(load(c.mean_log + i));
    const V wear = y - r0;
    const V share = wear / y;
    const V weight = wear > least ? load(c.weight + i) * load(c.positive + i) * share * share : V{};
    const V u = load(c.log_cuts + i), l = vlog(wear > least ? wear : all(1.0));
    w += weight;
    x += weight * u;
    z += weight * l;
    xx += weight * u * u;
    xz += weight * u * l;
  }
  out = {sum(w), sum(x), sum(z), sum(xx), sum(xz)};
}

BQ_INLINE double floor_body(const Columns& c, double exponent) {
  V total{};
  const V b = all(exponent);
  for (std::size_t i = 0; i < c.count; i += 4)
    total += vlog(all(1.0) + vexp(b * load(c.log_cuts + i)));
  return sum(total);
}

BQ_INLINE void exp_log_body(const double* x, double* e, double* l, std::size_t count) {
  for (std::size_t i = 0; i < count; i += 4) {
    const V v = load(x + i);
    const V exponential = vexp(v), logarithm = vlog(v);
    std::memcpy(e + i, &exponential, sizeof exponential);
    std::memcpy(l + i, &logarithm, sizeof logarithm);
  }
}

#if defined(__x86_64__)
#define BQ_WIDE __attribute__((target("avx2,fma")))
const bool use_wide = __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma");
#else
#define BQ_WIDE
const bool use_wide = false;
#endif

// One plain and one wide entry point per kernel.
#define BQ_ENTRY(name, P)                                                                       \
  void name##_plain(const Columns& c, const double* p, stats::NormalEquations<P>& out) {        \
    name##_body(c, p, out);                                                                     \
  }                                                                                             \
  BQ_WIDE void name##_wide(const Columns& c, const double* p, stats::NormalEquations<P>& out) { \
    name##_body(c, p, out);                                                                     \
  }
BQ_ENTRY(power, 3)
BQ_ENTRY(linear, 2)
BQ_ENTRY(wear_area, 2)
BQ_ENTRY(two_phase, 4)
#undef BQ_ENTRY

void start_plain(const Columns& c, double base, StartSums& out) { start_body(c, base, out); }
BQ_WIDE void start_wide(const Columns& c, double base, StartSums& out) { start_body(c, base, out); }
double floor_plain(const Columns& c, double exponent) { return floor_body(c, exponent); }
BQ_WIDE double floor_wide(const Columns& c, double exponent) { return floor_body(c, exponent); }
void exp_log_plain(const double* x, double* e, double* l, std::size_t n) {
  exp_log_body(x, e, l, n);
}
BQ_WIDE void exp_log_wide(const double* x, double* e, double* l, std::size_t n) {
  exp_log_body(x, e, l, n);
}

template <int P, class Plain, class Wide>
stats::NormalEquations<P> run(const CheckpointTable& table,
                              const Eigen::Matrix<double, P, 1>& log_parameters, Plain plain,
                              Wide wide) {
  double logs[4] = {0, 0, 0, 0};
  for (int i = 0; i < P; ++i) logs[i] = log_parameters[i];
  stats::NormalEquations<P> out;
  (use_wide ? wide : plain)(Columns(table), logs, out);
  return out;
}

}  // namespace

stats::NormalEquations<3> power(const CheckpointTable& table, const Eigen::Vector3d& logs) {
  return run<3>(table, logs, power_plain, power_wide);
}
stats::NormalEquations<2> linear(const CheckpointTable& table, const Eigen::Vector2d& logs) {
  return run<2>(table, logs, linear_plain, linear_wide);
}
stats::NormalEquations<2> wear_area(const CheckpointTable& table, const Eigen::Vector2d& logs) {
  return run<2>(table, logs, wear_area_plain, wear_area_wide);
}
stats::NormalEquations<4> two_phase(const CheckpointTable& table, const Eigen::Vector4d& logs) {
  return run<4>(table, logs, two_phase_plain, two_phase_wide);
}
StartSums power_start(const CheckpointTable& table, double r0) {
  StartSums out;
  (use_wide ? start_wide : start_plain)(Columns(table), r0, out);
  return out;
}
double exp_log_floor(const CheckpointTable& table, double exponent) {
  return (use_wide ? floor_wide : floor_plain)(Columns(table), exponent);
}
void exp_log(const double* x, double* exp_x, double* log_x, std::size_t count) {
  (use_wide ? exp_log_wide : exp_log_plain)(x, exp_x, log_x, count);
}

}  // namespace bq::inline bluntness::kernel
