// Two pictures of one place: marks, how one lies over the other, the difference.
#include <algorithm>

#include "ui/lens/lens_model.h"

namespace bq::ui {

const SamePlace* LensModel::laid() const {
  const Micrograph* m = current();
  if (!m || !other_) return nullptr;
  for (const auto& laid : m->laid_over)
    if (laid.other == other_) return &laid;
  return nullptr;
}

void LensModel::compare_with(std::int64_t id) {
  other_ = id == id_ ? 0 : id;
  other_pixels_.reset();
  difference_ = {};
  here_.clear();
  there_.clear();
  mode_ = CompareMode::none;
  if (tool_ == LensTool::marks) tool_ = LensTool::look;
  if (other()) load(other_, true);
  if (laid()) mode_ = CompareMode::wipe;
  emit picture_changed();
  emit changed();
}

void LensModel::set_mode(CompareMode mode) {
  if (mode != CompareMode::none && !laid()) {
    emit workbench_.told(
        other()
            ? tr("Lay the two pictures over each other first: show two or three marks in both (P).")
            : tr("Choose the picture to compare with first."));
    return;
  }
  mode_ = mode;
  if (mode == CompareMode::difference && difference_.isNull()) compute_difference();
  emit changed();
}

void LensModel::show_mark(Spot at, bool in_other) {
  if (tool_ != LensTool::marks || !other_pixels_ || !pixels_) return;
  auto& marks = in_other ? there_ : here_;
  const auto& partners = in_other ? here_ : there_;
  // Marks come in pairs; one that is shown twice before its partner is shown anew.
  if (marks.size() > partners.size())
    marks.back() = at;
  else
    marks.push_back(at);
  emit changed();
  if (here_.size() == 3 && there_.size() == 3) lay_over();
}

void LensModel::lay_over() {
  const std::size_t pairs = std::min(here_.size(), there_.size());
  if (pairs < 2 || !pixels_ || !other_pixels_) {
    emit workbench_.told(tr("Two marks at least are needed, each shown in both pictures."));
    return;
  }
  std::vector<std::pair<Spot, Spot>> marks;
  for (std::size_t i = 0; i < pairs; ++i) marks.emplace_back(here_[i], there_[i]);
  laying_.ask(
      [one = pixels_, two = other_pixels_, marks](const std::stop_token&) {
        return std::make_shared<Checked<Registration>>(
            register_pictures(one->grey, two->grey, marks));
      },
      [this, id = id_, other = other_](const std::shared_ptr<Checked<Registration>>& found) {
        if (id != id_ || other != other_) return;
        here_.clear();
        there_.clear();
        if (!*found) {
          emit workbench_.refused(tr("Not laid over each other: %1. Show the marks again.")
                                      .arg(QString::fromStdString(found->refusal().reason)));
          emit changed();
          return;
        }
        const Registration& r = **found;
        set_facts(
            [&](Micrograph& m) {
              std::erase_if(m.laid_over,
                            [&](const SamePlace& laid) { return laid.other == other; });
              m.laid_over.push_back({other, r.marks, r.map, r.residual_px, r.doubt});
            },
            tr("laying two pictures over each other"));
        tool_ = LensTool::look;
        difference_ = {};
        set_mode(CompareMode::wipe);
        if (!r.doubt.empty())
          emit workbench_.told(
              tr("Laid over each other, but %1. Look whether the pictures agree, or show the marks "
                 "again; until then nothing is reckoned from how they lie.")
                  .arg(QString::fromStdString(r.doubt)));
      });
  emit changed();
}

void LensModel::compute_difference() {
  const SamePlace* how = laid();
  if (!how || !pixels_ || !other_pixels_) return;
  differing_.ask(
      [one = pixels_, two = other_pixels_, map = how->map](const std::stop_token& stop) {
        auto out = std::make_shared<QImage>();
        const GreyImage d =
            difference_of(one->grey, two->grey, map, [&stop] { return stop.stop_requested(); });
        if (d.empty()) return out;
        *out = QImage(d.width(), d.height(), QImage::Format_Grayscale8);
        for (int y = 0; y < d.height(); ++y)
          std::copy(d.row(y), d.row(y) + d.width(), out->scanLine(y));
        return out;
      },
      [this, id = id_, other = other_](const std::shared_ptr<QImage>& image) {
        if (id != id_ || other != other_) return;
        difference_ = *image;
        emit changed();
      });
}

}  // namespace bq::ui
