// The limit that is asked about: typed, dragged, found for what it hangs on.
#include "ui/frame/workbench.h"

#include "ui/frame/hand_over.h"
#include "ui/parts/words.h"
#include "workflow/source.h"
#include "workflow/stones_study.h"

namespace bq::ui {

std::optional<double> Workbench::threshold() const {
  if (dragged_) return dragged_;
  if (!session_) return std::nullopt;
  return limit().value;
}

const Workbench::Limit& Workbench::limit() const {
  const std::string text = session_->threshold_text();
  if (limit_.fits != fits() || limit_.text != text || limit_.unit != trial().unit()) {
    limit_ = {fits(), text, trial().unit(), std::nullopt, false};
    if (const auto parsed = parse_threshold(text, limit_.unit, *limit_.fits, true))
      limit_.value = parsed->value;
    limit_.of_fresh = median_fresh_reading(*limit_.fits).has_value();
  }
  return limit_;
}

QString Workbench::threshold_text() const {
  const auto value = threshold();
  if (!value) return tr("no threshold");
  QString text = tr("blunt at %1").arg(print_value(*value));
  if (!dragged_ && limit().text.ends_with("x"))
    text += (limit().of_fresh ? tr(" (%1 fresh)") : tr(" (%1 the first readings)"))
                .arg(QString::fromStdString(limit().text).replace('x', QChar(0xd7)));
  return text;
}

void Workbench::tell_threshold() {
  told_threshold_ = {threshold(), threshold_text()};
  emit threshold_changed();
}

void Workbench::tell_threshold_if_other() {
  if (!told_threshold_ || *told_threshold_ != std::pair(threshold(), threshold_text()))
    tell_threshold();
}

void Workbench::drag_threshold(double value) {
  dragged_ = value;
  tell_threshold();
}

void Workbench::drop_threshold(double value) {
  dragged_.reset();
  // Three figures are as fine as a hand drags.
  const Unit unit = shown_unit();
  type_threshold(
      QString::fromStdString(print_measure(convert(value, trial().unit(), unit), unit, 3)));
}

bool Workbench::type_threshold(const QString& text) {
  const std::string typed = text.trimmed().toStdString();
  const auto parsed = parse_threshold(typed, trial().unit(), *fits(), false);
  if (!parsed) {
    emit refused(QString::fromStdString(parsed.refusal().reason));
    tell_threshold();
    return false;
  }
  const bool good = edit([&](ProjectSession& session) { session.set_threshold(typed); });
  tell_threshold();
  return good;
}

}  // namespace bq::ui
