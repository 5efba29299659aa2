// Stand-in instruments on pseudo-terminals (docs/instruments.md).
#include <signal.h>

#include <CLI/CLI.hpp>
#include <chrono>
#include <cmath>
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

/// The state file's edge, or one of no state; false with a sentence on the standard error.
bool read_edge(const MicroscopeWishes& wishes, bq::VirtualEdge& edge) {
  if (wishes.state.empty()) return true;
  std::ifstream in(wishes.state, std::ios::binary);
  std::ostringstream bytes;
  bytes << in.rdbuf();
  const auto read = bq::parse_virtual_edge(bytes.str());
  if (!in || !read) {
    std::fprintf(stderr, "%s: %s\n", wishes.state.c_str(),
                 read ? "cannot be read" : read.refusal().reason.c_str());
    return false;
  }
  edge = *read;
  return true;
}

bq::MicroscopeSubject subject_of(const MicroscopeWishes& wishes, const bq::VirtualEdge& edge,
                                 const bq::MicroscopeShot& shot) {
  return bq::microscope_subject(edge, wishes.thickness_um, 12, wishes.brittle, wishes.damage,
                                shot.um_per_px * shot.width, wishes.place);
}

/// The camera on that microscope: frames as binary PGM on the standard output until nobody reads
/// them. A hand moves the stage and turns the focus, so that no two frames are alike.
int show_live(const MicroscopeWishes& wishes) {
  signal(SIGPIPE, SIG_IGN);
  bq::VirtualEdge edge;
  for (int i = 0; i < wishes.count && !stop_asked; ++i) {
    if (i > 0) std::this_thread::sleep_for(std::chrono::duration<double>(wishes.every_s));
    if (!read_edge(wishes, edge)) return 3;
    bq::MicroscopeShot shot;
    shot.um_per_px = wishes.um_per_px;
    shot.seed = wishes.seed + std::uint64_t(i);
    const double t = 0.11 * i + double(wishes.seed % 7);
    shot.shift_x_px = 24 * std::sin(0.7 * t);
    shot.shift_y_px = 10 * std::sin(1.1 * t + 1);
    shot.turn_deg = 1.2 * std::sin(0.4 * t);
    shot.blur_px = 0.8 + 1.6 * std::pow(std::sin(0.45 * t), 2);
    const auto picture = bq::micrograph(subject_of(wishes, edge, shot), shot);
    if (!picture) {
      std::fprintf(stderr, "%s\n", picture.refusal().reason.c_str());
      return 3;
    }
    const bq::GreyImage& image = picture->image;
    std::printf("P5\n%d %d\n255\n", image.width(), image.height());
    const auto size = std::size_t(image.width()) * std::size_t(image.height());
    if (std::fwrite(image.row(0), 1, size, stdout) != size || std::fflush(stdout) != 0) return 0;
  }
  return 0;
}

int take_pictures(const MicroscopeWishes& wishes) {
  bq::VirtualEdge edge;
  if (!read_edge(wishes, edge)) return 3;
  for (int i = 0; i < wishes.count && !stop_asked; ++i) {
    if (i > 0) std::this_thread::sleep_for(std::chrono::duration<double>(wishes.every_s));
    bq::MicroscopeShot shot;
    shot.um_per_px = wishes.um_per_px;
    shot.seed = wishes.seed + std::uint64_t(i);
    bq::stats::Random hand(shot.seed, 5);
    shot.shift_x_px = -20 + 40 * hand.uniform();
    shot.shift_y_px = -12 + 24 * hand.uniform();

    shot.turn_deg = -2 + 4 * hand.uniform();
    const auto picture = bq::micrograph(subject_of(wishes, edge, shot), shot);
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
  MicroscopeWishes live;
  live.every_s = 0.2;
  live.count = 1'000'000;
  auto* camera = app.add_subcommand(
      "camera", "behave like the camera on it: frames as binary PGM on the standard output");
  const auto add_wishes = [](CLI::App* device, MicroscopeWishes& asked) {
    device->add_option("--seed", asked.seed, "of everything random but the place itself")
        ->required();
    device->add_option("--state", asked.state, "JSON file with the edge that lies before it");
    device->add_option("--place", asked.place, "which place of the edge");
    device->add_option("--count", asked.count, "how many pictures or frames")
        ->check(CLI::Range(1, 1'000'000));
    device->add_option("--every", asked.every_s, "seconds between two")
        ->check(CLI::Range(0.0, 3600.0));
    device->add_option("--um-per-px", asked.um_per_px, "length of a pixel")
        ->check(CLI::Range(0.005, 100.0));
    device->add_option("--thickness-um", asked.thickness_um, "of the section at the shoulder")
        ->check(CLI::Range(1.0, 5000.0));
    device->add_option("--damage", asked.damage, "damaging events in 1000 cuts in view")
        ->check(CLI::Range(0.0, 1000.0));
    device->add_flag("--brittle", asked.brittle, "it breaks out rather than bends");
  };
  add_wishes(microscope, pictures);
  add_wishes(camera, live);
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
  if (app.got_subcommand(camera)) return show_live(live);
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
