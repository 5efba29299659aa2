// Stand-in instruments on pseudo-terminals (docs/instruments.md).
#include <signal.h>

#include <CLI/CLI.hpp>
#include <chrono>
#include <cstdio>
#include <fstream>
#include <sstream>

#include "instrument/line_framing.h"
#include "instrument/pseudo_terminal.h"
#include "instrument/stand_in.h"

namespace {

volatile sig_atomic_t stop_asked = 0;
void ask_stop(int) { stop_asked = 1; }

struct Wishes {
  std::string link, state, fault;
  std::uint64_t seed = 1;
  double share = 0.05;
};

/// Hands the edge of the state file to the device whenever the file is another one. A file that cannot be read is reported once
/// and the edge before stays.
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
    if (edge) device.put(*edge);
    else std::fprintf(stderr, "%s: %s; the edge before stays\n", path_.c_str(), edge.refusal().reason.c_str());
  }

 private:
  std::string path_, text_;
};

int run(bq::InstrumentRole role, const Wishes& wishes) {
  const auto fault = bq::parse_line_fault(wishes.fault);
  bq::PseudoTerminal line(wishes.link);
  const auto device = bq::make_stand_in(role, wishes.seed);
  bq::FaultyLine faulty(fault.value_or(bq::LineFault::none), wishes.seed, wishes.share);
  StateFile state(wishes.state);
  bq::LineFramer framer;
  const auto began = std::chrono::steady_clock::now();
  const auto now = [&] { return std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count(); };
  std::printf("ready %s\n", wishes.link.c_str());
  std::fflush(stdout);
  framer.quiet([](const bq::FramedLine&) {});
  while (!stop_asked) {
    std::string out;
    const std::string bytes = line.read(role == bq::InstrumentRole::gauge ? 20 : 5);
    if (!bytes.empty() || role != bq::InstrumentRole::gauge) state.look(*device);
    framer.feed(bytes, [&](const bq::FramedLine& heard) { out += device->answer(heard.text, now()); });
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
  CLI::App app("Stand-in instruments for Brave Quarry: they behave like devices on a serial line.", "brave-quarry-instrument");
  app.require_subcommand(1);
  Wishes wishes;
  const std::pair<const char*, bq::InstrumentRole> kinds[] = {
      {"gauge", bq::InstrumentRole::gauge}, {"force-cell", bq::InstrumentRole::force_cell}, {"angle", bq::InstrumentRole::angle}};
  for (const auto& [name, role] : kinds) {
    auto* sub = app.add_subcommand(name, std::string("behave like a ") + std::string(bq::name_of(role)));
    sub->add_option("--link", wishes.link, "where the port is to appear")->required();
    sub->add_option("--seed", wishes.seed, "of everything random")->required();
    sub->add_option("--state", wishes.state, "JSON file with the edge that lies before it; looked at again for every reading");
    sub->add_option("--fault", wishes.fault, "what goes wrong on the line")->check(CLI::IsMember({"drop", "garbage", "stall", "disconnect"}));
    sub->add_option("--fault-share", wishes.share, "share of the lines that it hits")->check(CLI::Range(0.0, 1.0));
  }
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& error) {
    return app.exit(error) == 0 ? 0 : 2;
  }
  struct sigaction action {};
  action.sa_handler = ask_stop;
  sigaction(SIGTERM, &action, nullptr);
  sigaction(SIGINT, &action, nullptr);
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
