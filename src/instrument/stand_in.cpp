#include "instrument/stand_in.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <vector>

#include "quantity/number.h"

namespace bq::inline instrument {
namespace {

std::string line_of(double value, int decimals, std::string_view unit) {
  return print_fixed(value, decimals) + " " + std::string(unit) + "\n";
}

int decimals_of(double resolution) {
  return resolution >= 1 ? 0 : int(std::ceil(-std::log10(resolution) - 1e-9));
}

class GaugeStandIn : public StandIn {
 public:
  std::string answer(std::string_view line, double) override {
    if (line != "READ") return {};
    return line_of(gauge_reading(edge_, taken_++), decimals_of(edge_.gauge.resolution),
                   sign_of(edge_.gauge.unit));
  }
  std::string advance(double) override { return {}; }

 private:
  void changed(const VirtualEdge&) override { taken_ = 0; }
  int taken_ = 0;
};

/// A slicing stroke: the edge enters, cuts and leaves; texture of the medium on top, and the cell's
/// own noise.
class ForceCellStandIn : public StandIn {
 public:
  explicit ForceCellStandIn(std::uint64_t seed) : random_(seed, 5) {}
  std::string answer(std::string_view line, double now_s) override {
    if (line == "STROKE" && left_.empty()) begin(now_s);
    return {};
  }
  std::string advance(double now_s) override {
    std::string out;
    if (wanted_ && left_.empty()) begin(now_s);
    while (sent_ < left_.size() && began_s_ + double(sent_) / 1000 <= now_s)
      out += line_of(left_[sent_++], 2, "N");
    if (sent_ == left_.size()) {
      left_.clear();
      sent_ = 0;
    }
    return out;
  }

 private:
  void changed(const VirtualEdge& before) override {
    if (edge_.run == before.run && edge_.cuts > before.cuts && left_.empty()) wanted_ = true;
  }
  void begin(double now_s) {
    wanted_ = false;
    began_s_ = now_s;
    sent_ = 0;
    constexpr double kSpeed_mm_s = 300;
    const StrokeForce force = stroke_force(edge_);
    const int cutting = std::max(60, int(edge_.medium.stroke_mm / kSpeed_mm_s * 1000));
    const double hand = std::exp(0.03 * random_.normal());
    double texture = 0;
    constexpr int kRest = 120, kRamp = 40;
    for (int i = -kRest; i < cutting + kRest; ++i) {
      zero_ += 0.00002 * random_.normal();
      texture = 0.97 * texture + 0.012 * random_.normal();
      const double in = std::clamp(std::min(i, cutting - i) / double(kRamp), 0.0, 1.0);
      left_.push_back(zero_ + 0.02 * random_.normal() +
                      in * hand * (force.severing_N + force.parting_N) * (1 + texture));
    }
  }
  stats::Random random_;
  std::vector<double> left_;
  std::size_t sent_ = 0;
  double began_s_ = 0, zero_ = 0.05;
  bool wanted_ = false;
};

/// A hand that strokes freehand: 1.2 s on the stone, 0.5 s lifted. Within a stroke the angle sways
/// slowly and rises toward its end; strokes differ among themselves; the gauge's zero drifts.
class AngleStandIn : public StandIn {
 public:
  explicit AngleStandIn(std::uint64_t seed) : random_(seed, 6) {}
  std::string answer(std::string_view line, double) override {
    if (line == "ZERO") zero_ = 0;
    return {};
  }
  std::string advance(double now_s) override {
    std::string out;
    for (; double(sample_) / kRate <= now_s; ++sample_) {
      const int phase = int(sample_ % kPeriod);
      zero_ += 0.002 * random_.normal();
      if (phase == 0) stroke_mean_ = 0.9 * random_.normal();
      sway_ = 0.9 * sway_ + 0.35 * random_.normal();
      const double target = edge_.geometry.apex().left_deg;
      double angle = target + stroke_mean_ + sway_;
      if (phase < kOn)
        angle += 1.8 * std::pow(double(phase) / kOn, 4);
      else
        angle += 25 * std::sin(3.14159265 * double(phase - kOn) / (kPeriod - kOn)) + 4;
      out += line_of(angle + zero_, 1, "deg");
    }
    return out;
  }

 private:
  static constexpr int kRate = 50, kPeriod = 85, kOn = 60;
  stats::Random random_;
  long sample_ = 0;
  double zero_ = 0, stroke_mean_ = 0, sway_ = 0;
};

}  // namespace

std::unique_ptr<StandIn> make_stand_in(InstrumentRole role, std::uint64_t seed) {
  switch (role) {
    case InstrumentRole::gauge:
      return std::make_unique<GaugeStandIn>();
    case InstrumentRole::force_cell:
      return std::make_unique<ForceCellStandIn>(seed);
    case InstrumentRole::angle:
      break;
  }
  return std::make_unique<AngleStandIn>(seed);
}

std::optional<LineFault> parse_line_fault(std::string_view text) {
  if (text == "drop") return LineFault::drop;
  if (text == "garbage") return LineFault::garbage;
  if (text == "stall") return LineFault::stall;
  if (text == "disconnect") return LineFault::disconnect;
  return std::nullopt;
}

FaultyLine::Out FaultyLine::pass(std::string_view bytes, double now_s) {
  Out out;
  if (fault_ == LineFault::none) return {std::string(bytes), false};
  held_.append(bytes);
  if (now_s < stalled_until_) return out;
  if (held_.empty()) return out;
  if (fault_ == LineFault::stall && random_.uniform() < share_) {
    stalled_until_ = now_s + 0.5 + 2.5 * random_.uniform();
    return out;
  }
  std::size_t at = 0;
  while (at < held_.size()) {
    const std::size_t end = std::min(held_.find('\n', at), held_.size() - 1);
    const std::string line = held_.substr(at, end + 1 - at);
    at = end + 1;
    const bool hit = random_.uniform() < share_;
    if (fault_ == LineFault::drop && hit) {
      if (random_.below(2) == 0) out.bytes += line.substr(0, random_.below(line.size()));
      continue;
    }
    if (fault_ == LineFault::garbage && hit) {
      switch (random_.below(6)) {
        case 0:
          for (int i = 0; i < 8; ++i) out.bytes.push_back(char(1 + random_.below(255)));
          out.bytes += "\n";
          break;
        case 1:
          out.bytes += "#\x01\x02 ERR 7\r\n";
          break;
        case 2:
          out.bytes += std::string(400, 'x') + "\n";
          break;
        case 3:
          out.bytes += line.substr(0, line.size() / 2) + "\n";
          break;
        case 4:
          out.bytes += "312 furlongs\n";
          break;
        default:
          out.bytes += "--12.5.1 gf\n";
          break;
      }
    }
    if (fault_ == LineFault::disconnect && hit) out.disconnect = true;
    out.bytes += line;
  }
  held_.clear();
  return out;
}

}  // namespace bq::inline instrument
