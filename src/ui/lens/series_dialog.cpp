#include "ui/lens/series_dialog.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/lens/picture_list.h"
#include "ui/lens/stored_picture.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
SeriesDialog::SeriesDialog(LensModel& model, QWidget* parent)
    : QDialog(parent),
      model_(model),
      like_(model.current_id()),
      list_(new PictureList(
          model, tr("Pictures to measure"),
          [like = model.current() ? *model.current() : Micrograph{}](const Micrograph& m) {
            return same_optics(m, like) && m.stone == like.stone;
          },
          model.current_id())),
      table_(new QTableWidget(0, 3)),
      progress_(new QProgressBar),
      says_(wrapped_label()),
      run_(new QPushButton),
      keep_(new QPushButton(tr("Keep"))) {
  const Micrograph* like = model_.current();
  setWindowTitle(tr("Measure like %1").arg(like ? text_of(like->name) : QString()));
  resize(980, 600);
  lay_out();
  // Pictures by the same optics are what a series usually is.
  list_->choose_first_ones();
  show_state();
}

void SeriesDialog::lay_out() {
  auto* columns = new QHBoxLayout(this);
  columns->setSpacing(18);
  columns->addWidget(list_, 2);

  auto* right = new QVBoxLayout;
  right->addWidget(quiet_label(
      tr("Each picture is measured where this one was, reckoned from its own apex. What was set by "
         "hand is not repeated, and what was measured there already stays as it is. Look at what "
         "was found before you keep it.")));
  table_->setHorizontalHeaderLabels({tr("picture"), tr("what"), tr("measured")});
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Interactive);
  table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setStretchLastSection(true);
  table_->setColumnWidth(0, 170);
  table_->verticalHeader()->hide();
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setAccessibleName(tr("What was measured"));
  right->addWidget(table_, 1);
  progress_->setTextVisible(false);
  right->addWidget(progress_);
  right->addWidget(says_);
  auto* acts = new QHBoxLayout;
  auto* close = new QPushButton(tr("Close"));
  acts->addStretch();
  acts->addWidget(close);
  acts->addWidget(run_);
  acts->addWidget(keep_);
  right->addLayout(acts);
  columns->addLayout(right, 3);
  name_look(keep_, "primary");
  job_.belongs_to(model_.workbench().of_this_project());
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(keep_, &QPushButton::clicked, this, &SeriesDialog::keep);
  connect(run_, &QPushButton::clicked, this, [this] {
    if (waiting_.empty() && !job_.busy()) {
      start();
    } else {
      waiting_.clear();
      job_.stop();
      show_state();
    }
  });
  connect(list_, &PictureList::changed, this, &SeriesDialog::show_state);
}

void SeriesDialog::start() {
  waiting_ = list_->chosen();
  std::reverse(waiting_.begin(), waiting_.end());  // taken from the back: as they are listed
  asked_ = int(waiting_.size());
  taken_ = refused_ = known_ = 0;
  found_.clear();
  template_.reset();
  trial_ = std::make_shared<Trial>(without_readings(model_.trial()));
  table_->setRowCount(0);
  next();
}

void SeriesDialog::next() {
  if (waiting_.empty()) {
    show_state();
    return;
  }
  const std::int64_t id = waiting_.back();
  waiting_.pop_back();
  const auto pictures = model_.workbench().session().pictures();
  job_.ask(
      [pictures, id, like = like_, trial = trial_, known = template_](const std::stop_token& stop) {
        const auto asked = [&stop] { return stop.stop_requested(); };
        auto out = std::make_shared<Step>();
        const auto find = [&](std::int64_t which) {
          return std::find_if(trial->micrographs.begin(), trial->micrographs.end(),
                              [which](const Micrograph& m) { return m.id == which; });
        };
        const auto first = find(like), here = find(id);
        if (first == trial->micrographs.end() || here == trial->micrographs.end()) {
          out->fault = tr("it is not in the project any more");
          return out;
        }
        const auto read = [&](std::int64_t which) {
          const DecodedPicture read = read_stored(*pictures, which, asked);
          out->fault = read.fault;
          return read.pixels;
        };
        if (known)
          out->wanted = *known;
        else if (const auto shown = read(like))
          out->wanted = template_of(*trial, *first, shown->grey);
        if (!out->wanted) return out;
        if (const auto pixels = read(id))
          out->found = measure_like(*out->wanted, *trial, *here, pixels->grey);
        return out;
      },
      [this, id](const std::shared_ptr<Step>& step) { take(id, *step); });
  show_state();
}

