#pragma once

#include <QDialog>
#include <QPageSize>
#include <functional>
#include <vector>

#include "report/page_image.h"
#include "ui/frame/latest_job.h"

class QLabel;
class QPrinter;
class QPushButton;
class QVBoxLayout;

namespace bq::ui {

/// A page as the window and the printer draw it.
QImage image_of(const PageImage& page);

/// Pages as they will be on paper, and the way to the printer. They are made on a worker.
class PrintPreview : public QDialog {
  Q_OBJECT
 public:
  /// The pages at a fineness, in dots an inch; on any thread, throws nothing it should not.
  using Pages = std::function<std::vector<PageImage>(double dots_per_inch)>;
  PrintPreview(const QString& what, QPageSize paper, Pages pages, QWidget* parent);
  [[nodiscard]] bool settled() const { return !job_.busy(); }
  [[nodiscard]] int page_count() const { return int(shown_.size()); }
  /// As print() does, once the printer is chosen.
  void print_to(QPrinter& printer) const;

 private:
  void show_pages(const std::vector<PageImage>& pages);
  void print();

  QPageSize paper_;
  Pages pages_;
  QVBoxLayout* column_;
  QLabel* says_;
  QPushButton* print_;
  std::vector<QLabel*> shown_;
  LatestJob<std::vector<PageImage>> job_;
};

/// Opens the preview; it goes when it is closed.
void preview_print(QWidget* parent, const QString& what, QPageSize::PageSizeId paper,
                   PrintPreview::Pages pages);

}  // namespace bq::ui
