#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <QGridLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/lens/lens_panels.h"
#include "ui/lens/series_dialog.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

struct ToolWords {
  LensTool tool;
  const char *name, *key, *how;
};
const ToolWords kTools[] = {
    {LensTool::bevel, QT_TRANSLATE_NOOP("Lens", "Bevel"), "W",
     QT_TRANSLATE_NOOP("Lens", "Draw across the bevel, from one of its edges to the other.")},
    {LensTool::micro_bevel, QT_TRANSLATE_NOOP("Lens", "Micro-bevel"), "M",
     QT_TRANSLATE_NOOP(
         "Lens", "Draw across the micro-bevel, from the apex to where the edge bevel begins.")},
    {LensTool::burr, QT_TRANSLATE_NOOP("Lens", "Burr"), "B",
     QT_TRANSLATE_NOOP("Lens", "Draw from the apex to the rim of the burr or foil.")},
    {LensTool::roll, QT_TRANSLATE_NOOP("Lens", "Roll"), "O",
     QT_TRANSLATE_NOOP("Lens", "Draw across the bright rolled band.")},
    {LensTool::chip, QT_TRANSLATE_NOOP("Lens", "Chip"), "C",
     QT_TRANSLATE_NOOP("Lens",
                       "Draw along the apex, over the chip, from sound edge to sound edge.")},
    {LensTool::scratches, QT_TRANSLATE_NOOP("Lens", "Scratches"), "G",
     QT_TRANSLATE_NOOP("Lens",
                       "Draw a box over scratches, of one direction or crossing (or a line across "
                       "them).")},
    {LensTool::apex, QT_TRANSLATE_NOOP("Lens", "Straightness"), "A",
     QT_TRANSLATE_NOOP("Lens", "Draw along the apex, over the length that is looked at.")}};

}  // namespace

MeasurePanel::MeasurePanel(LensModel& model, QWidget* parent)
    : QWidget(parent),
      model_(model),
      scale_(wrapped_label()),
      hint_(quiet_label({})),
      angle_(wrapped_label()),
      points_(quiet_label({})),
      makes_(wrapped_label()),
      length_row_(new QWidget),
      length_(new NumberEntry),
      thickness_(new NumberEntry),
      shared_(new QCheckBox),
      earlier_(new QCheckBox),
      snap_(new QCheckBox(tr("snap to edges  (S)"))),
      box_(new QCheckBox(tr("scratches in a box, not along a line"))),
      seen_(new QComboBox),
      keep_scale_(new QPushButton(tr("Keep the scale"))),
      another_(new QPushButton(tr("Read another length"))),
      repeat_(new QPushButton(tr("Once more  (R)"))),
      remove_(new QPushButton(tr("Take out  (Del)"))),
      key_(new QPushButton(tr("What is on this edge? …"))),
      series_(new QPushButton(tr("Measure other pictures like this …"))),
      list_(new QListWidget) {
  auto* layout = panel_column(this);
  lay_out_scale(*layout);
  lay_out_tools(*layout);
  lay_out_measures(*layout);
  lay_out_angle(*layout);
  layout->addWidget(key_);
  connect(key_, &QPushButton::clicked, this, &MeasurePanel::key_wanted);
  connect(&model_, &LensModel::changed, this, &MeasurePanel::show_state);
  connect(&model_, &LensModel::picture_changed, this, [this] {
    thickness_->setValue(0);
    show_state();
  });
  connect(&model_, &LensModel::length_wanted, this, &MeasurePanel::ask_length);
  show_state();
}

