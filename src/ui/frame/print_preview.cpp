#include "ui/frame/print_preview.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPrintDialog>
#include <QPrinter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cstring>

#include "ui/frame/remembered.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr double kShown_dpi = 150, kPrinted_dpi = 250;
constexpr double kWide_px = 780;

}  // namespace

QImage image_of(const PageImage& page) {
  QImage out(page.width, page.height, QImage::Format_RGB32);
  for (int y = 0; y < page.height; ++y)
    std::memcpy(out.scanLine(y), page.pixels.data() + std::size_t(y) * std::size_t(page.width),
                std::size_t(page.width) * 4);
  return out;
}

PrintPreview::PrintPreview(const QString& what, QPageSize paper, Pages pages, QWidget* parent)
    : QDialog(parent),
      paper_(std::move(paper)),
      pages_(std::move(pages)),
      column_(new QVBoxLayout),
      says_(quiet_label(tr("The pages are being made …"))),
      print_(new QPushButton(tr("Print …"))) {
  setWindowTitle(tr("Print %1").arg(what));
  resize(fitting({860, 760}, parent ? parent->screen() : screen()));
  auto* sheet = new QWidget;
  sheet->setLayout(column_);
  column_->setSpacing(16);
  column_->setAlignment(Qt::AlignHCenter | Qt::AlignTop);
  auto* scroll = new QScrollArea;
  scroll->setWidget(sheet);
  scroll->setWidgetResizable(true);
  scroll->setFrameShape(QFrame::NoFrame);
  scroll->setAccessibleName(tr("Pages"));
  auto* whole = new QVBoxLayout(this);
  whole->addWidget(scroll, 1);
  auto* acts = new QHBoxLayout;
  auto* close = new QPushButton(tr("Close"));
  name_look(print_, "primary");
  print_->setEnabled(false);
  acts->addWidget(says_, 1);
  acts->addWidget(close);
  acts->addWidget(print_);
  whole->addLayout(acts);
  connect(close, &QPushButton::clicked, this, &QDialog::reject);
  connect(print_, &QPushButton::clicked, this, &PrintPreview::print);
  job_.ask([make = pages_](const std::stop_token&) { return make(kShown_dpi); },
           [this](const std::vector<PageImage>& made) { show_pages(made); });
}

void PrintPreview::show_pages(const std::vector<PageImage>& pages) {
  for (const PageImage& page : pages) {
    QPixmap shown = QPixmap::fromImage(image_of(page));
    // Whole pages side to side: what is printed is as fine as the printer, whatever is seen here.
    const double fineness = devicePixelRatioF();
    const int wide = int(std::min(double(shown.width()), kWide_px * fineness));
    shown = shown.scaledToWidth(wide, Qt::SmoothTransformation);
    shown.setDevicePixelRatio(fineness);
    auto* label = new QLabel;
    label->setPixmap(shown);
    label->setFrameShape(QFrame::Box);
    label->setAccessibleName(tr("Page %1 of %2").arg(shown_.size() + 1).arg(pages.size()));
    column_->addWidget(label);
    shown_.push_back(label);
  }
  const QString paper = paper_.name();
  says_->setText(pages.size() == 1 ? tr("1 page, %1").arg(paper)
                                   : tr("%1 pages, %2").arg(QString::number(pages.size()), paper));
  print_->setEnabled(!pages.empty());
}

void PrintPreview::print_to(QPrinter& printer) const {
  printer.setFullPage(true);
  QPainter painter(&printer);
  bool first = true;
  for (const PageImage& page : pages_(kPrinted_dpi)) {
    if (!std::exchange(first, false)) printer.newPage();
    const QImage image = image_of(page);
    const QSizeF size(QSizeF(image.size()) * printer.resolution() / kPrinted_dpi);
    painter.drawImage(QRectF(QPointF(0, 0), size), image);
  }
}

void PrintPreview::print() {
  QPrinter printer(QPrinter::HighResolution);
  printer.setPageSize(paper_);
  QPrintDialog dialog(&printer, this);
  if (dialog.exec() != QDialog::Accepted) return;
  print_to(printer);
  accept();
}

void preview_print(QWidget* parent, const QString& what, QPageSize::PageSizeId paper,
                   PrintPreview::Pages pages) {
  auto* dialog = new PrintPreview(what, QPageSize(paper), std::move(pages), parent);
  dialog->setAttribute(Qt::WA_DeleteOnClose);
  dialog->open();
}

}  // namespace bq::ui
