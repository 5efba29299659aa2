#include "ui/stones/card_page.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QResizeEvent>
#include <QVBoxLayout>

#include "report/card_page.h"
#include "ui/frame/print_preview.h"
#include "ui/parts/save_file.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/card_source.h"

namespace bq::ui {
namespace {

constexpr int kRun = Qt::UserRole, kMaking = Qt::UserRole + 1;

}  // namespace

CardPage::CardPage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("Edge card"), parent),
      run_(new QComboBox),
      save_(new QPushButton(tr("Save …"))),
      print_(new QPushButton(tr("Print …"))),
      again_(new QPushButton(tr("Make it again"))),
      pages_(new QLabel) {
  run_->setAccessibleName(tr("Card of which edge"));
  run_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  pages_->setAlignment(Qt::AlignTop | Qt::AlignHCenter);
  pages_->setAccessibleName(tr("The card as it will be printed"));
  auto* row = new QHBoxLayout;
  row->addStretch(1);
  row->addWidget(again_);
  row->addWidget(save_);
  row->addWidget(print_);
  column_->addWidget(run_);
  column_->addLayout(row);
  column_->addWidget(pages_);
  column_->addStretch(1);
  connect(run_, &QComboBox::activated, this, &CardPage::show_card);
  again_->setToolTip(
      tr("Takes the sharpening and the jig setting of this card in hand, step by step"));
  connect(again_, &QPushButton::clicked, this, &CardPage::make_again);
  connect(save_, &QPushButton::clicked, this, &CardPage::save);
  connect(print_, &QPushButton::clicked, this, &CardPage::print);
}

void CardPage::reload() {
  const Blade* blade = model().blade_facts();
  const QString chosen = run_->currentText();
  const bool other = (blade ? blade->id : 0) != blade_id_;
  blade_id_ = blade ? blade->id : 0;
  run_->clear();
  if (blade) list_makings(std::size_t(blade - trial().blades.data()));
  const int again = other ? -1 : run_->findText(chosen);
  // The latest run that its sharpening names.
  int latest = run_->count() - 1;
  for (int i = 0; i < run_->count(); ++i) {
    const QVariant run = run_->itemData(i, kRun);
    if (!run.isValid()) continue;
    const auto start = start_of(trial(), trial().runs[run.toULongLong()]);
    if (start && start->named) latest = i;
  }
  // An edge made since then, with no run yet, is the one in the hand.
  if (run_->count() > 0 && run_->itemData(run_->count() - 1, kMaking).isValid())
    latest = run_->count() - 1;
  const bool made = run_->count() != listed_ && !other;
  listed_ = run_->count();
  run_->setCurrentIndex(again >= 0 && !made ? again : latest);
  show_card();
}

void CardPage::list_makings(std::size_t index) {
  const Blade& blade = trial().blades[index];
  const BladeMakings makings = makings_of(trial(), index);
  const auto add_run = [&](std::size_t number, const QString& edge) {
    run_->addItem(tr("run %1 (%2)").arg(text_of(trial().runs[number].facts.name), edge));
    run_->setItemData(run_->count() - 1, qulonglong(number), kRun);
  };
  for (const std::size_t run : makings.unplaced) add_run(run, tr("which edge is not known"));
  for (std::size_t k = 0; k < makings.all.size(); ++k) {
    const Making& making = makings.all[k];
    const QString edge =
        tr("edge %1, %2")
            .arg(k + 1)
            .arg(making.sharpening ? text_of(blade.records[*making.sharpening].made_at).left(10)
                                   : tr("as it came"));
    for (const std::size_t run : making.runs) add_run(run, edge);
    if (!making.runs.empty() || (!making.sharpening && making.end == 0)) continue;
    run_->addItem(tr("%1, no run").arg(edge));
    run_->setItemData(run_->count() - 1, qulonglong(k), kMaking);
  }
}

std::optional<EdgeCard> CardPage::card() const {
  const QVariant run = run_->currentData(kRun), making = run_->currentData(kMaking);
  if (run.isValid())  // with the limit the window shows, whose fits are made already
    return card_of_run(trial(), run.toULongLong(), *workbench().fits(), workbench().threshold(),
                       workbench().display().angles);
  if (!making.isValid()) return std::nullopt;
  CardOptions options;
  options.angles = workbench().display().angles;
  return edge_card_of_making(trial(), std::size_t(model().blade()), making.toULongLong(), options);
}

std::optional<Making> CardPage::making() const {
  const QVariant run = run_->currentData(kRun), making = run_->currentData(kMaking);
  if (making.isValid())
    return makings_of(trial(), std::size_t(model().blade())).all.at(making.toULongLong());
  if (!run.isValid()) return std::nullopt;
  const auto own = making_of_run(trial(), run.toULongLong());
  return own ? std::optional(own->making) : std::nullopt;
}

void CardPage::make_again() {
  const auto chosen = making();
  if (chosen) model().make_again(*chosen);
}

void CardPage::show_card() {
  const std::optional<EdgeCard> shown = card();
  for (QPushButton* button : {save_, print_}) button->setEnabled(shown.has_value());
  const auto chosen = making();
  again_->setEnabled(chosen && chosen->sharpening && !model().hand() && workbench().writable());
  if (!shown) {
    pages_->setText(
        tr("This blade has no run and no sharpening on record yet. A card says how an edge was "
           "made and what it did."));
    pages_->setWordWrap(true);
    return;
  }
  const EdgeCard& card = *shown;
  const double scale = devicePixelRatioF();
  const double wide = std::clamp(width() - 14.0, 200.0, 700.0);
  std::vector<QImage> images;
  int height = 0;
  for (const auto& page : card_pages(card, wide * scale / 148 * 25.4)) {
    images.push_back(image_of(page));
    height += images.back().height() + int(8 * scale);
  }
  QPixmap all(images.front().width(), height);
  all.fill(Qt::transparent);
  QPainter painter(&all);
  int y = 0;
  for (const auto& image : images) {
    painter.drawImage(0, y, image);
    y += image.height() + int(8 * scale);
  }
  painter.end();
  all.setDevicePixelRatio(scale);
  pages_->setPixmap(all);
}

void CardPage::resizeEvent(QResizeEvent* event) {
  StonesPage::resizeEvent(event);
  if (isVisible() && event->size().width() != event->oldSize().width()) show_card();
}

void CardPage::save() {
  const std::optional<EdgeCard> card = this->card();
  if (!card) return;
  QString name = QString::fromStdString(card->title + " " + card->subtitle)
                     .section(QLatin1Char(','), 0, 0)
                     .simplified();
  name.replace(QLatin1Char('/'), QLatin1Char('-')).replace(QLatin1Char(' '), QLatin1Char('-'));
  const QString path = QFileDialog::getSaveFileName(
      this, tr("Save the edge card"), QStringLiteral("edge-card-%1.pdf").arg(name.left(80)),
      tr("PDF (*.pdf);;Web page (*.html)"));
  if (path.isEmpty()) return;
  const std::string bytes =
      path.endsWith(QLatin1String(".html")) ? card_html(*card) : card_pdf(*card);
  QString why;
  if (write_whole(path, bytes, &why))
    emit workbench().told(tr("The card was written to %1.").arg(path));
  else
    emit workbench().refused(
        tr("%1 could not be written: %2. Nothing was changed.").arg(path, why));
}

void CardPage::print() {
  const std::optional<EdgeCard> card = this->card();
  if (!card) return;
  preview_print(this, tr("the edge card"), QPageSize::A5,
                [shown = *card](double dots) { return card_pages(shown, dots); });
}

}  // namespace bq::ui