void MeasurePanel::lay_out_scale(QVBoxLayout& layout) {
  auto* set = new QPushButton(tr("Set scale  (K)"));
  connect(set, &QPushButton::clicked, this, [this] { pick(LensTool::scale); });
  tools_[LensTool::scale] = set;
  set->setCheckable(true);
  auto* top = new QHBoxLayout;
  top->addWidget(scale_, 1);
  top->addWidget(set, 0, Qt::AlignTop);
  layout.addLayout(top);

  set_up_number(length_, 0, 1e6, 3, 10, tr(" µm"), tr("Known length"));
  length_->setValue(100);
  auto* row = new QGridLayout(length_row_);
  row->setContentsMargins(0, 0, 0, 0);
  row->addWidget(points_, 0, 0, 1, 2);
  row->addWidget(new QLabel(tr("the two points are apart")), 1, 0);
  row->addWidget(length_, 1, 1);
  row->addWidget(makes_, 2, 0, 1, 2);
  row->addWidget(shared_, 3, 0, 1, 2);
  row->addWidget(earlier_, 4, 0, 1, 2);
  row->addWidget(keep_scale_, 5, 0, 1, 2);
  row->addWidget(another_, 6, 0, 1, 2);
  row->setColumnStretch(1, 1);
  name_look(keep_scale_, "primary");
  shared_->setChecked(true);
  another_->setToolTip(
      tr("More readings of a ruler, along the rows and the columns, in the middle and at the rim, "
         "make the scale surer and show whether the picture is distorted."));
  connect(length_, &NumberEntry::valueChanged, this, &MeasurePanel::show_scale_words);
  connect(shared_, &QCheckBox::toggled, this, &MeasurePanel::show_scale_words);
  connect(another_, &QPushButton::clicked, this,
          [this] { model_.add_scale_reading(length_->value()); });
  connect(keep_scale_, &QPushButton::clicked, this, [this] {
    model_.set_scale(length_->value(), shared_->isChecked(),
                     earlier_->isVisibleTo(this) && earlier_->isChecked());
  });
  layout.addWidget(length_row_);
}

void MeasurePanel::lay_out_tools(QVBoxLayout& layout) {
  auto* grid = new QGridLayout;
  grid->setSpacing(4);
  int i = 0;
  for (const ToolWords& words : kTools) {
    auto* tool = new QPushButton(
        tr("%1  (%2)")
            .arg(QCoreApplication::translate("Lens", words.name), QString::fromUtf8(words.key)));
    tool->setCheckable(true);
    tool->setToolTip(QCoreApplication::translate("Lens", words.how));
    connect(tool, &QPushButton::clicked, this, [this, which = words.tool] { pick(which); });
    tools_[words.tool] = tool;
    grid->addWidget(tool, i / 2, i % 2);
    ++i;
  }
  layout.addLayout(grid);
  hint_->setMinimumHeight(34);
  hint_->setAlignment(Qt::AlignTop);
  layout.addWidget(hint_);
  auto* ways = new QHBoxLayout;
  ways->addWidget(snap_);
  ways->addStretch();
  layout.addLayout(ways);
  layout.addWidget(box_);
  connect(snap_, &QCheckBox::toggled, &model_, &LensModel::set_snap);
  connect(box_, &QCheckBox::toggled, &model_, &LensModel::set_box);
}

