#include "ui/frame/learn_dialog.h"

#include <QCheckBox>
#include <QDate>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/frame/workbench.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

template <class Named>
QString names_of(const std::vector<Named>& list) {
  QStringList out;
  for (const auto& one : list) out << text_of(one.name);
  constexpr int kShown = 12;
  if (out.size() > kShown) {
    const auto more = out.size() - kShown;
    out = out.mid(0, kShown);
    out << LearnDialog::tr("and %1 more").arg(more);
  }
  return out.join(QStringLiteral(", "));
}

}  // namespace

LearnDialog::LearnDialog(Workbench& workbench, Teacher other, QWidget* parent)
    : QDialog(parent),
      workbench_(workbench),
      other_(std::move(other)),
      steels_(new QCheckBox),
      media_(new QCheckBox),
      stones_(new QCheckBox),
      jig_(new QCheckBox),
      bench_(new QCheckBox),
      left_(quiet_label({})),
      take_(new QPushButton(tr("Take over"))) {
  setWindowTitle(tr("Take over from %1").arg(text_of(other_.trial.title)));
  resize(640, 0);
  lay_out();
}

void LearnDialog::lay_out() {
  auto* column = new QVBoxLayout(this);
  column->setSpacing(12);
  column->addWidget(quiet_label(
      tr("What this project has not by its name already. Each card notes where it came from and "
         "when; of the bench comes what this project keeps nothing of.")));
  const Learned all = learned({});
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(14);
  grid->setVerticalSpacing(10);
  grid->setColumnStretch(1, 1);
  QStringList bench;
  bool has_jig = false;
  for (const auto& setting : all.bench) {
    if (setting.key == kClampJigKey)
      has_jig = true;
    else
      bench << text_of(words_of_setting(setting.key));
  }
  const std::tuple<QCheckBox*, QString, QString> rows[] = {
      {steels_, tr("Steels"), names_of(all.steels)},
      {media_, tr("Media"), names_of(all.media)},
      {stones_, tr("Abrasives"), names_of(all.stones)},
      {jig_, tr("Clamp jig"), has_jig ? tr("its pivot, height and offset") : QString()},
      {bench_, tr("Bench"), bench.join(QStringLiteral(", "))}};
  int row = 0;
  for (const auto& [box, name, what] : rows) {
    box->setText(name);
    box->setEnabled(!what.isEmpty());
    box->setChecked(!what.isEmpty());
    auto* words = quiet_label(what.isEmpty() ? tr("nothing that is not here") : what);
    grid->addWidget(box, row, 0, Qt::AlignTop);
    grid->addWidget(words, row, 1);
    ++row;
    connect(box, &QCheckBox::toggled, this, &LearnDialog::show_choice);
  }
  column->addLayout(grid);
  column->addWidget(left_);
  column->addStretch();
  auto* acts = new QHBoxLayout;
  auto* close = new QPushButton(tr("Cancel"));
  name_look(take_, "primary");
  acts->addStretch();
  acts->addWidget(close);
  acts->addWidget(take_);
  column->addLayout(acts);
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(take_, &QPushButton::clicked, this, &LearnDialog::take);
  show_choice();
}

LearnChoice LearnDialog::choice() const {
  return {steels_->isChecked(), media_->isChecked(), stones_->isChecked(), jig_->isChecked(),
          bench_->isChecked()};
}

Learned LearnDialog::learned(const LearnChoice& choice) const {
  return learn_from(workbench_.session(), other_, choice,
                    QDate::currentDate().toString(Qt::ISODate).toStdString());
}

void LearnDialog::show_choice() {
  const Learned here = learned({});
  QString left;
  if (!here.there.empty())
    left = tr("Left as they are here: %1.").arg(texts_of(here.there).join(QStringLiteral(", ")));
  if (!here.unlike.empty())
    left += tr(" The other project says otherwise of %1.")
                .arg(texts_of(here.unlike).join(QStringLiteral(", ")));
  left_->setText(left);
  left_->setVisible(!left.isEmpty());
  take_->setEnabled(learned(choice()).count() != "nothing");
}

void LearnDialog::take() {
  const Learned taken = learned(choice());
  if (workbench_.edit([&](ProjectSession& session) { take_learned(session, taken); }))
    emit workbench_.told(
        tr("Taken over: %1, each with where it came from.").arg(text_of(taken.count())));
  accept();
}

}  // namespace bq::ui
