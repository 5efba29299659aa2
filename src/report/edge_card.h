#pragma once

#include <optional>
#include <string>
#include <vector>

#include "bluntness/run_fits.h"
#include "quantity/said.h"
#include "report/drawing.h"
#include "trial/trial.h"

namespace bq::inline report {

/// What a card shows of a figure: "edge bevel", "10° per side".
struct CardLine {
  std::string label, value;
};
/// A heading with lines, a numbered list or both.
struct CardBlock {
  std::string heading;
  std::vector<CardLine> lines;
  std::vector<std::string> steps;
  std::vector<std::string> sentences;
};

/// Everything needed to make this edge again, as data: one layout for HTML, PDF and print.
struct EdgeCard {
  std::string kind = said("Edge card");  ///< or "Result card"
  std::string dated = "sharpened";       ///< what `date` is the day of
  std::string title;                     ///< "Fenland Plain 1"
  std::string subtitle;                  ///< "run C07, rubberised coir mat 8 mm, slice"
  std::string date;                      ///< day of the sharpening, ISO 8601; "" not known
  Drawing section;                       ///< cross-section with the jig's set-up beside it
  std::vector<CardBlock> blocks;
  std::vector<std::string> cautions;
};

struct CardOptions {
  AngleConvention angles = AngleConvention::per_side;
  std::optional<Threshold> threshold;  ///< for the touch-up interval
  const RunFit* fit = nullptr;         ///< the run's curve, settled; null: all runs are fitted
};

/// The sharpening a run started from (making_of_run). Empty: none is on record, or it is not known
/// which it was.
struct RunStart {
  const SharpeningRecord* record = nullptr;
  std::string made_at;
  bool named = false;  ///< it names this run
};
std::optional<RunStart> start_of(const Trial& trial, const Run& run);

/// The card of a run: geometry, set-up, sharpening as instructions, checks, touch-up interval, as
/// they were until the blade's next sharpening. What is not on record is said, never left out in
/// silence. Depends on nothing but its arguments: the same record gives the same card.
EdgeCard edge_card(const Trial& trial, std::size_t run, const CardOptions& options);

/// The card of any edge a blade has had, by its place in makings_of(): what was on record of it,
/// with the runs that were cut with it.
EdgeCard edge_card_of_making(const Trial& trial, std::size_t blade, std::size_t making,
                             const CardOptions& options);

/// One HTML page without anything from outside.
std::string card_html(const EdgeCard& card);

}  // namespace bq::inline report
