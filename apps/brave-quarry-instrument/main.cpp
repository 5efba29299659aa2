// Stand-in instruments on pseudo-terminals (docs/instruments.md).
#include <signal.h>

#include <CLI/CLI.hpp>
#include <chrono>
#include <cstdio>
#include <fstream>
#include <sstream>
#include <thread>

#include "instrument/line_framing.h"
#include "instrument/pseudo_terminal.h"
#include "instrument/stand_in.h"
#include "lens/png_bytes.h"
#include "quantity/terminal.h"
#include "rehearsal/virtual_microscope.h"
#include "stats/random.h"

namespace {

volatile sig_atomic_t stop_asked = 0;
void ask_stop(int) { stop_asked = 1; }

struct Wishes {
  std::string link, state, fault;
  std::uint64_t seed = 1;
  double share = 0.05;
};

/// Hands the edge of the state file to the device whenever the file is another one. A file that
/// cannot be read is reported once and the edge before stays.
class StateFile {
 public:
  explicit StateFile(std::string path) : path_(std::move(path)) {}
  void look(bq::StandIn& device) {
    if (path_.empty()) return;
    std::ifstream in(path_, std::ios::binary);
    std::ostringstream bytes;
    bytes << in.rdbuf();
    if (!in || bytes.str() == text_) return;
    text_ = bytes.str();
    const auto edge = bq::parse_virtual_edge(text_);
    if (edge)
      device.put(*edge);
    else
      std::fprintf(stderr, "%s: %s; the edge before stays\n", path_.c_str(),
                   edge.refusal().reason.c_str());
  }

 private:
  std::string path_, text_;
};

/// The simulated microscope: pictures of the state file's edge into a folder, each whole under its
/// name at once.
struct MicroscopeWishes {
  std::string folder, state;
  std::uint64_t seed = 1, place = 1;
  int count = 1;
  double every_s = 2, um_per_px = 0.5, thickness_um = 83, damage = 3;
  bool brittle = false;
};

int take_pictures(const MicroscopeWishes& wishes) {
  bq::VirtualEdge edge;
  if (!wishes.state.empty()) {
    std::ifstream in(wishes.state, std::ios::binary);
    std::ostringstream bytes;
    bytes << in.rdbuf();
    const auto read = bq::parse_virtual_edge(bytes.str());
    if (!in || !read) {
      std::fprintf(stderr, "%s: %s\n", wishes.state.c_str(),
                   read ? "cannot be read" : read.refusal().reason.c_str());
      return 3;
    }
    edge = *read;
  }
  for (int i = 0; i < wishes.count && !stop_asked; ++i) {
    if (i > 0) std::this_thread::sleep_for(std::chrono::duration<double>(wishes.every_s));
    bq::MicroscopeShot shot;
    shot.um_per_px = wishes.um_per_px;
    shot.seed = wishes.seed + std::uint64_t(i);
    bq::stats::Random hand(shot.seed, 5);
    shot.shift_x_px = -20 + 40 * hand.uniform();
    shot.shift_y_px = -12 + 24 * hand.uniform();

    shot.turn_deg = -2 + 4 * hand.uniform();
    const auto picture = bq::micrograph(
        bq::microscope_subject(edge, wishes.thickness_um, 12, wishes.brittle, wishes.damage,
                               shot.um_per_px * shot.width, wishes.place),
        shot);
    if (!picture) {
      std::fprintf(stderr, "%s\n", picture.refusal().reason.c_str());
      return 3;
    }
    const std::string name = wishes.folder + "/" + (edge.run.empty() ? "edge" : edge.run) + "-" +
                             std::to_string(edge.cuts) + "-" + std::to_string(shot.seed) + ".png";
    const std::string bytes = bq::png_bytes(picture->image);
    std::ofstream out(name + ".part", std::ios::binary);
    out.write(bytes.data(), std::streamsize(bytes.size()));
    out.close();
    if (!out || std::rename((name + ".part").c_str(), name.c_str()) != 0) {
      std::fprintf(stderr, "%s cannot be written\n", name.c_str());
      return 4;
    }
    std::printf("%s\n", name.c_str());
    std::fflush(stdout);
  }
  return 0;
}

int run(bq::InstrumentRole role, const Wishes& wishes) {
  const auto fault = bq::parse_line_fault(wishes.fault);
  bq::PseudoTerminal line(wishes.link);
  const auto device = bq::make_stand_in(role, wishes.seed);
  bq::FaultyLine faulty(fault.value_or(bq::LineFault::none), wishes.seed, wishes.share);
  StateFile state(wishes.state);
  bq::LineFramer framer;
  const auto began = std::chrono::steady_clock::now();
  const auto now = [&] {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
  };
  std::printf("ready %s\n", wishes.link.c_str());
  std::fflush(stdout);
  framer.quiet([](const bq::FramedLine&) {});
  while (!stop_asked) {
    std::string out;
    const std::string bytes = line.read(role == bq::InstrumentRole::gauge ? 20 : 5);
    if (!bytes.empty() || role != bq::InstrumentRole::gauge) state.look(*device);
    framer.feed(bytes,
                [&](const bq::FramedLine& heard) { out += device->answer(heard.text, now()); });
    out += device->advance(now());
    const auto passed = faulty.pass(out, now());
    line.write(passed.bytes);
    if (passed.disconnect) {
      std::fprintf(stderr, "gone for two seconds\n");
      line.reconnect(2000);
    }
  }
  return 0;
}

}  // namespace

