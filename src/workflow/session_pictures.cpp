// What a session does with micrographs: brought in, tied to runs and places, measured, taken out.
#include <algorithm>
#include <memory>

#include "store/picture_store.h"
#include "workflow/picture_scale.h"
#include "workflow/project_session.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {
namespace {

void put(std::vector<Micrograph>& all, const Micrograph& micrograph) {
  const auto place =
      std::lower_bound(all.begin(), all.end(), micrograph.id,
                       [](const Micrograph& m, std::int64_t id) { return m.id < id; });
  if (place != all.end() && place->id == micrograph.id)
    *place = micrograph;
  else
    all.insert(place, micrograph);
}

void take_out(std::vector<Micrograph>& all, std::int64_t id) {
  std::erase_if(all, [&](const Micrograph& m) { return m.id == id; });
}

}  // namespace

const Micrograph* ProjectSession::micrograph(std::int64_t id) const {
  const auto& all = trial_.micrographs;
  // As the file gives them they rise; what was taken back in may stand anywhere.
  const auto near = std::lower_bound(all.begin(), all.end(), id,
                                     [](const Micrograph& m, std::int64_t x) { return m.id < x; });
  if (near != all.end() && near->id == id) return &*near;
  const auto found =
      std::find_if(all.begin(), all.end(), [&](const Micrograph& m) { return m.id == id; });
  return found == all.end() ? nullptr : &*found;
}

void ProjectSession::add_micrograph(const Micrograph& micrograph, const std::string& thumbnail) {
  if (micrograph.id == 0) refuse("The picture's file is not in the project. Nothing was changed.");
  perform({"the picture " + micrograph.name,
           [this, micrograph, thumbnail] {
             file_.add_micrograph(micrograph, thumbnail);
             put(trial_.micrographs, micrograph);
           },
           [this, micrograph] {
             file_.remove_micrograph(micrograph.id);
             take_out(trial_.micrographs, micrograph.id);
           }});
}

void ProjectSession::set_micrograph(const Micrograph& micrograph, const std::string& what) {
  const Micrograph* now = this->micrograph(micrograph.id);
  if (!now) refuse("That picture is not in the project any more. Nothing was changed.");
  if (*now == micrograph) return;
  const Micrograph before = *now;
  const auto set = [this](const Micrograph& value) {
    file_.set_micrograph(value);
    put(trial_.micrographs, value);
  };
  perform({what, [set, micrograph] { set(micrograph); }, [set, before] { set(before); }});
}

void ProjectSession::set_scale(const MagnificationScale& scale, bool also_earlier) {
  if (scale.magnification.empty())
    refuse("A scale that is kept for a magnification needs its name. Nothing was changed.");
  if (scale.width < 1 || scale.height < 1)
    refuse("A scale belongs to pictures of one size. Nothing was changed.");
  const auto before = trial_.scales;
  auto after = before;
  const auto found = std::find_if(after.begin(), after.end(), [&](const MagnificationScale& s) {
    return same_optics(s, scale) && same_size(s, scale);
  });
  if (found == after.end())
    after.push_back(scale);
  else
    *found = scale;
  // What has a scale by its magnification now keeps it as its own, unless it was asked to change.
  std::vector<Micrograph> keep;
  for (const auto& m : trial_.micrographs)
    if (!m.scale && same_optics(m, scale)) {
      const auto now = scale_of(trial_, m);
      if (!now || (same_size(m, scale) && also_earlier) || now->um_per_px == scale.scale.um_per_px)
        continue;
      keep.push_back(m);
      keep.back().scale = *now;
    }
  const auto set = [this](const std::vector<MagnificationScale>& scales) {
    file_.set_scales(scales);
    trial_.scales = scales;
  };
  as_one("the scale of " + scale.magnification, [&] {
    for (const auto& m : keep) set_micrograph(m, "the scale of " + m.name);
    perform({"the scale of " + scale.magnification, [set, after] { set(after); },
             [set, before] { set(before); }});
  });
}

void ProjectSession::remove_micrograph(std::int64_t id) {
  const Micrograph* now = micrograph(id);
  if (!now) return;
  const Micrograph gone = *now;
  for (const auto& run : trial_.runs)
    for (const auto& event : run.events)
      if (const auto* look = std::get_if<LookEvent>(&event.data); look && look->picture == id)
        refuse(gone.name + " belongs to what was seen on run " + run.facts.name + " after " +
               std::to_string(event.cuts) + " cuts and stays with it. Nothing was changed.");
  const std::string thumbnail = file_.thumbnail(id);
  perform({"taking out the picture " + gone.name,
           [this, id] {
             file_.remove_micrograph(id);
             take_out(trial_.micrographs, id);
           },
           [this, gone, thumbnail] {
             file_.add_micrograph(gone, thumbnail);
             put(trial_.micrographs, gone);
           }});
}

void ProjectSession::accept_damage(std::size_t run, const LookEvent& look, std::int64_t cuts,
                                   const Micrograph& after, const std::string& by_operator) {
  const Micrograph* now = micrograph(after.id);
  if (!now) refuse("That picture is not in the project any more. Nothing was changed.");
  const auto step = step_of(run, {look}, by_operator);
  step->events.front().cuts = cuts;
  step->micrograph = after;
  BenchStep before;
  before.micrograph = *now;
  perform_step("damage seen in " + after.name + ", run " + trial_.runs.at(run).facts.name, step,
               before);
}

void ProjectSession::take_micrograph(const std::optional<Micrograph>& micrograph,
                                     const std::optional<Micrograph>& instead) {
  if (micrograph)
    put(trial_.micrographs, *micrograph);
  else if (instead)
    take_out(trial_.micrographs, instead->id);
}

void ProjectSession::rename_in_micrographs(std::string Micrograph::* name, const std::string& from,
                                           const std::string& to) {
  if (from == to || from.empty()) return;
  for (auto& m : trial_.micrographs)
    if (m.*name == from) {
      m.*name = to;
      file_.set_micrograph(m);
    }
}

}  // namespace bq::inline workflow
