#include "ui/lens/lens_model.h"

#include <algorithm>
#include <array>

#include "ui/lens/stored_picture.h"

namespace bq::ui {
namespace {

/// The tool of each kind of measure.
constexpr std::array<LensTool, kLensMeasures> kToolOf{
    LensTool::bevel, LensTool::micro_bevel, LensTool::burr, LensTool::roll,
    LensTool::chip,  LensTool::scratches,   LensTool::apex};

LensMeasureKind kind_of(LensTool tool) {
  return LensMeasureKind(std::find(kToolOf.begin(), kToolOf.end(), tool) - kToolOf.begin());
}

}  // namespace

LensModel::LensModel(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench) {
  const auto project = workbench_.of_this_project();
  importing_.belongs_to(project, [this] {
    waiting_.clear();
    emit workbench_.progress({}, 0, 0);
    emit workbench_.told(
        tr("A picture that was coming in was meant for the project that was open "
           "before; it was not taken in."));
    emit changed();
  });
  loading_.belongs_to(project);
  loading_other_.belongs_to(project);
  taking_.belongs_to(project);
  finding_.belongs_to(project);
  laying_.belongs_to(project);
  differing_.belongs_to(project);
  along_.belongs_to(project);
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.part(Part::pictures) || touched.part(Part::runs) || touched.part(Part::blades) ||
        touched.part(Part::shelf))
      reload();
  });
  connect(&workbench_, &Workbench::display_changed, this, &LensModel::changed);
  connect(&workbench_, &Workbench::stop_wanted, this, [this] {
    waiting_.clear();
    importing_.stop();
  });
  settle_.setSingleShot(true);
  settle_.setInterval(250);
  connect(&settle_, &QTimer::timeout, this, &LensModel::look_into_folder);
  connect(&watcher_, &QFileSystemWatcher::directoryChanged, this, [this] { settle_.start(); });
  look_again_.setInterval(2000);
  connect(&look_again_, &QTimer::timeout, this, &LensModel::look_into_folder);
  reload();
}

std::shared_ptr<PictureStore> LensModel::store() const {
  return workbench_.has_project() ? workbench_.session().pictures() : nullptr;
}

const Micrograph* LensModel::current() const {
  return workbench_.has_project() ? workbench_.session().micrograph(id_) : nullptr;
}
const Micrograph* LensModel::other() const {
  return workbench_.has_project() && other_ ? workbench_.session().micrograph(other_) : nullptr;
}

std::optional<PictureScale> LensModel::scale() const {
  const Micrograph* m = current();
  return m ? scale_of(trial(), *m) : std::nullopt;
}

QImage LensModel::thumbnail(std::int64_t id) const {
  const auto known = thumbnails_.find(id);
  if (known != thumbnails_.end()) return known->second;
  QImage image;
  if (workbench_.has_project())
    if (const std::string png = workbench_.session().thumbnail(id); !png.empty())
      image.loadFromData(reinterpret_cast<const uchar*>(png.data()), int(png.size()), "PNG");
  if (!image.isNull()) thumbnails_[id] = image;
  return image;
}

void LensModel::reload() {
  if (!workbench_.has_project()) {
    thumbnails_.clear();
    watch({});
    waiting_.clear();
    unseen_.clear();
    if (id_ != 0) open(0);
    return;
  }
  if (!current()) {
    // Undone, taken out, or another project: the newest that is there.
    const auto& all = trial().micrographs;
    const auto id = all.empty() ? 0 : all.back().id;
    if (id != id_ || pixels_) open(id);
    return;
  }
  std::erase_if(unseen_, [this](std::int64_t id) { return !workbench_.session().micrograph(id); });
  const Micrograph& m = *current();
  if (chosen_ >= int(m.measures.size())) chosen_ = int(m.measures.size()) - 1;
  if (other_ && !other()) compare_with(0);
  emit changed();
}

