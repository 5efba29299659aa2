// Micrographs of a made-up trial, from the same made-up edges that gave its readings, measured as a
// tester would at the window.
#include <algorithm>

#include "lens/png_bytes.h"
#include "quantity/said.h"
#include "rehearsal/virtual_microscope.h"
#include "store/json_fields.h"
#include "store/picture_store.h"
#include "workflow/bench_study.h"
#include "workflow/demo_project.h"
#include "workflow/lens_study.h"

namespace bq::inline workflow {
namespace {

std::optional<LensMeasure> measured(const GreyImage& image, LensMeasureKind kind,
                                    const std::vector<std::pair<Spot, Spot>>& shown,
                                    bool box = false) {
  LensMeasure out{kind, {}, ""};
  for (const auto& [from, to] : shown)
    if (const auto take = take_measure(image, kind, from, to, {true, box, false, 1}))
      out.takes.push_back(*take);
  return out.takes.empty() ? std::nullopt : std::optional(out);
}

Micrograph put(ProjectFile& project, const std::string& name, const GreyImage& image,
               const std::string& made_at) {
  const std::string bytes = png_bytes(image);
  Micrograph m = micrograph_of({0, name, "png", bytes});
  m.made_at = m.taken_at = made_at;
  m.id = project.pictures()->add(name, "png", bytes);
  return m;
}

/// One place of a run's edge over the cuts: bevel twice, the first chip in view, the last picture
/// laid over the first.
void keep_place(const JsonFields& f, const Trial& trial, const std::string& world,
                const std::string& made_at, double um_per_px, ProjectFile& project) {
  const std::string name = f.text("run");
  std::size_t run = 0;
  while (run < trial.runs.size() && trial.runs[run].facts.name != name) ++run;
  if (run == trial.runs.size()) f.fault("run", said("there is no run {name}", {{"name", name}}));
  const auto seed = std::uint64_t(f.number("seed", 0, 1e9));
  auto edge = stand_in_edge(trial, run, world, seed);
  if (!edge) f.fault("run", edge.refusal().reason);
  const SteelCard* card = trial.steel_card(trial.runs[run].facts.steel);
  Micrograph first;
  std::vector<Spot> first_marks;
  GreyImage first_image;
  std::uint64_t shots = 0;
  for (const auto& at : f.list("cuts")) {
    VirtualEdge now = *edge;
    now.cuts = whole_of(at, f.path_of("cuts"), 0, 1'000'000'000);
    MicroscopeShot shot;
    shot.um_per_px = um_per_px;
    shot.seed = seed + ++shots;
    stats::Random hand(shot.seed, 5);
    shot.shift_x_px = -18 + 36 * hand.uniform();
    shot.shift_y_px = -10 + 20 * hand.uniform();

    shot.turn_deg = -1.5 + 3 * hand.uniform();
    const MicroscopeSubject subject = microscope_subject(
        now, f.number("thickness_um", 1, 1e4), 12, card && card->toughness == "brittle",
        f.number("damage_per_1000_cuts", 0, 1e3), um_per_px * shot.width, 1);
    const auto picture = micrograph(subject, shot);
    if (!picture) f.fault("cuts", picture.refusal().reason);
    const MicroscopeTruth& truth = picture->truth;
    Micrograph m =
        put(project, name + " " + std::to_string(now.cuts) + ".png", picture->image, made_at);
    m.run = name;
    m.blade = trial.runs[run].facts.blade;
    m.cuts = now.cuts;
    m.side = EdgeSide::left;
    m.at_mm = f.number("at_mm", 0, 1e4);
    m.mark = f.text_or("mark", "");
    m.magnification = f.text("magnification");
    const auto near = [&](double u, double v) {
      const Spot p = truth.place(u, v);
      return Spot{p.x + 3 * hand.normal(), p.y + 3 * hand.normal()};
    };
    const double view = um_per_px * shot.width;
    if (const auto bevel =
            measured(picture->image, LensMeasureKind::bevel_width,
                     {{near(-0.3 * view, 0), near(-0.3 * view, subject.bevel_um)},
                      {near(-0.12 * view, 0), near(-0.12 * view, subject.bevel_um)}}))
      m.measures.push_back(*bevel);
    for (const auto& d : truth.damage)
      if (d.kind == MicroscopeDamage::Kind::chip && m.measures.size() < 3)
        if (const auto chip = measured(
                picture->image, LensMeasureKind::chip,
                {{near(d.at_um - 0.6 * d.length_um, 0), near(d.at_um + 0.6 * d.length_um, 0)}}))
          m.measures.push_back(*chip);
    if (first.id) {
      std::vector<std::pair<Spot, Spot>> marks;
      for (std::size_t i = 0; i < truth.marks.size(); ++i)
        marks.emplace_back(truth.marks[i], first_marks[i]);
      if (const auto laid = register_pictures(picture->image, first_image, marks))
        m.laid_over.push_back({first.id, laid->marks, laid->map, laid->residual_px, laid->doubt});
    } else {
      first = m;
      first_marks = truth.marks;
      first_image = picture->image;
    }
    if (const auto along = m.laid_over.empty() ? stretch_along(picture->image, false, um_per_px)
                                               : stretch_since(first_image, picture->image,
                                                               m.laid_over[0], false, um_per_px))
      m.along = *along;
    project.add_micrograph(m, png_bytes(shrunk(picture->image, 480)));
  }
}

void keep_piece(const JsonFields& f, const std::string& made_at, double um_per_px,
                ProjectFile& project) {
  const std::string stone = f.text("stone");
  const int pictures = int(f.number("pictures", 1, 20));
  for (int i = 0; i < pictures; ++i) {
    MicroscopeSubject subject;
    subject.piece = true;
    subject.seed = std::uint64_t(f.number("seed", 0, 1e9)) + std::uint64_t(i);
    subject.apex_finish_um = f.number("effective_um", 0.1, 1e3);
    subject.streaks = f.number_or("streaks", 0, 1, 0.02);
    subject.lay_deg = 4;
    MicroscopeShot shot;
    shot.um_per_px = um_per_px;
    shot.seed = subject.seed;
    shot.scale_bar = false;
    shot.width = 640;
    shot.height = 480;
    const auto picture = micrograph(subject, shot);
    if (!picture) f.fault("stone", picture.refusal().reason);
    Micrograph m = put(
        project, said("piece {stone} {i}.png", {{"stone", stone}, {"i", std::to_string(i + 1)}}),
        picture->image, made_at);
    m.stone = stone;
    m.magnification = f.text("magnification");
    if (const auto scratches =
            measured(picture->image, LensMeasureKind::scratches, {{{12, 12}, {627, 467}}}, true))
      m.measures.push_back(*scratches);
    project.add_micrograph(m, png_bytes(shrunk(picture->image, 480)));
  }
}

}  // namespace

void keep_demo_pictures(const JsonFields& file, ProjectFile& project) {
  const Trial trial = project.load();
  const std::string made_at = file.text("made_at"),
                    world = project.setting(kStandInWorldKey).value_or("");
  std::vector<MagnificationScale> scales;
  std::size_t index = 0;
  for (const auto& item : file.list("magnifications")) {
    const JsonFields f(item, file.path_of("magnifications", index++));
    scales.push_back({f.text("name"),
                      {f.number("um_per_px", 1e-3, 1e3),
                       f.number_or("relative_error", 0, 1, 0.002),
                       f.text_or("how", ""),
                       {}},
                      made_at});
  }
  const auto pixel = [&](const JsonFields& f) {
    for (const auto& scale : scales)
      if (scale.magnification == f.text("magnification")) return scale.scale.um_per_px;
    f.fault("magnification", said("it has no scale"));
  };
  if (file.has("place"))
    keep_place(file.object("place"), trial, world, made_at, pixel(file.object("place")), project);
  index = 0;
  for (const auto& item : file.list("pieces")) {
    const JsonFields f(item, file.path_of("pieces", index++));
    keep_piece(f, made_at, pixel(f), project);
  }
  // Each size of picture has its own.
  std::vector<MagnificationScale> sized;
  for (const auto& m : project.load().micrographs)
    for (MagnificationScale scale : scales) {
      scale.width = m.width;
      scale.height = m.height;
      if (scale.magnification == m.magnification &&
          std::find(sized.begin(), sized.end(), scale) == sized.end())
        sized.push_back(std::move(scale));
    }
  project.set_scales(sized);
}

}  // namespace bq::inline workflow
