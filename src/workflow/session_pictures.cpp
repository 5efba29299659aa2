// What a session does with micrographs: brought in, tied to runs and places, measured, taken out.
#include <algorithm>

#include "quantity/said.h"
#include "workflow/picture_scale.h"
#include "workflow/project_session.h"
#include "workflow/rows_by_id.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {

const Micrograph* ProjectSession::micrograph(std::int64_t id) const {
  const auto& all = trial().micrographs;
  const auto found = place_of(all, id);
  return found != all.end() && found->id == id ? &*found : nullptr;
}

void ProjectSession::add_micrograph(const Micrograph& micrograph, const std::string& thumbnail) {
  if (micrograph.id == 0)
    refuse(said("The picture's file is not in the project. Nothing was changed."));
  perform<MicrographFacts>(said("the picture {name}", {{"name", micrograph.name}}), {},
                           {micrograph, thumbnail});
}

void ProjectSession::set_micrograph(const Micrograph& micrograph, const std::string& what) {
  const Micrograph* now = this->micrograph(micrograph.id);
  if (!now) refuse(said("That picture is not in the project any more. Nothing was changed."));
  if (*now != micrograph)
    perform<MicrographFacts>(what, MicrographFacts{*now, ""}, {micrograph, ""});
}

void ProjectSession::set_scale(const MagnificationScale& scale, bool also_earlier) {
  if (scale.magnification.empty())
    refuse(said("A scale that is kept for a magnification needs its name. Nothing was changed."));
  if (scale.width < 1 || scale.height < 1)
    refuse(said("A scale belongs to pictures of one size. Nothing was changed."));
  const MagnificationScales before{trial().scales};
  MagnificationScales after = before;
  const auto found = std::find_if(
      after.all.begin(), after.all.end(),
      [&](const MagnificationScale& s) { return same_optics(s, scale) && same_size(s, scale); });
  if (found == after.all.end())
    after.all.push_back(scale);
  else
    *found = scale;
  // What has a scale by its magnification now keeps it as its own, unless it was asked to change.
  std::vector<Micrograph> keep;
  for (const auto& m : trial().micrographs)
    if (!m.scale && same_optics(m, scale)) {
      const auto now = scale_of(trial(), m);
      if (!now || (same_size(m, scale) && also_earlier) || now->um_per_px == scale.scale.um_per_px)
        continue;
      keep.push_back(m);
      keep.back().scale = *now;
    }
  as_one(said("the scale of {magnification}", {{"magnification", scale.magnification}}), [&] {
    for (const auto& m : keep) set_micrograph(m, said("the scale of {name}", {{"name", m.name}}));
    acts_.replace(before, after);
  });
}

void ProjectSession::remove_micrograph(std::int64_t id) {
  const Micrograph* now = micrograph(id);
  if (!now) return;
  const Micrograph gone = *now;
  for (const auto& run : trial().runs)
    for (const auto& event : run.events)
      if (const auto* look = std::get_if<LookEvent>(&event.data); look && look->picture == id)
        refuse(
            said("{name} belongs to what was seen on run {name_2} after {cuts} cuts and stays with "
                 "it. Nothing was changed.",
                 {{"name", gone.name},
                  {"name_2", run.facts.name},
                  {"cuts", std::to_string(event.cuts)}}));
  as_one(said("taking out the picture {name}", {{"name", gone.name}}),
         [&] { acts_.remove(MicrographFacts{gone, ""}); });
}

void ProjectSession::accept_damage(std::size_t run, const LookEvent& look, std::int64_t cuts,
                                   const Micrograph& after, const std::string& by_operator) {
  const Micrograph* now = micrograph(after.id);
  if (!now) refuse(said("That picture is not in the project any more. Nothing was changed."));
  const Run& of = trial().runs.at(run);
  as_one(said("damage seen in {name}, run {name_2}",
              {{"name", after.name}, {"name_2", of.facts.name}}),
         [&] {
           acts_.replace(MicrographFacts{*now, ""}, MicrographFacts{after, ""});
           acts_.add(RunEvent{of.id, {0, "", cuts, by_operator, look}});
         });
}

}  // namespace bq::inline workflow