void LensModel::open(std::int64_t id) {
  id_ = id;
  std::erase(unseen_, id);
  pixels_.reset();
  first_view_ = thumbnail(id);
  points_.clear();
  readings_.clear();
  side_words_.clear();
  here_.clear();
  there_.clear();
  hints_.clear();
  chosen_hint_ = -1;
  repeating_ = false;
  mode_ = CompareMode::none;
  other_ = 0;
  other_pixels_.reset();
  difference_ = {};
  if (tool_ == LensTool::marks) tool_ = LensTool::look;
  const Micrograph* m = current();
  chosen_ = m ? int(m->measures.size()) - 1 : -1;
  cursor_ = m ? Spot{0.5 * m->width, 0.5 * m->height} : Spot{};
  if (m) load(id, false);
  emit picture_changed();
  emit changed();
}

void LensModel::load(std::int64_t id, bool into_other) {
  const auto pictures = store();
  if (!pictures) return;
  auto& job = into_other ? loading_other_ : loading_;
  job.ask(
      [pictures, id, bare = thumbnail(id).isNull()](const std::stop_token& stop) {
        const auto asked = [&stop] { return stop.stop_requested(); };
        auto out = std::make_shared<Loaded>();
        out->picture = read_stored(*pictures, id, asked);
        if (bare && out->picture.pixels) out->thumbnail = thumbnail_of(*out->picture.pixels);
        return out;
      },
      [this, id, into_other](const std::shared_ptr<Loaded>& out) {
        if (id != (into_other ? other_ : id_)) return;
        const Micrograph* m = into_other ? other() : current();
        if (!out->picture.pixels) {
          if (m)
            emit workbench_.refused(
                tr("%1 cannot be shown: %2. It is still in the project as it was brought in.")
                    .arg(QString::fromStdString(m->name), out->picture.fault));
          return;
        }
        (into_other ? other_pixels_ : pixels_) = out->picture.pixels;
        if (m && !out->thumbnail.empty() && workbench_.writable())
          workbench_.edit([&](ProjectSession& s) { s.set_thumbnail(id, out->thumbnail); });
        if (into_other && mode_ == CompareMode::difference) compute_difference();
        emit picture_changed();
        emit changed();
      });
}

void LensModel::step(int by) {
  const auto& all = trial().micrographs;
  const auto at =
      std::find_if(all.begin(), all.end(), [&](const Micrograph& m) { return m.id == id_; });
  if (at == all.end()) return;
  const auto to =
      std::clamp<std::ptrdiff_t>(at - all.begin() + by, 0, std::ptrdiff_t(all.size()) - 1);
  if (all[std::size_t(to)].id != id_) open(all[std::size_t(to)].id);
}

void LensModel::take_out() {
  if (current()) workbench_.edit([this](ProjectSession& s) { s.remove_micrograph(id_); });
}

void LensModel::set_facts(const std::function<void(Micrograph&)>& change, const QString& what) {
  if (!current()) return;
  Micrograph after = *current();
  change(after);
  if (after == *current()) return;
  workbench_.edit([&](ProjectSession& s) { s.set_micrograph(after, what.toStdString()); });
}

void LensModel::set_tool(LensTool tool) {
  tool_ = tool;
  repeating_ = false;
  points_.clear();
  readings_.clear();
  if (tool == LensTool::marks) {
    here_.clear();
    there_.clear();
    mode_ = CompareMode::none;
  }
  emit changed();
}
void LensModel::set_snap(bool snap) {
  snap_ = snap;
  emit changed();
}
void LensModel::set_other_side(bool other) {
  if (!current()) return;
  set_facts([other](Micrograph& m) { m.other_side = other; },
            tr("which side of %1 is the blade").arg(QString::fromStdString(current()->name)));
  hints_.clear();
  chosen_hint_ = -1;
  emit changed();
}
void LensModel::set_box(bool box) {
  box_ = box;
  emit changed();
}
void LensModel::drop_points() {
  points_.clear();
  here_.clear();
  there_.clear();
  repeating_ = false;
  emit changed();
}