void SeriesDialog::take(std::int64_t id, const Step& step) {
  const Micrograph* m = model_.workbench().session().micrograph(id);
  const QString name = m ? text_of(m->name) : QString();
  const auto add = [this, &name](const QString& what, const QString& measured) {
    const int row = table_->rowCount();
    table_->insertRow(row);
    table_->setItem(row, 0, new QTableWidgetItem(name));
    table_->setItem(row, 1, new QTableWidgetItem(what));
    auto* cell = new QTableWidgetItem(measured);
    cell->setToolTip(measured);
    table_->setItem(row, 2, cell);
    table_->scrollToBottom();
  };
  if (!step.wanted) {
    waiting_.clear();
    asked_ = 0;
    says_->setText(
        tr("Nothing was measured: %1.")
            .arg(step.fault.isEmpty() ? text_of(step.wanted.refusal().reason) : step.fault));
    run_->setText(tr("Measure"));
    progress_->setValue(0);
    return;
  }
  template_ = *step.wanted;
  if (!step.fault.isEmpty() || !m) {
    ++refused_;
    add({}, tr("not measured: %1").arg(step.fault));
  } else {
    const auto scale = scale_of(model_.trial(), *m);
    const auto add_found = [&](const QString& what, bool good, bool known, const QString& measured,
                               const std::string& why_not) {
      ++(good ? taken_ : known ? known_ : refused_);
      add(what, good    ? measured
                : known ? tr("measured already")
                        : tr("not measured: %1").arg(text_of(why_not)));
    };
    for (const auto& one : step.found.measures)
      add_found(
          shown(one.kind), one.take.has_value(), one.known,
          one.take ? text_of(print_measure({one.kind, {*one.take}, one.note}, scale)) : QString(),
          one.why_not);
    if (step.found.along || !step.found.why_not_along.empty())
      add_found(tr("along the apex"), step.found.along.has_value(), step.found.known_along,
                step.found.along ? tr("chips: %1").arg(step.found.along->chips.size()) : QString(),
                step.found.why_not_along);
    found_.push_back(step.found);
  }
  next();
}

void SeriesDialog::show_state() {
  const bool busy = job_.busy() || !waiting_.empty();
  const int pictures = int(list_->chosen().size());
  run_->setText(busy            ? tr("Stop")
                : pictures == 1 ? tr("Measure 1 picture")
                                : tr("Measure %1 pictures").arg(pictures));
  run_->setEnabled(busy || pictures > 0);
  keep_->setEnabled(!busy && taken_ > 0 && model_.workbench().writable());
  list_->setEnabled(!busy);
  progress_->setVisible(busy);
  progress_->setRange(0, std::max(1, asked_));
  progress_->setValue(asked_ - int(waiting_.size()) - (job_.busy() ? 1 : 0));
  if (asked_ > 0)
    says_->setText(tr("%1 measured, %2 measured already, %3 not. Nothing is kept yet.")
                       .arg(taken_)
                       .arg(known_)
                       .arg(refused_));
  else
    says_->setText(pictures == 0
                       ? tr("Choose pictures at the left (Ctrl or Shift for several).")
                       : tr("They are measured as this one was; nothing is kept before Keep."));
}

void SeriesDialog::keep() {
  std::vector<Micrograph> after;
  for (const SeriesPicture& found : found_)
    if (const Micrograph* m = model_.workbench().session().micrograph(found.id))
      after.push_back(with_series(*m, found));
  const std::string what = "measuring " + std::to_string(after.size()) + " pictures";
  const bool good = model_.workbench().edit([&](ProjectSession& s) {
    s.as_one(what, [&] {
      for (const auto& m : after) s.set_micrograph(m, what);
    });
  });
  if (!good) return;
  emit model_.workbench().told(tr("%1 measures were kept. One undo takes them back.").arg(taken_));
  accept();
}

}  // namespace bq::ui
