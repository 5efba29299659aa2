#include "ui/rack/place_entry.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QVBoxLayout>

#include "edge/angle_checks.h"
#include "quantity/measure.h"
#include "quantity/number.h"
#include "trial/edge_map.h"
#include "ui/parts/number_entry.h"

namespace bq::ui {
namespace {
/// Places in the list of things that can be noted.
enum What { angle, beam, thickness, burr, hangs, bright, damage, cleared };
}  // namespace

PlaceEntry::PlaceEntry(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      at_(new NumberEntry),
      what_(new QComboBox),
      side_(new QComboBox),
      bevel_(new BevelChoice),
      value_(new QLineEdit),
      note_(new QLineEdit),
      say_(quiet_label({})),
      add_(new QPushButton(tr("Note it"))) {
  at_->setRange(0, 3000);
  at_->setDecimals(0);
  at_->setSuffix(tr(" mm"));
  at_->setAccessibleName(tr("Place, from the heel"));
  what_->addItems({tr("angle"), tr("reflected beam"), tr("thickness"), tr("burr"), tr("hangs here"),
                   tr("bright spot"), tr("damage"), tr("it is gone")});
  what_->setAccessibleName(tr("What was measured or seen"));
  side_->setAccessibleName(tr("Side of the blade"));
  value_->setAccessibleName(tr("Value"));
  value_->setMaximumWidth(140);
  note_->setPlaceholderText(tr("note"));
  note_->setAccessibleName(tr("Note on this place"));
  lay_out();
}

void PlaceEntry::lay_out() {
  auto* line = new QHBoxLayout;
  line->setContentsMargins(0, 0, 0, 0);
  line->setSpacing(6);
  line->addWidget(new QLabel(tr("At")));
  line->addWidget(at_);
  line->addWidget(what_);
  line->addWidget(side_);
  line->addWidget(bevel_);
  line->addWidget(value_);
  line->addWidget(note_, 1);
  line->addWidget(add_);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(2);
  column->addLayout(line);
  column->addWidget(say_);
  say_->hide();
  connect(what_, &QComboBox::activated, this, &PlaceEntry::arrange);
  connect(add_, &QPushButton::clicked, this, &PlaceEntry::keep);
  connect(value_, &QLineEdit::returnPressed, this, &PlaceEntry::keep);
  connect(note_, &QLineEdit::returnPressed, this, &PlaceEntry::keep);
  connect(&workbench_, &Workbench::display_changed, this, &PlaceEntry::arrange);
  arrange();
}

void PlaceEntry::set_blade(int index) {
  if (index != blade_) say_->hide();
  blade_ = index;
  if (index >= 0) ask_bevel(*bevel_, workbench_.trial(), std::size_t(index));
  setEnabled(index >= 0 && workbench_.writable());
}

void PlaceEntry::set_place(double at_mm, bool left) {
  at_->setValue(at_mm);
  if (what_->currentIndex() <= beam) side_->setCurrentIndex(left ? 0 : 1);
  (value_->isVisible() ? value_ : note_)->setFocus();
}

QString PlaceEntry::said() const { return say_->text(); }

void PlaceEntry::arrange() {
  const int what = what_->currentIndex();
  const QString now = side_->currentText();
  side_->clear();
  side_->addItems({tr("left"), tr("right")});
  if (what != angle && what != beam) side_->addItem(tr("both"));
  side_->setCurrentIndex(what == cleared ? 2 : std::max(0, side_->findText(now)));
  side_->setVisible(what != thickness);
  bevel_->setVisible(what == angle || what == beam);
  value_->setVisible(what == angle || what == beam || what == thickness || what == damage ||
                     what == burr);
  const bool inclusive = workbench_.display().angles == AngleConvention::inclusive;
  value_->setPlaceholderText(what == angle  ? (inclusive ? tr("° inclusive") : tr("° per side"))
                             : what == beam ? tr("14, or 14 20, or 13-19")
                             : what == thickness ? tr("0.42 mm at 1 mm")
                                                 : tr("size, µm"));
}

void PlaceEntry::keep() {
  if (blade_ < 0) return;
  const int what = what_->currentIndex();
  const auto refuse = [&](const QString& why) {
    say_->setObjectName(QStringLiteral("refusal"));
    say_->setText(tr("Not kept: %1.").arg(why));
    say_->show();
  };
  const std::optional<EdgeSide> side =
      side_->currentIndex() < 2 ? std::optional(EdgeSide(side_->currentIndex())) : std::nullopt;
  const std::string note = note_->text().trimmed().toStdString();
  const QString typed = value_->text().trimmed();
  std::vector<EdgeRecordData> records;
  if ((what == angle || what == beam) && !bevel_->said()) return refuse(BevelChoice::question());
  if (what == angle) {
    const auto read = parse_angle(typed.toStdString(), workbench_.display().angles);
    if (!read) return refuse(QString::fromStdString(read.refusal().reason));
    records.push_back(
        AngleRecord{*side, at_->value(), *read, 0, note.empty() ? "keyed" : note, bevel_->bevel()});
  } else if (what == beam) {
    // One spot, two spots (two facets), or a smear (convex); the angle at the apex is what is kept.
    BeamReading reading;
    reading.side = *side;
    const double share = workbench_.display().angles == AngleConvention::inclusive ? 0.5 : 1;
    std::vector<double> values;
    for (const QString& part :
         typed.split(QRegularExpression(QStringLiteral("[-\\s]+")), Qt::SkipEmptyParts)) {
      const auto number = parse_number(part.toStdString());
      if (!number) return refuse(QString::fromStdString(number.refusal().reason));
      values.push_back(*number * share);
    }
    if (typed.contains('-') && values.size() == 2)
      reading.smear_deg = std::pair(values[0], values[1]);
    else if (!typed.contains('-'))
      reading.spots_deg = values;
    const auto found = read_beam(reading);
    if (!found) return refuse(QString::fromStdString(found.refusal().reason));
    std::string method = "reflected beam";
    if (found->kind != BeamFinding::Kind::flat)
      method += (found->kind == BeamFinding::Kind::convex ? ", convex from " : ", two facets, ") +
                print_number(found->shoulder_deg, 3) + "° at the shoulder";
    records.push_back(
        AngleRecord{*side, at_->value(), found->apex_deg, 0, method, bevel_->bevel()});
  } else if (what == thickness) {
    const QStringList parts = typed.split(QStringLiteral(" at "), Qt::SkipEmptyParts);
    if (parts.size() != 2)
      return refuse(
          tr("say a thickness and its distance from the apex, as in \"0.42 mm at 1 mm\""));
    const auto thick = parse_length(parts[0].toStdString(), Unit::mm),
               distance = parse_length(parts[1].toStdString(), Unit::mm);
    if (!thick) return refuse(QString::fromStdString(thick.refusal().reason));
    if (!distance) return refuse(QString::fromStdString(distance.refusal().reason));
    if (!(thick->mm() > 0) || thick->mm() > 50 || distance->mm() < 0)
      return refuse(tr("a thickness lies above 0 and below 50 mm"));
    records.push_back(ThicknessRecord{at_->value(), distance->mm(), thick->mm()});
  } else if (what == cleared) {
    for (const auto& spot : edge_now(workbench_.trial().blades[std::size_t(blade_)]).spots)
      if (std::abs(spot.at_mm - at_->value()) <= 2 && (!side || !spot.side || spot.side == side)) {
        SpotRecord gone = spot;
        gone.cleared = true;
        gone.note = note;
        records.push_back(gone);
      }
    if (records.empty()) return refuse(tr("there is nothing noted within 2 mm of this place"));
  } else {
    SpotRecord spot{SpotKind(what - burr), side, at_->value(), 0, false, note};
    if (!typed.isEmpty() && value_->isVisible()) {
      const auto size = parse_length(typed.toStdString(), Unit::um);
      if (!size || !(size->in(Unit::um) >= 0))
        return refuse(size ? tr("a size is not negative")
                           : QString::fromStdString(size.refusal().reason));
      spot.size_um = size->in(Unit::um);
    }
    records.push_back(spot);
  }
  const int index = blade_;
  if (!workbench_.edit([&](ProjectSession& session) {
        session.add_records(std::size_t(index), records, "a note on the edge");
      }))
    return;
  say_->setObjectName(QStringLiteral("quiet"));
  say_->setText(tr("Kept: %1.").arg(QString::fromStdString(describe(records.front()))));
  say_->show();
  value_->clear();
  note_->clear();
}

}  // namespace bq::ui