void LensModel::move_cursor(Spot to) {
  const Micrograph* m = current();
  if (!m) return;
  cursor_ = {std::clamp(to.x, 0.0, double(m->width - 1)),
             std::clamp(to.y, 0.0, double(m->height - 1))};
  emit cursor_moved();
}

void LensModel::show_point(Spot at, double px_per_screen_px) {
  if (!current() || tool_ == LensTool::look || tool_ == LensTool::marks) return;
  if (!pixels_) {
    emit workbench_.told(tr("The picture is still being read."));
    return;
  }
  if (tool_ != LensTool::scale && !scale()) {
    const std::string why = why_no_scale(trial(), *current());
    emit workbench_.refused(
        why.empty()
            ? tr("This picture has no scale yet: it can be looked at, not measured. Set the "
                 "scale first (K), from its scale bar or a known object.")
            : QString::fromStdString(why));
    return;
  }
  if (points_.size() >= 2) points_.clear();
  px_per_screen_px_ =
      points_.empty() ? px_per_screen_px : std::max(px_per_screen_px_, px_per_screen_px);
  points_.push_back(at);
  if (points_.size() < 2) {
    emit changed();
    return;
  }
  if (tool_ == LensTool::scale) {
    take_scale_points();
    emit changed();
    emit length_wanted();
    return;
  }
  const Spot from = points_[0], to = points_[1];
  take(from, to);
}

void LensModel::take(Spot from, Spot to) {
  const LensMeasureKind kind = kind_of(tool_);
  const int into = repeating_ && current() && chosen_ >= 0 &&
                           current()->measures[std::size_t(chosen_)].kind == kind
                       ? chosen_
                       : -1;
  taking_.ask(
      [pixels = pixels_, kind, from, to,
       hand = LensHand{snap_, box_, other_side(), px_per_screen_px_}](const std::stop_token&) {
        return std::make_shared<Checked<LensTake>>(
            take_measure(pixels->grey, kind, from, to, hand));
      },
      [this, kind, id = id_, into](const std::shared_ptr<Checked<LensTake>>& taken) {
        keep_take(*taken, kind, id, into);
      });
  emit changed();
}

void LensModel::keep_take(const Checked<LensTake>& take, LensMeasureKind kind, std::int64_t id,
                          int into) {
  points_.clear();
  if (id != id_ || !current()) return;
  if (!take) {
    emit workbench_.refused(tr("Not measured: %1. Nothing was changed.")
                                .arg(QString::fromStdString(take.refusal().reason)));
    emit changed();
    return;
  }
  Micrograph after = *current();
  if (into >= 0 && into < int(after.measures.size())) {
    after.measures[std::size_t(into)].takes.push_back(*take);
  } else {
    after.measures.push_back({kind, {*take}, ""});
    into = int(after.measures.size()) - 1;
  }
  const std::string what = std::string(name_of(kind)) + " in " + after.name;
  if (workbench_.edit([&](ProjectSession& s) { s.set_micrograph(after, what); })) choose(into);
}

void LensModel::set_repeating(bool repeating) {
  if (repeating && (!current() || chosen_ < 0)) return;
  repeating_ = repeating;
  if (repeating) {
    tool_ = kToolOf[std::size_t(current()->measures[std::size_t(chosen_)].kind)];
  }
  points_.clear();
  emit changed();
}

void LensModel::remove_measure(int index) {
  if (!current() || index < 0 || index >= int(current()->measures.size())) return;
  set_facts([index](Micrograph& m) { m.measures.erase(m.measures.begin() + index); },
            tr("taking out a measure of %1").arg(QString::fromStdString(current()->name)));
}

void LensModel::choose(int index) {
  chosen_ = index;
  repeating_ = false;
  emit changed();
}

