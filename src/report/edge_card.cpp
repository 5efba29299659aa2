#include "report/edge_card.h"
#include "quantity/said.h"
#include "quantity/xml_text.h"

#include <algorithm>
#include <cmath>

#include "bluntness/cuts_to_threshold.h"
#include "bluntness/start_gate.h"
#include "edge/section_outcomes.h"
#include "quantity/angle.h"
#include "quantity/number.h"
#include "trial/edge_map.h"
#include "trial/making.h"

namespace bq::inline report {
namespace {

constexpr double kFigure_mm = 31;  ///< height of the drawing

/// The edge of a making as its card shows it.
struct EdgeThen {
  EdgeNow edge;
  std::string set_at;  ///< when its jig setting was put on record
};

/// What was on record when the next sharpening began, with the setting it was made with.
EdgeThen edge_then(const Blade& blade, const Making& making) {
  EdgeThen out{edge_now(blade_in(blade, making)), ""};
  const auto setting = setting_of(blade, making);
  out.edge.setting = setting ? std::optional(setting->setting) : std::nullopt;
  if (setting) out.set_at = setting->made_at;
  return out;
}

/// The sharpening that began a making; empty: the edge as it came. `run`: whose start it is.
std::optional<RunStart> start_in(const Blade& blade, const Making& making, const std::string& run) {
  if (!making.sharpening) return std::nullopt;
  const EdgeRecord& record = blade.records[*making.sharpening];
  const auto& sharpening = std::get<SharpeningRecord>(record.data);
  return RunStart{&sharpening, record.made_at, !run.empty() && sharpening.sharpening.run == run};
}

/// The section to scale, apex down, and beside it how the blade meets the abrasive.
Drawing draw(const EdgeNow& edge, const std::optional<EdgeGeometry>& geometry) {
  Drawing out;
  out.width_mm = 128;
  out.height_mm = kFigure_mm;
  const auto section = edge.section ? make_section(*edge.section) : Checked<Section>(Refusal{});
  if (section) {
    const auto behind = behind_edge(*section, edge.section->grinds);
    const double reach =
        std::clamp(behind ? 2.2 * behind->distance_mm : 2.0, 0.02, section->height_mm());
    const double scale = (kFigure_mm - 10) / reach;
    DrawingLine line;
    line.width_mm = 0.4;
    line.closed = line.filled = true;
    const double x0 = 16, y0 = kFigure_mm - 5;
    constexpr int kPoints = 160;
    for (const EdgeSide side : {EdgeSide::left, EdgeSide::right})
      for (int i = 0; i <= kPoints; ++i) {
        const int step = side == EdgeSide::left ? kPoints - i : i;
        const double h = reach * step / kPoints;
        const double half = section->half_mm(side, section->apex_mm() + h);
        line.points.emplace_back(x0 + (side == EdgeSide::left ? -half : half) * scale,
                                 y0 - h * scale);
      }
    out.lines.push_back(std::move(line));
    // A bar of a round length.
    double bar_um = 1;
    while (bar_um * 10 / 1000 * scale < 20) bar_um *= 10;
    while (bar_um * 2 / 1000 * scale < 16) bar_um *= 2;
    const double bar = bar_um / 1000 * scale;
    out.lines.push_back({{{34, y0}, {34 + bar, y0}}, 0.6, false, false, false});
    out.texts.push_back(
        {34 + bar / 2, y0 + 4,
         bar_um >= 1000 ? print_number(bar_um / 1000, 3) + " mm" : print_number(bar_um, 3) + " µm",
         2.8, DrawingText::Anchor::middle});
    out.texts.push_back(
        {x0, kFigure_mm - 1, "left · right, apex down", 2.4, DrawingText::Anchor::middle});
  }
  // How the blade meets the abrasive: by the jig's setting, else at the angles of the run.
  std::vector<std::pair<double, std::string>> meets;
  if (edge.setting)
    meets.emplace_back(edge.setting->angle_deg,
                       said("clamp, {angle_deg}° per side",
                            {{"angle_deg", print_number(edge.setting->angle_deg, 4)}}));
  else if (geometry) {
    meets.emplace_back(geometry->edge().left_deg,
                       said("edge bevel, {left_deg}° per side",
                            {{"left_deg", print_number(geometry->edge().left_deg, 4)}}));
    if (geometry->micro())
      meets.emplace_back(geometry->micro()->left_deg,
                         said("micro-bevel, {left_deg}° per side",
                              {{"left_deg", print_number(geometry->micro()->left_deg, 4)}}));
  }
  if (meets.empty()) return out;
  const double x = 52, y = kFigure_mm - 9, reach = 36;
  out.lines.push_back({{{x - 2, y}, {x + reach + 14, y}}, 0.5, false, false, false});
  out.texts.push_back({x + reach + 14, y + 4, "abrasive", 2.4, DrawingText::Anchor::end});
  double label_y = 1e9;
  for (const auto& [angle_deg, label] : meets) {
    const double a = radians(angle_deg), tip_x = x + reach * std::cos(a),
                 tip_y = y - reach * std::sin(a);
    out.lines.push_back({{{x, y}, {tip_x, tip_y}}, 0.4, false, false, true});
    label_y = std::min(tip_y + 1, label_y - 3.4);  // angles may be close, their words not
    out.texts.push_back({tip_x + 1.5, label_y, label, 2.6, DrawingText::Anchor::start});
  }
  return out;
}

/// Where the section on record is older than the sharpening: its primary with the edge as ground.
void ground_since(EdgeNow& edge, const std::optional<EdgeGeometry>& geometry) {
  if (edge.section_older && geometry)
    edge.section = with_edge(*edge.section, geometry->edge(), geometry->micro());
}

CardBlock geometry_block(const RunFacts& facts, const EdgeNow& edge, AngleConvention angles) {
  CardBlock block{"Geometry", {}, {}, {}};
  block.lines.push_back(
      {"edge", facts.geometry ? print_geometry(*facts.geometry, angles) : said("not on record")});
  if (facts.finish) block.lines.push_back({"finish (particle size)", print_finish(*facts.finish)});
  const auto measured = [&](const std::string& label, const EdgeNow::SideAngles& readings) {
    if (const auto mean = readings.mean_deg())
      block.lines.push_back({label, said("{mean}° per side, {range_deg}° from place to place",
                                         {{"mean", print_fixed(*mean, 1)},
                                          {"range_deg", print_fixed(readings.range_deg(), 1)}})});
  };
  const std::string bevel = edge.bevel_unsaid ? said("measured, ") : said("edge bevel measured, ");
  measured(bevel + "left", edge.left);
  measured(bevel + "right", edge.right);
  measured(said("micro-bevel measured, left"), edge.micro_left);
  measured(said("micro-bevel measured, right"), edge.micro_right);
  if (edge.bevel_unsaid && facts.geometry && facts.geometry->micro())
    block.sentences.emplace_back(
        said("Whether the angles were measured on the edge bevel or on the micro-bevel is not on "
             "record."));
  if (edge.section_older)
    block.sentences.emplace_back(
        said("The section is reckoned from the angles: the one on record is from before this "
             "sharpening."));
  if (edge.section)
    if (const auto section = make_section(*edge.section)) {
      if (const auto behind = behind_edge(*section, edge.section->grinds))
        block.lines.push_back({"thickness behind the edge", describe(*behind)});
      for (const auto& facet : facets_of(*section))
        if (facet.side == EdgeSide::left && facet.from_um < 1e-6)
          block.lines.push_back(
              {"facet at the apex, left",
               said("{width_um} µm wide", {{"width_um", print_number(facet.width_um, 3)}})});
    }
  return block;
}

CardBlock setup_block(const EdgeNow& edge, const std::string& set_at) {
  CardBlock block{"Set-up", {}, {}, {}};
  if (!edge.setting) {
    block.sentences.emplace_back(said("No jig setting is on record for this edge."));
    return block;
  }
  const SettingRecord& s = *edge.setting;
  block.lines.push_back({"clamp", said("shift {shift_mm} mm, turn {turn_deg}°",
                                       {{"shift_mm", print_number(s.shift_mm, 3)},
                                        {"turn_deg", print_number(s.turn_deg, 3)}})});
  block.lines.push_back(
      {"pivot",
       said("{pivot_x_mm} mm from the heel, {pivot_lateral_mm} mm out, {pivot_height_mm} mm up",
            {{"pivot_x_mm", print_number(s.pivot_x_mm, 4)},
             {"pivot_lateral_mm", print_number(s.pivot_lateral_mm, 4)},
             {"pivot_height_mm", print_number(s.pivot_height_mm, 4)}})});
  if (set_at.size() >= 10) block.lines.push_back({"set on", set_at.substr(0, 10)});
  block.lines.push_back({"abrasive's offset", print_number(s.offset_mm, 3) + " mm"});
  block.lines.push_back(
      {"angle along the edge",
       said("within {range_deg}°, computed", {{"range_deg", print_fixed(s.range_deg, 2)}})});
  return block;
}

/// The sharpening as instructions.
CardBlock done_block(const RunStart& start) {
  CardBlock block{"Sharpening", {}, {}, {}};
  const Sharpening& s = start.record->sharpening;
  block.lines.push_back(
      {"burr confirmed at",
       std::string(name_of(s.policy)) +
           (s.policy == GatePolicy::none
                ? ""
                : said(", by {proof}", {{"proof", std::string(name_of(s.proof))}}))});
  if (!s.route.empty())
    block.lines.push_back(
        {"deburring",
         s.route + (s.deburr_between ? said(", between abrasives too") : said(", at the end"))});
  for (std::size_t i = 0; i < s.steps.size(); ++i) {
    std::string text = instruction(s, i);
    const SharpeningStep& step = s.steps[i];
    if (step.seconds > 0)
      text += said(" Took {seconds} min.", {{"seconds", print_fixed(step.seconds / 60, 1)}});
    if (!step.override_reason.empty())
      text += said(" Gate passed without a burr: {override_reason}.",
                   {{"override_reason", step.override_reason}});
    block.steps.push_back(std::move(text));
  }
  for (const auto& remark : order_remarks(s)) block.sentences.push_back(remark);
  return block;
}

/// Why no sharpening can be shown of a run.
std::string no_sharpening(const Trial& trial, std::size_t run) {
  for (std::size_t i = 0; i < trial.blades.size(); ++i) {
    if (trial.blades[i].name != trial.runs[run].facts.blade) continue;
    const BladeMakings makings = makings_of(trial, i);
    const std::size_t count = makings.all.size() - 1;
    if (std::find(makings.unplaced.begin(), makings.unplaced.end(), run) != makings.unplaced.end())
      return said(
          "Whether this run was cut before or after the {sharpenings} of the blade on record is "
          "not known: none names the run, and it has no times. What was measured and set up for it "
          "cannot be told.",
          {{"sharpenings", count > 1
                               ? said("{count} sharpenings", {{"count", std::to_string(count)}})
                               : std::string("sharpening")}});
    if (count > 0) return said("This run was cut before the blade's first sharpening on record.");
  }
  return said("No sharpening is on record: log the next one on Stones.");
}

CardBlock sharpening_block(const Trial& trial, std::size_t run,
                           const std::optional<RunStart>& start) {
  CardBlock block{"Sharpening", {}, {}, {}};
  if (!start) {
    block.sentences.push_back(no_sharpening(trial, run));
    return block;
  }
  block = done_block(*start);
  if (!start->named)
    block.sentences.emplace_back(
        said("The last sharpening before this run's first event; it does not name the run."));
  return block;
}

CardBlock checks_block(const Trial& trial, std::size_t index, const std::optional<RunMaking>& own) {
  CardBlock block{"Checks", {}, {}, {}};
  if (const auto before = reading_before_clean_up(trial, index, trial.unit()))
    block.lines.push_back({"before the clean-up", print_measure(*before, trial.unit(), 3)});
  const auto groups = start_gate(trial, {}, index);
  if (const auto start = start_of_run(groups, index, trial.unit())) {
    block.lines.push_back({"start reading", print_measure(start->start->reading, trial.unit(), 3)});
    block.sentences.push_back(said("Start gate. {sentence}", {{"sentence", start->sentence}}));
  } else {
    block.sentences.emplace_back(said("No reading at 0 cuts: the start is not proved."));
  }
  if (!own) return block;
  const auto& records = trial.blades[own->blade].records;
  for (std::size_t i = own->making.end; i-- > own->making.sharpening.value_or(0);)
    if (const auto* condition = std::get_if<ConditionRecord>(&records[i].data);
        condition && (condition->run.empty() || condition->run == trial.runs[index].facts.name)) {
      block.lines.push_back(
          {"apex looked at", describe(records[i].data) + ", " + records[i].made_at.substr(0, 10)});
      break;
    }
  return block;
}

CardBlock interval_block(const Trial& trial, std::size_t index, const CardOptions& options) {
  CardBlock block{"Touch-up", {}, {}, {}};
  std::vector<RunFit> all;
  if (!options.fit) all = *fit_runs(trial, {}, {});
  const RunFit& fit = options.fit ? *options.fit : all[index];
  if (!fit.curve || !options.threshold) {
    block.sentences.push_back(
        !fit.curve
            ? said("No interval yet: {the_run_has}.",
                   {{"the_run_has",
                     fit.why_not.empty() ? said("the run has no blunting curve") : fit.why_not}})
            : said("No interval: no limit is set at which an edge counts as blunt."));
    return block;
  }
  const CutsToThreshold cuts = cuts_to_threshold(fit, options.threshold->value);
  const std::string limit = print_measure(options.threshold->value, options.threshold->unit, 3);
  const auto whole = [](double value) { return print_number(std::floor(value), 6); };
  if (cuts.censoring == Censoring::right)
    block.sentences.push_back(
        cuts.surely_not_reached()
            ? said("Stayed below {limit} for all its {whole} cuts: touch up when they are made, or "
                   "go on and read.",
                   {{"limit", limit}, {"whole", whole(cuts.read_to)}})
            : said("Touch up after about {whole} cuts: so long it was surely below {limit}; it was "
                   "read to {whole_2}, near that limit.",
                   {{"whole", whole(cuts.at_least)},
                    {"limit", limit},
                    {"whole_2", whole(cuts.read_to)}}));
  else if (cuts.censoring == Censoring::left)
    block.sentences.push_back(
        said("Above {limit} from the start: for this limit it is not sharp enough.",
             {{"limit", limit}}));
  else
    block.sentences.push_back(
        said("Touch up after about {whole} cuts: this run reached {limit} after {whole_2}{to}. One "
             "run; the next edge may differ by more.",
             {{"whole", whole(cuts.low.value_or(*cuts.estimate))},
              {"limit", limit},
              {"whole_2", whole(*cuts.estimate)},
              {"to", cuts.low && cuts.high
                         ? said(" ({whole} to {whole_2}, 95 %)",
                                {{"whole", whole(*cuts.low)}, {"whole_2", whole(*cuts.high)}})
                         : ""}}));
  if (fit.curve->early_collapse)
    block.sentences.emplace_back(
        said("This run collapsed early: look at the apex for a burr or broken teeth before this "
             "edge is made again."));
  return block;
}

std::vector<std::string> cautions_of(const Trial& trial, const std::optional<RunStart>& start) {
  bool powered = false, strop = false;
  if (start)
    for (const auto& step : start->record->sharpening.steps) {
      strop |= step.work == StepWork::strop;
      for (const auto& a : trial.shelf) powered |= a.name == step.abrasive && is_powered(a.kind);
    }
  std::vector<std::string> out{
      "Feel for a burr across the edge, away from it, never along it. Do not prove sharpness on "
      "skin. Cut-resistant glove on the off hand at the bench."};
  if (powered)
    out.emplace_back(
        said("At belts and wheels: eye protection, no gloves, loose sleeves or hanging hair; cool "
             "often, a blue edge is soft."));
  if (strop) out.emplace_back(said("On strops and buffers the edge always trails."));
  out.emplace_back(
      said("Mind slurry and dust; cover an edge that stays in the clamp. Local rules, workplace "
           "procedure and trained persons come first."));
  return out;
}

}  // namespace

std::optional<RunStart> start_of(const Trial& trial, const Run& run) {
  const auto own = making_of_run(trial, std::size_t(&run - trial.runs.data()));
  return own ? start_in(trial.blades[own->blade], own->making, run.facts.name) : std::nullopt;
}

EdgeCard edge_card(const Trial& trial, std::size_t index, const CardOptions& options) {
  const Run& run = trial.runs.at(index);
  const auto own = making_of_run(trial, index);
  const auto start = own ? start_in(trial.blades[own->blade], own->making, run.facts.name)
                         : std::optional<RunStart>();
  auto [edge, set_at] = own ? edge_then(trial.blades[own->blade], own->making) : EdgeThen{};
  ground_since(edge, run.facts.geometry);
  EdgeCard card;
  card.title = run.facts.blade.empty() ? said("Blade not named") : run.facts.blade;
  card.subtitle = said("run {name}", {{"name", run.facts.name}});
  for (const std::string& part :
       {run.facts.steel, run.facts.medium,
        run.facts.cut_mode ? std::string(name_of(*run.facts.cut_mode)) : std::string()})
    if (!part.empty()) card.subtitle += ", " + part;
  if (start) card.date = start->made_at.substr(0, 10);
  card.section = draw(edge, run.facts.geometry);
  card.blocks = {geometry_block(run.facts, edge, options.angles), setup_block(edge, set_at),
                 sharpening_block(trial, index, start), checks_block(trial, index, own),
                 interval_block(trial, index, options)};
  card.cautions = cautions_of(trial, start);
  return card;
}

EdgeCard edge_card_of_making(const Trial& trial, std::size_t blade_index, std::size_t number,
                             const CardOptions& options) {
  const Blade& blade = trial.blades.at(blade_index);
  const Making making = makings_of(trial, blade_index).all.at(number);
  const auto start = start_in(blade, making, "");
  RunFacts facts;
  facts.steel = blade.steel;
  if (start) {
    facts.geometry = geometry_of(start->record->sharpening);
    facts.finish = finish_of(start->record->sharpening);
  }
  auto [edge, set_at] = edge_then(blade, making);
  ground_since(edge, facts.geometry);
  EdgeCard card;
  card.title = blade.name;
  card.subtitle = describe(blade, making) + (blade.steel.empty() ? "" : ", " + blade.steel);
  if (start) card.date = start->made_at.substr(0, 10);
  card.section = draw(edge, facts.geometry);
  CardBlock sharpening{"Sharpening", {}, {}, {}};
  if (start)
    sharpening = done_block(*start);
  else
    sharpening.sentences.emplace_back(
        said("The edge as it came: no sharpening of it is on record."));
  CardBlock used{"Use", {}, {}, {}};
  for (const std::size_t run : making.runs)
    used.lines.push_back(
        {"run",
         trial.runs[run].facts.name +
             (trial.runs[run].facts.medium.empty() ? "" : ", " + trial.runs[run].facts.medium)});
  if (making.runs.empty())
    used.sentences.emplace_back(said("No run on record was cut with this edge."));
  card.blocks = {geometry_block(facts, edge, options.angles), setup_block(edge, set_at), sharpening,
                 used};
  card.cautions = cautions_of(trial, start);
  return card;
}

std::string card_html(const EdgeCard& card) {
  std::string out =
      "<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" +
      xml_text(card.kind) + ": " + xml_text(card.title) + ", " + xml_text(card.subtitle) +
      "</title>\n<style>body{font:13px/1.45 "
      "B612,sans-serif;color:#23282d;background:#fbf8f2;max-width:150mm;margin:8mm auto;padding:0 "
      "4mm}"
      "h1{font-size:22px;margin:0}h2{font-size:14px;margin:14px 0 4px;border-top:1px solid "
      "#c9c2b4;padding-top:6px}dl{display:grid;"
      "grid-template-columns:46mm 1fr;gap:2px 4mm;margin:0}dd{margin:0}ol{margin:4px "
      "0;padding-left:7mm}p{margin:4px 0}"
      ".caution{border-left:3px solid #a3341f;padding-left:3mm}@media "
      "print{body{background:#fff;margin:0}}</style></head>\n<body>\n<h1>" +
      xml_text(card.title) + "</h1>\n<p>" + xml_text(card.kind) + ", " + xml_text(card.subtitle) +
      (card.date.empty() ? "" : "; " + xml_text(card.dated) + " " + xml_text(card.date)) +
      "</p>\n" + svg_of(card.section);
  for (const auto& block : card.blocks) {
    out += "<h2>" + xml_text(block.heading) + "</h2>\n";
    if (!block.lines.empty()) {
      out += "<dl>";
      for (const auto& line : block.lines)
        out += "<dt>" + xml_text(line.label) + "</dt><dd>" + xml_text(line.value) + "</dd>\n";
      out += "</dl>\n";
    }
    if (!block.steps.empty()) {
      out += "<ol>";
      for (const auto& step : block.steps) out += "<li>" + xml_text(step) + "</li>\n";
      out += "</ol>\n";
    }
    for (const auto& sentence : block.sentences) out += "<p>" + xml_text(sentence) + "</p>\n";
  }
  out += "<h2>Cautions</h2>\n";
  for (const auto& caution : card.cautions)
    out += "<p class=\"caution\">" + xml_text(caution) + "</p>\n";
  return out + "</body></html>\n";
}

}  // namespace bq::inline report