int main(int argc, char** argv) {
  bq::guard_terminal();
  CLI::App app("Stand-in instruments for Brave Quarry: they behave like devices on a serial line.",
               "brave-quarry-instrument");
  app.set_version_flag("--version", BQ_VERSION);
  app.require_subcommand(1);
  Wishes wishes;
  const std::pair<const char*, bq::InstrumentRole> kinds[] = {
      {"gauge", bq::InstrumentRole::gauge},
      {"force-cell", bq::InstrumentRole::force_cell},
      {"angle", bq::InstrumentRole::angle}};
  for (const auto& [name, role] : kinds) {
    auto* sub =
        app.add_subcommand(name, std::string("behave like a ") + std::string(bq::name_of(role)));
    sub->add_option("--link", wishes.link, "where the port is to appear")->required();
    sub->add_option("--seed", wishes.seed, "of everything random")->required();
    sub->add_option(
        "--state", wishes.state,
        "JSON file with the edge that lies before it; looked at again for every reading");
    sub->add_option("--fault", wishes.fault, "what goes wrong on the line")
        ->check(CLI::IsMember({"drop", "garbage", "stall", "disconnect"}));
    sub->add_option("--fault-share", wishes.share, "share of the lines that it hits")
        ->check(CLI::Range(0.0, 1.0));
  }
  MicroscopeWishes pictures;
  auto* microscope = app.add_subcommand(
      "microscope", "behave like a microscope whose program saves pictures into a folder");
  microscope->add_option("--folder", pictures.folder, "where pictures are put")->required();
  microscope->add_option("--seed", pictures.seed, "of everything random but the place itself")
      ->required();
  microscope->add_option("--state", pictures.state, "JSON file with the edge that lies before it");
  microscope->add_option("--place", pictures.place, "which place of the edge");
  microscope->add_option("--count", pictures.count, "how many pictures")
      ->check(CLI::Range(1, 100000));
  microscope->add_option("--every", pictures.every_s, "seconds between two")
      ->check(CLI::Range(0.0, 3600.0));
  microscope->add_option("--um-per-px", pictures.um_per_px, "length of a pixel")
      ->check(CLI::Range(0.005, 100.0));
  microscope->add_option("--thickness-um", pictures.thickness_um, "of the section at the shoulder")
      ->check(CLI::Range(1.0, 5000.0));
  microscope->add_option("--damage", pictures.damage, "damaging events in 1,000 cuts in view")
      ->check(CLI::Range(0.0, 1000.0));
  microscope->add_flag("--brittle", pictures.brittle, "it breaks out rather than bends");
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    return app.exit(error) == 0 ? 0 : 2;
  }
  struct sigaction action{};
  action.sa_handler = ask_stop;
  sigaction(SIGTERM, &action, nullptr);
  sigaction(SIGINT, &action, nullptr);
  if (app.got_subcommand(microscope)) return take_pictures(pictures);
  for (const auto& [name, role] : kinds)
    if (app.got_subcommand(name)) {
      try {
        return run(role, wishes);
      } catch (const std::exception& error) {
        std::fprintf(stderr, "%s\n", error.what());
        return 4;
      }
    }
  return 2;
}