void MeasurePanel::lay_out_measures(QVBoxLayout& layout) {
  list_->setAccessibleName(tr("Measures"));
  list_->setWordWrap(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->setMinimumHeight(120);
  connect(list_, &QListWidget::currentRowChanged, this, [this](int at) {
    if (at >= 0 && at != model_.chosen()) model_.choose(at);
  });
  layout.addWidget(list_, 1);
  auto* acts = new QHBoxLayout;
  acts->addWidget(repeat_);
  acts->addWidget(remove_);
  layout.addLayout(acts);
  repeat_->setToolTip(
      tr("The next taking counts to the chosen measure: its spread is the repeat's uncertainty."));
  connect(repeat_, &QPushButton::clicked, this, [this] { model_.set_repeating(true); });
  connect(remove_, &QPushButton::clicked, this, [this] { model_.remove_measure(model_.chosen()); });

  series_->setToolTip(
      tr("The same measures at the same places of other pictures, reckoned from their apex."));
  layout.addWidget(series_);
  connect(series_, &QPushButton::clicked, this, [this] {
    SeriesDialog dialog(model_, this);
    dialog.exec();
  });
}

void MeasurePanel::lay_out_angle(QVBoxLayout& layout) {
  layout.addWidget(quiet_label(tr("Bevel angle against the log")));
  set_up_number(thickness_, 0, 20, 3, 0.01, tr(" mm"),
                tr("Thickness behind the edge, at the shoulder"));
  thickness_->setSpecialValueText(tr("not known"));
  seen_->addItems({tr("seen square to the bevel"), tr("seen square to the side")});
  seen_->setAccessibleName(tr("How the picture was taken"));
  seen_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  auto* check = new QGridLayout;
  check->addWidget(new QLabel(tr("behind the edge")), 0, 0);
  check->addWidget(thickness_, 0, 1);
  check->addWidget(seen_, 1, 0, 1, 2);
  check->setColumnStretch(1, 1);
  layout.addLayout(check);
  layout.addWidget(angle_);
  connect(thickness_, &NumberEntry::valueChanged, this, &MeasurePanel::show_angle);
  connect(seen_, &QComboBox::currentIndexChanged, this, &MeasurePanel::show_angle);
}

void MeasurePanel::pick(LensTool tool) {
  model_.set_tool(model_.tool() == tool ? LensTool::look : tool);
}

void MeasurePanel::ask_length() {
  earlier_->setChecked(false);  // what was measured changes only when that is asked for
  show_state();
  length_->setFocus();
  length_->selectAll();
}

void MeasurePanel::show_scale_row() {
  const Micrograph* m = model_.current();
  const bool shown = m && model_.tool() == LensTool::scale && model_.points().size() == 2;
  length_row_->setVisible(shown);
  if (shown) show_scale_words();
}

void MeasurePanel::show_scale_words() {
  const Micrograph* m = model_.current();
  if (!m || model_.points().size() != 2) return;
  const auto& before = model_.scale_readings();
  points_->setText(
      before.empty()
          ? tr("Points: %1.").arg(model_.reading_words())
          : tr("Points: %1; with %2 read before.").arg(model_.reading_words()).arg(before.size()));
  const QString size = tr("%1 × %2 px").arg(m->width).arg(m->height);
  shared_->setVisible(!m->magnification.empty());
  shared_->setText(tr("for %1 at %2").arg(text_of(m->magnification), size));
  const auto made = model_.scale_shown(length_->value());
  keep_scale_->setEnabled(bool(made));
  another_->setEnabled(bool(made));
  makes_->setText(made ? tr("%1 µm a pixel ± %2 %")
                             .arg(text_of(print_number(made->um_per_px, 4)),
                                  text_of(print_number(196 * made->relative_error, 2)))
                       : tr("No scale: %1.").arg(text_of(made.refusal().reason)));
  if (const auto now = model_.scale(); made && now) {
    const auto& shown = made->readings.back();
    if (std::abs(now->um_per_px / made->um_per_px - 1) > 0.02)
      makes_->setText(
          tr("%1. By the scale until now they are %2 µm apart.")
              .arg(makes_->text(), text_of(print_number(now->um_per_px * shown.px, 3))));
  }
  if (made)
    if (const auto distortion = distortion_of(made->readings, m->width, m->height);
        !distortion.words.empty())
      makes_->setText(tr("%1. The picture is distorted: %2; half of it is in the uncertainty.")
                          .arg(makes_->text(), text_of(distortion.words)));
  const ScaleReach reach =
      made && shared_->isChecked() ? reach_of(model_.trial(), *m, *made) : ScaleReach{};
  earlier_->setVisible(!reach.others.empty());
  earlier_->setText(tr("change %1 earlier pictures too:\n%2 measures times %3")
                        .arg(reach.others.size())
                        .arg(reach.measures)
                        .arg(text_of(print_number(reach.factor, 3))));
  earlier_->setToolTip(
      tr("Left unticked, pictures that were measured with the scale until now keep "
         "it as their own."));
}

void MeasurePanel::show_state() {
  const Micrograph* m = model_.current();
  const auto scale = model_.scale();
  for (auto& [tool, button] : tools_) {
    const QSignalBlocker quiet(button);
    button->setEnabled(m && (scale || tool == LensTool::scale));
    button->setChecked(model_.tool() == tool);
  }
  if (!m)
    scale_->setText(tr("No picture."));
  else if (!scale)
    scale_->setText(why_no_scale(model_.trial(), *m).empty()
                        ? tr("No scale: to be looked at, not measured.")
                        : text_of(why_no_scale(model_.trial(), *m)));
  else
    scale_->setText(tr("%1 µm a pixel ± %2 %, %3")
                        .arg(text_of(print_number(scale->um_per_px, 4)),
                             text_of(print_number(196 * scale->relative_error, 2)),
                             m->scale ? tr("this picture's own")
                                      : tr("of %1 at this size").arg(text_of(m->magnification))));
  scale_->setToolTip(scale ? text_of(scale->how) : QString());
  show_scale_row();
  QString hint;
  if (model_.tool() == LensTool::scale) {
    hint = model_.points().size() == 2 ? QString()
           : model_.scale_readings().empty()
               ? tr("Show both ends of the scale bar, or two lines of a ruler, or the ends of "
                    "an object whose length you know. Space shows a point at the cross-hair.")
               : tr("%1 read. Show another length: along the other direction, or at the "
                    "picture's rim.")
                     .arg(model_.scale_readings().size());
  } else {
    for (const ToolWords& words : kTools)
      if (words.tool == model_.tool()) hint = QCoreApplication::translate("Lens", words.how);
    if (model_.repeating())
      hint =
          tr("Once more: measure %1 again where you see it.").arg(model_.chosen() + 1) + ' ' + hint;
  }
  hint_->setText(hint);
  hint_->setVisible(!hint.isEmpty());
  {
    const QSignalBlocker one(snap_), two(box_), three(list_);
    snap_->setChecked(model_.snap());
    box_->setChecked(model_.box());
    box_->setVisible(model_.tool() == LensTool::scratches);
    list_->clear();
    if (m)
      for (std::size_t i = 0; i < m->measures.size(); ++i) {
        const LensMeasure& measure = m->measures[i];
        QString line = tr("%1  %2\n     %3")
                           .arg(i + 1)
                           .arg(shown(measure.kind), text_of(print_measure(measure, scale)));
        if (measure.takes.size() > 1 && scale)
          line += tr("\n     taken %1 times, SD %2 µm")
                      .arg(measure.takes.size())
                      .arg(text_of(print_number(bq::value_of(measure, *scale).repeat_um, 2)));
        if (!measure.takes.back().snapped) line += tr("   by hand");
        list_->addItem(line);
      }
    list_->setCurrentRow(model_.chosen());
  }
  const bool chosen = m && model_.chosen() >= 0;
  series_->setEnabled(m && (!m->measures.empty() || m->along) &&
                      model_.trial().micrographs.size() > 1);
  repeat_->setEnabled(chosen);
  remove_->setEnabled(chosen);
  key_->setEnabled(m && !m->blade.empty());
  key_->setToolTip(m && m->blade.empty() ? tr("Say on Place which blade this is.")
                                         : tr("Opens the edge-condition key on Stones for this "
                                              "blade, with what this picture shows answered."));
  show_angle();
}

void MeasurePanel::show_angle() {
  const Micrograph* m = model_.current();
  const auto scale = model_.scale();
  const LensMeasure* bevel = nullptr;
  if (m)
    for (const auto& measure : m->measures)
      if (measure.kind == LensMeasureKind::bevel_width) bevel = &measure;
  const bool ready = bevel && scale && thickness_->value() > 0;
  thickness_->setEnabled(bevel && scale);
  seen_->setEnabled(bevel && scale);
  angle_->setVisible(ready);
  if (!ready) return;
  // A calliper's hundredth either way.
  const auto angle =
      angle_from_picture(model_.trial(), *m, bq::value_of(*bevel, *scale), thickness_->value(),
                         0.01, seen_->currentIndex() == 0, model_.workbench().display().angles);
  angle_->setText(angle ? text_of(angle->sentence)
                        : tr("No angle: %1.").arg(text_of(angle.refusal().reason)));
}

}  // namespace bq::ui
