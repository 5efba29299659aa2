// The scale of a picture, shown and kept; and what is measured along the whole apex.
#include <algorithm>

#include "quantity/number.h"
#include "ui/lens/lens_model.h"

namespace bq::ui {

void LensModel::take_scale_points() {
  const ShownLength shown =
      shown_length(pixels_->grey, points_[0], points_[1], px_per_screen_px_, snap_);
  reading_ = shown.reading;
  points_ = {reading_.from, reading_.to};
  const QString within = QString::fromStdString(print_number(1.96 * reading_.error_px, 2));
  if (!shown.found)
    reading_words_ = tr("as you showed it, within %1 px at this zoom").arg(within);
  else if (*shown.found == ScaleMarkKind::bar)
    reading_words_ = tr("both ends of a bar found, within %1 px").arg(within);
  else
    reading_words_ = tr("two lines of a ruler found, within %1 px").arg(within);
  if (!shown.why_not.empty())
    reading_words_ = tr("%1: %2").arg(QString::fromStdString(shown.why_not), reading_words_);
}

Checked<PictureScale> LensModel::scale_shown(double um) const {
  if (!current() || points_.size() != 2) return Refusal{"two points are needed"};
  std::vector<ScaleReading> readings = readings_;
  readings.push_back(reading_);
  readings.back().um = um;
  return scale_from(readings, current()->width, current()->height, current()->name);
}

bool LensModel::add_scale_reading(double um) {
  const auto made = scale_shown(um);
  if (!made) {
    emit workbench_.refused(tr("That reading was not taken: %1. Nothing was changed.")
                                .arg(QString::fromStdString(made.refusal().reason)));
    return false;
  }
  readings_ = made->readings;
  points_.clear();
  emit changed();
  return true;
}

bool LensModel::set_scale(double um, bool for_magnification, bool also_earlier) {
  if (!current() || points_.size() != 2) return false;
  const auto made = scale_shown(um);
  if (!made) {
    emit workbench_.refused(tr("No scale: %1. Nothing was changed.")
                                .arg(QString::fromStdString(made.refusal().reason)));
    return false;
  }
  const Micrograph& m = *current();
  const bool shared = for_magnification && !m.magnification.empty();
  const bool good = workbench_.edit([&](ProjectSession& s) {
    Micrograph after = m;
    s.as_one("the scale of " + (shared ? m.magnification : m.name), [&] {
      if (shared) {
        after.scale.reset();  // its own would win
        s.set_micrograph(after, "the scale of " + after.name);
        s.set_scale({m.magnification, *made, now_utc(), m.instrument, m.width, m.height},
                    also_earlier);
      } else {
        after.scale = *made;
        s.set_micrograph(after, "the scale of " + after.name);
      }
    });
  });
  if (good) {
    readings_.clear();
    points_.clear();
    tool_ = LensTool::look;
    emit changed();
  }
  return good;
}

void LensModel::measure_along() {
  if (!pixels_ || !current()) return;
  const SamePlace* laid = other_pixels_ ? this->laid() : nullptr;
  along_.ask(
      [pixels = pixels_, before = laid ? other_pixels_ : nullptr, over = laid ? *laid : SamePlace{},
       other = other_side(), k = scale() ? scale()->um_per_px : 0.0](const std::stop_token&) {
        return std::make_shared<Checked<EdgeStretch>>(
            before ? stretch_since(before->grey, pixels->grey, over, other, k)
                   : stretch_along(pixels->grey, other, k));
      },
      [this, id = id_](const std::shared_ptr<Checked<EdgeStretch>>& found) {
        if (id != id_ || !current()) return;
        if (!*found) {
          emit workbench_.refused(
              tr("Nothing was measured along the apex: %1. Nothing was changed.")
                  .arg(QString::fromStdString((*found).refusal().reason)));
        } else {
          set_facts(
              [&](Micrograph& m) {
                // What was reckoned since an earlier picture stays until it is reckoned anew.
                const auto before = m.along ? m.along->recession : std::nullopt;
                m.along = **found;
                if (!m.along->recession) m.along->recession = before;
              },
              tr("measuring along the apex of %1").arg(QString::fromStdString(current()->name)));
          if (!scale())
            emit workbench_.told(
                tr("Measured in pixels; without a scale it says nothing in micrometres yet."));
        }
        emit changed();
      });
  emit changed();
}

std::optional<StretchValues> LensModel::along() const {
  const Micrograph* m = current();
  return m ? stretch_values(trial(), *m) : std::nullopt;
}

}  // namespace bq::ui
