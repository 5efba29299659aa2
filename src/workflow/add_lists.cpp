// Lists of blades, abrasives, pairs, gauge studies and strokes on their way into a project.
#include <algorithm>

#include "bluntness/stroke_force.h"
#include "quantity/said.h"
#include "workflow/gauge_table.h"
#include "workflow/project_session.h"
#include "workflow/source.h"

namespace bq::inline workflow {
namespace {

std::string of_one_kind(std::size_t count, const char* one) {
  return std::to_string(count) + " " + one + (count == 1 ? "" : "s");
}

/// What of the lists can be taken, and why the rest is not.
class ListsIn {
 public:
  ListsIn(ProjectSession& session, const std::vector<ListTable>& lists)
      : session_(session), fresh_(lists) {
    for (auto& list : fresh_) leave_out_known(list);
  }

  std::string take() {
    const std::string count = count_of(fresh_);
    if (count != "nothing")
      session_.as_one(said("taking in {count}", {{"count", count}}), [this] { write(); });
    std::string out = said("{count} came in", {{"count", count}});
    if (!there_.empty())
      out += said("; there already by name, and left as they are: {there}", {{"there", there_}});
    for (const auto& reason : left_out_) out += "; " + reason;
    return out + ".";
  }

 private:
  void leave_out_known(ListTable& list) {
    const auto known = [&](const std::string& name, bool is_known) {
      if (is_known) there_ += (there_.empty() ? "" : ", ") + name;
      return is_known;
    };
    std::erase_if(list.blades, [&](const Blade& blade) {
      return known(blade.name, session_.trial().find_blade(blade.name) != nullptr);
    });
    std::erase_if(list.stones, [&](const Abrasive& stone) {
      const auto& shelf = session_.trial().shelf;
      return known(stone.name, std::any_of(shelf.begin(), shelf.end(), [&](const Abrasive& a) {
                     return a.name == stone.name;
                   }));
    });
    std::erase_if(list.strokes, [&](const ListedStroke& stroke) {
      const std::string where = said("the stroke of run {run} (line {line}) ",
                                     {{"run", stroke.run}, {"line", std::to_string(stroke.line)}});
      const auto figures = stroke_figures(stroke.stroke, {});
      std::string why;
      if (!session_.trial().find_run(stroke.run))
        why = said("was left out: there is no such run");
      else if (!figures)
        why = said("was left out: {reason}", {{"reason", figures.refusal().reason}});
      else if (is_kept(stroke))
        why = said("is kept already");
      if (why.empty())
        events_.push_back(stroke_event(*figures));
      else
        left_out_.push_back(where + why);
      return !why.empty();
    });
  }

  /// The very samples are a stroke of that run already: the same table came in twice.
  [[nodiscard]] bool is_kept(const ListedStroke& listed) const {
    for (const auto& event : session_.trial().find_run(listed.run)->events)
      if (const auto* stroke = std::get_if<StrokeEvent>(&event.data))
        if (const auto kept = session_.stroke(stroke->stroke);
            kept && event.cuts == listed.cuts && kept->force_N == listed.stroke.force_N)
          return true;
    return false;
  }

  void write() {
    auto event = events_.begin();
    for (const auto& list : fresh_) {
      for (const auto& blade : list.blades) session_.add_blade(blade);
      for (const auto& stone : list.stones) session_.set_abrasive(stone);
      if (list.pairs) session_.set_comparison(*list.pairs);
      if (!list.gauge.empty())
        session_.keep(kGaugeStudyKey, gauge_study_json({list.gauge, list.gauge_unit}),
                      said("the gauge study"));
      for (const auto& stroke : list.strokes) {
        const Trial& trial = session_.trial();
        const auto run = std::size_t(trial.find_run(stroke.run) - trial.runs.data());
        session_.keep_stroke(run, stroke.stroke, *event++, stroke.by_operator, stroke.cuts);
      }
    }
  }

  ProjectSession& session_;
  std::vector<ListTable> fresh_;
  std::vector<StrokeEvent> events_;  ///< of the strokes that are fresh, in their order
  std::string there_;
  std::vector<std::string> left_out_;
};

}  // namespace

std::string count_of(const std::vector<ListTable>& lists) {
  std::size_t blades = 0, stones = 0, pairs = 0, gauge = 0, strokes = 0;
  for (const auto& list : lists) {
    blades += list.blades.size();
    stones += list.stones.size();
    pairs += list.pairs ? list.pairs->pairs.size() : 0;
    gauge += list.gauge.size();
    strokes += list.strokes.size();
  }
  std::string out;
  const auto add = [&](std::size_t count, const char* one) {
    if (count > 0) out += (out.empty() ? "" : said(" and ")) + of_one_kind(count, one);
  };
  add(blades, "blade");
  add(stones, "abrasive");
  add(pairs, "pair");
  if (gauge > 0) {
    out += out.empty() ? "" : said(" and ");
    out += said("a gauge study of {of_one_kind}", {{"of_one_kind", of_one_kind(gauge, "reading")}});
  }
  add(strokes, "force stroke");
  return out.empty() ? "nothing" : out;
}

std::string add_lists(ProjectSession& session, const std::vector<ListTable>& lists) {
  return ListsIn(session, lists).take();
}

}  // namespace bq::inline workflow
