#include "ui/stones/card_page.h"

#include <QComboBox>
#include <QFileDialog>
#include <QLabel>
#include <QPainter>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QResizeEvent>
#include <QSaveFile>
#include <QVBoxLayout>

#include "report/card_page.h"
#include "ui/theme/theme.h"
#include "workflow/card_source.h"

namespace bq::ui {
namespace {

QImage image_of(const PageImage& page) {
  return QImage(reinterpret_cast<const uchar*>(page.pixels.data()), page.width, page.height,
                page.width * 4, QImage::Format_RGB32)
      .copy();
}

/// With the limit the window shows, whose fits are made already.
EdgeCard card_of(const Workbench& workbench, const Run& run) {
  const Trial& trial = workbench.trial();
  return card_of_run(trial, std::size_t(&run - trial.runs.data()), *workbench.fits(),
                     workbench.threshold(), workbench.display().angles);
}

}  // namespace

CardPage::CardPage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("Edge card"), parent),
      run_(new QComboBox),
      save_(new QPushButton(tr("Save …"))),
      print_(new QPushButton(tr("Print …"))),
      pages_(new QLabel) {
  run_->setAccessibleName(tr("Card of which run"));
  run_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  pages_->setAlignment(Qt::AlignTop | Qt::AlignHCenter);
  pages_->setAccessibleName(tr("The card as it will be printed"));
  auto* row = new QHBoxLayout;
  row->addWidget(run_, 1);
  row->addWidget(save_);
  row->addWidget(print_);
  column_->addLayout(row);
  column_->addWidget(pages_);
  column_->addStretch(1);
  connect(run_, &QComboBox::activated, this, &CardPage::show_card);
  connect(save_, &QPushButton::clicked, this, &CardPage::save);
  connect(print_, &QPushButton::clicked, this, &CardPage::print);
}

void CardPage::reload() {
  const Blade* blade = model().blade_facts();
  const QString chosen = run_->currentData().toString();
  const bool other = (blade ? blade->id : 0) != blade_id_;
  blade_id_ = blade ? blade->id : 0;
  run_->clear();
  int latest = -1;
  if (blade)
    for (std::size_t i = 0; i < trial().runs.size(); ++i) {
      const Run& run = trial().runs[i];
      if (run.facts.blade != blade->name) continue;
      const QString name = QString::fromStdString(run.facts.name);
      run_->addItem(
          tr("run %1%2")
              .arg(name, run.facts.medium.empty()
                             ? QString()
                             : QStringLiteral(", ") + QString::fromStdString(run.facts.medium)),
          name);
      if (start_of(trial(), run) && start_of(trial(), run)->named) latest = run_->count() - 1;
    }
  if (!other && run_->findData(chosen) >= 0)
    run_->setCurrentIndex(run_->findData(chosen));
  else
    run_->setCurrentIndex(latest >= 0 ? latest : run_->count() - 1);
  show_card();
}

void CardPage::show_card() {
  const std::string name = run_->currentData().toString().toStdString();
  const Run* run = name.empty() ? nullptr : trial().find_run(name);
  for (QPushButton* button : {save_, print_}) button->setEnabled(run);
  if (!run) {
    pages_->setText(
        tr("This blade has no run yet. A card belongs to a run: it says how its edge was made and "
           "what it did."));
    pages_->setWordWrap(true);
    return;
  }
  const EdgeCard card = card_of(workbench(), *run);
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
  const std::string name = run_->currentData().toString().toStdString();
  const Run* run = trial().find_run(name);
  if (!run) return;
  const QString path = QFileDialog::getSaveFileName(
      this, tr("Save the edge card"),
      QStringLiteral("edge-card-%1.pdf").arg(QString::fromStdString(name)),
      tr("PDF (*.pdf);;Web page (*.html)"));
  if (path.isEmpty()) return;
  const EdgeCard card = card_of(workbench(), *run);
  const std::string bytes =
      path.endsWith(QLatin1String(".html")) ? card_html(card) : card_pdf(card);
  QSaveFile file(path);
  if (file.open(QIODevice::WriteOnly) &&
      file.write(bytes.data(), qint64(bytes.size())) == qint64(bytes.size()) && file.commit())
    emit workbench().told(tr("The card was written to %1.").arg(path));
  else
    emit workbench().refused(
        tr("%1 could not be written: %2. Nothing was changed.").arg(path, file.errorString()));
}

void CardPage::print() {
  const Run* run = trial().find_run(run_->currentData().toString().toStdString());
  if (!run) return;
  const EdgeCard card = card_of(workbench(), *run);
  QPrinter printer(QPrinter::HighResolution);
  printer.setPageSize(QPageSize(QPageSize::A5));
  printer.setFullPage(true);
  QPrintDialog dialog(&printer, this);
  if (dialog.exec() != QDialog::Accepted) return;
  QPainter painter(&printer);
  bool first = true;
  for (const auto& page : card_pages(card, 300)) {
    if (!first) printer.newPage();
    first = false;
    const QImage image = image_of(page);
    const QSizeF size(QSizeF(image.size()) * printer.resolution() / 300.0);
    painter.drawImage(QRectF(QPointF(0, 0), size), image);
  }
}

}  // namespace bq::ui
