#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/lens/lens_panels.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {

DamagePanel::DamagePanel(LensModel& model, QWidget* parent)
    : QWidget(parent),
      model_(model),
      list_(new QListWidget),
      answered_(wrapped_label()),
      side_(wrapped_label()),
      turn_(new QPushButton(tr("The blade is on the other side  (T)"))),
      measure_(new QPushButton(tr("Measure along the apex  (J)"))),
      strip_(new AlongStrip),
      along_(wrapped_label()),
      find_(new QPushButton(tr("Look along the apex  (F)"))),
      accept_(new QPushButton(tr("Accept  (Y)"))),
      reject_(new QPushButton(tr("Reject  (N)"))) {
  lay_out();
  listen();
}

void DamagePanel::lay_out() {
  auto* layout = panel_column(this);
  layout->addWidget(quiet_label(
      tr("The program points at what stands out; you say what it is. In simulated pictures it "
         "finds nearly every chip, but only about half of the rolls and glints.")));
  layout->addWidget(find_);
  layout->addWidget(side_);
  connect(turn_, &QPushButton::clicked, this, [this] {
    model_.set_other_side(!model_.other_side());
    model_.find_damage();
  });
  layout->addWidget(turn_, 0, Qt::AlignLeft);
  list_->setAccessibleName(tr("Suggestions"));
  list_->setMinimumHeight(110);
  list_->setWordWrap(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  layout->addWidget(list_, 1);
  auto* row = new QHBoxLayout;
  row->addWidget(accept_);
  row->addWidget(reject_);
  layout->addLayout(row);
  layout->addWidget(answered_);
  layout->addWidget(measure_);
  layout->addWidget(strip_);
  layout->addWidget(along_);
  connect(measure_, &QPushButton::clicked, &model_, &LensModel::measure_along);
  name_look(accept_, "primary");
}

void DamagePanel::listen() {
  connect(find_, &QPushButton::clicked, &model_, &LensModel::find_damage);
  connect(accept_, &QPushButton::clicked, this, [this] { model_.answer_hint(true); });
  connect(reject_, &QPushButton::clicked, this, [this] { model_.answer_hint(false); });
  connect(list_, &QListWidget::currentRowChanged, this, [this](int at) {
    if (!showing_ && at >= 0) model_.choose_hint(at);
  });
  connect(&model_, &LensModel::changed, this, &DamagePanel::show_state);
  connect(&model_, &LensModel::picture_changed, this, &DamagePanel::show_state);
  show_state();
}

void DamagePanel::show_state() {
  const Micrograph* m = model_.current();
  setEnabled(m != nullptr);
  showing_ = true;
  list_->clear();
  const auto scale = model_.scale();
  for (const auto& hint : model_.hints()) list_->addItem(text_of(print_hint(hint, scale)));
  list_->setCurrentRow(model_.chosen_hint());
  showing_ = false;
  accept_->setEnabled(model_.chosen_hint() >= 0);
  reject_->setEnabled(model_.chosen_hint() >= 0);
  find_->setEnabled(m && model_.pixels());
  side_->setText(model_.side_words());
  side_->setVisible(!model_.side_words().isEmpty());
  turn_->setVisible(!model_.side_words().isEmpty());
  QString text;
  if (m) {
    int accepted = 0, rejected = 0;
    for (const auto& answer : m->hints) ++(answer.accepted ? accepted : rejected);
    if (accepted + rejected > 0)
      text = tr("%1 accepted, %2 rejected in this picture.").arg(accepted).arg(rejected);
    if (m->run.empty())
      text += tr(" Not tied to a run: what is accepted stays with the picture.");
    else
      text += tr(" Accepted ones go into the record of run %1.").arg(text_of(m->run));
  }
  answered_->setText(text.trimmed());
  measure_->setEnabled(m && model_.pixels() && !model_.measuring_along());
  const auto along = model_.along();
  strip_->setVisible(along.has_value());
  along_->setVisible(along.has_value());
  if (!along) return;
  strip_->show_stretch(m->along->depth_px, scale->um_per_px, along->length_um, along->deepest_um);
  QStringList lines;
  for (const std::string& line : words_of(*along)) lines << text_of(line);
  along_->setText(lines.join(QStringLiteral("\n\n")));
}

}  // namespace bq::ui
