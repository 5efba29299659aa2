// Samples of force strokes as bytes.
#include <zlib.h>

#include <cmath>

#include "store/bench_json.h"

namespace bq::inline store {
namespace {

constexpr std::size_t kMostSamples = 1'000'000;

}  // namespace

std::string pack_samples(const std::vector<float>& force_N, double resolution_N) {
  std::string plain;
  std::int64_t before = 0;
  for (const float force : force_N) {
    const std::int64_t step = std::llround(double(force) / resolution_N);
    const std::int64_t change = step - before;
    before = step;
    // Small changes of either sign become small numbers, seven bits a byte.
    for (std::uint64_t rest = std::uint64_t(change) << 1 ^ std::uint64_t(change >> 63);;
         rest >>= 7) {
      plain.push_back(char(rest < 0x80 ? rest : (rest & 0x7f) | 0x80));
      if (rest < 0x80) break;
    }
  }
  uLongf size = compressBound(uLong(plain.size()));
  std::string out(size, '\0');
  compress2(reinterpret_cast<Bytef*>(out.data()), &size,
            reinterpret_cast<const Bytef*>(plain.data()), uLong(plain.size()), 6);
  out.resize(size);
  return out;
}

Checked<std::vector<float>> unpack_samples(std::string_view bytes, double resolution_N,
                                           std::size_t count) {
  const Refusal damaged{"the samples of a stroke are damaged"};
  if (count > kMostSamples || !(resolution_N > 0)) return damaged;
  std::string plain(count * 10 + 1, '\0');  // ten bytes a sample at most
  uLongf size = uLong(plain.size());
  if (uncompress(reinterpret_cast<Bytef*>(plain.data()), &size,
                 reinterpret_cast<const Bytef*>(bytes.data()), uLong(bytes.size())) != Z_OK)
    return damaged;
  plain.resize(size);
  std::vector<float> out;
  out.reserve(count);
  std::uint64_t value = 0;
  int shift = 0;
  std::int64_t step = 0;
  for (const char c : plain) {
    const auto byte = std::uint8_t(c);
    if (shift > 63) return damaged;
    value |= std::uint64_t(byte & 0x7f) << shift;
    shift += 7;
    if (byte & 0x80) continue;
    step = std::int64_t(std::uint64_t(step) + (value >> 1 ^ (0 - (value & 1))));
    out.push_back(float(double(step) * resolution_N));
    value = 0;
    shift = 0;
  }
  if (out.size() != count || shift != 0) return damaged;
  return out;
}

}  // namespace bq::inline store