void LensModel::find_damage() {
  if (!pixels_) return;
  finding_.ask(
      [pixels = pixels_, other = other_side()](const std::stop_token&) {
        using Hints = Checked<FoundDamage>;
        const auto trace = trace_whole(pixels->grey, other);
        if (!trace) return std::make_shared<Hints>(trace.refusal());
        return std::make_shared<Hints>(
            FoundDamage{bq::find_damage(*trace), trace->bevel > trace->surround, trace->side_told});
      },
      [this, id = id_](const std::shared_ptr<Checked<FoundDamage>>& found) {
        if (id != id_) return;
        hints_.clear();
        side_words_.clear();
        if (*found)
          side_words_ = ((*found)->side_told
                             ? ((*found)->brighter ? tr("The blade is the brighter side.")
                                                   : tr("The blade is the darker side."))
                             : tr("The brighter side was taken for the blade: its scratches do not "
                                  "say. If it is the other one, turn it (T)."));
        if (!*found) {
          emit workbench_.refused(
              tr("Nothing can be suggested: %1. Measure by hand (C chip, O roll).")
                  .arg(QString::fromStdString(found->refusal().reason)));
        } else {
          // What was answered is not asked again.
          for (const auto& hint : (*found)->hints) {
            const auto& answers = current()->hints;
            if (std::none_of(answers.begin(), answers.end(), [&](const HintAnswer& a) {
                  return a.kind == hint.kind &&
                         length(a.at - hint.at) < std::max(8.0, 0.5 * a.length_px);
                }))
              hints_.push_back(hint);
          }
          if (hints_.empty())
            emit workbench_.told((*found)->hints.empty()
                                     ? tr("Nothing stands out along the apex. That is no proof "
                                          "that it is sound: look yourself.")
                                     : tr("Everything that stands out has been answered."));
        }
        chosen_hint_ = hints_.empty() ? -1 : 0;
        emit changed();
      });
  emit changed();
}

void LensModel::choose_hint(int index) {
  if (index < 0 || index >= int(hints_.size())) return;
  chosen_hint_ = index;
  cursor_ = hints_[std::size_t(index)].at;
  emit changed();
}

void LensModel::answer_hint(bool accept) {
  if (!current() || chosen_hint_ < 0 || chosen_hint_ >= int(hints_.size())) return;
  const DamageHint& hint = hints_[std::size_t(chosen_hint_)];
  const HintAnswer answer{hint.kind,         hint.at, hint.to_px - hint.from_px,
                          hint.size_px,      accept,  hint.length_error_px,
                          hint.size_error_px};
  Micrograph after = *current();
  after.hints.push_back(answer);
  int run = -1;
  for (std::size_t i = 0; i < trial().runs.size(); ++i)
    if (trial().runs[i].facts.name == after.run && !after.run.empty()) run = int(i);
  const auto pixel = scale();
  bool good = false;
  if (accept && run >= 0 && pixel) {
    const LookEvent look = look_of(after, answer, *pixel);
    const std::int64_t cuts = after.cuts.value_or(trial().runs[std::size_t(run)].cuts_done);
    good = workbench_.edit(
        [&](ProjectSession& s) { s.accept_damage(std::size_t(run), look, cuts, after, ""); });
    if (good)
      emit workbench_.told(
          tr("Kept in the record of run %1.").arg(QString::fromStdString(after.run)));
  } else {
    good = workbench_.edit([&](ProjectSession& s) {
      s.set_micrograph(after, std::string(accept ? "accepting" : "rejecting") +
                                  " a suggestion in " + after.name);
    });
    if (good && accept)
      emit workbench_.told(run < 0 ? tr("Kept with the picture. Tie the picture to a run (Place) "
                                        "to have damage in the run's record.")
                                   : tr("Kept with the picture; without a scale its size is not "
                                        "known, so it is not in the run's record."));
  }
  if (!good) return;
  hints_.erase(hints_.begin() + chosen_hint_);
  chosen_hint_ = hints_.empty() ? -1 : std::min(chosen_hint_, int(hints_.size()) - 1);
  if (chosen_hint_ >= 0) cursor_ = hints_[std::size_t(chosen_hint_)].at;
  emit changed();
}

}  // namespace bq::ui
