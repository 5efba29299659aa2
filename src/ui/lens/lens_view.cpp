#include "ui/lens/lens_view.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMimeData>
#include <QPainter>
#include <QPushButton>
#include <QStackedWidget>
#include <QSvgRenderer>
#include <QUrl>
#include <QVBoxLayout>

#include "report/micrograph_drawing.h"
#include "ui/lens/lens_canvas.h"
#include "ui/lens/lens_panels.h"
#include "ui/lens/live_page.h"
#include "ui/lens/picture_choice.h"
#include "ui/lens/place_strip.h"
#include "ui/lens/stone_truth_page.h"
#include "ui/parts/save_file.h"
#include "workflow/shown_pictures.h"

namespace bq::ui {

LensView::LensView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(new LensModel(workbench, this)),
      canvas_(new LensCanvas(*model_)),
      measure_(new MeasurePanel(*model_)),
      strip_(new PlaceStrip(*model_)),
      live_(new LivePage(*model_)),
      stones_(new StoneTruthPage(workbench)),
      pages_(new QStackedWidget),
      panels_(new QStackedWidget),
      pictures_(new PictureChoice),
      bring_(new QPushButton(tr("Bring in …"))),
      watch_(new QPushButton(tr("Watch a folder …"))),
      export_(new QPushButton(tr("Export …"))),
      stand_in_(new QPushButton(tr("Stand-in microscope"))),
      new_ones_(new QPushButton),
      head_gap_(new QWidget) {
  setFocusProxy(canvas_);
  lay_out();
}

void LensView::lay_out() {
  auto* head = new QHBoxLayout;
  head->setSpacing(6);
  page_tabs_ = make_tabs({tr("Pictures"), tr("Live"), tr("Stones by their scratches")},
                         [this](int i) { open_page(Page(i)); });
  for (auto* tab : page_tabs_) head->addWidget(tab);
  head->addSpacing(14);
  pictures_->setAccessibleName(tr("All pictures"));
  pictures_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  head->addWidget(pictures_, 1);
  head->addWidget(head_gap_, 1);
  head->addWidget(new_ones_);
  name_look(new_ones_, "primary");
  new_ones_->setToolTip(
      tr("Pictures that came in while you were at another one; the oldest first."));
  connect(new_ones_, &QPushButton::clicked, model_, &LensModel::open_unseen);
  head->addWidget(bring_);
  head->addWidget(watch_);
  head->addWidget(export_);
  head->addWidget(stand_in_);
  stand_in_->setToolTip(
      tr("Takes a picture of the run at the bench and saves it into the watched folder."));
  stand_in_->hide();
  bring_->setToolTip(
      tr("PNG, JPEG, TIFF or BMP, up to 256 MB and 128 million pixels. They can be dropped on the "
         "picture too, or pasted (Ctrl+V)."));
  connect(pictures_, &QComboBox::activated, this, [this] { model_->open(pictures_->chosen()); });
  connect(bring_, &QPushButton::clicked, this, &LensView::ask_files);
  connect(watch_, &QPushButton::clicked, this, &LensView::ask_folder);
  connect(export_, &QPushButton::clicked, this, &LensView::ask_export);

  auto* side = new QWidget;
  auto* column = new QVBoxLayout(side);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(4);
  auto* tabs = new QHBoxLayout;
  tabs->setSpacing(2);
  panel_tabs_ = make_tabs({tr("Measure"), tr("Place"), tr("Compare"), tr("Damage")},
                          [this](int i) { open_panel(Panel(i)); });
  for (auto* tab : panel_tabs_) tabs->addWidget(tab);
  tabs->addStretch();
  column->addLayout(tabs);
  panels_->addWidget(scrolled(measure_));
  panels_->addWidget(scrolled(new PlacePanel(*model_)));
  panels_->addWidget(scrolled(new OverlayPanel(*model_)));
  panels_->addWidget(scrolled(new DamagePanel(*model_)));
  column->addWidget(panels_, 1);
  side->setFixedWidth(300);

  auto* left = new QVBoxLayout;
  left->setContentsMargins(0, 0, 0, 0);
  left->setSpacing(0);
  left->addWidget(canvas_, 1);
  left->addWidget(strip_);
  auto* picture_page = new QWidget;
  auto* row = new QHBoxLayout(picture_page);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(14);
  row->addLayout(left, 1);
  row->addWidget(side);
  pages_->addWidget(picture_page);
  pages_->addWidget(live_);
  pages_->addWidget(stones_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 10, 16, 10);
  layout->setSpacing(8);
  layout->addLayout(head);
  layout->addWidget(pages_, 1);

  connect(canvas_, &LensCanvas::files_dropped, model_, &LensModel::bring_in);
  connect(model_, &LensModel::changed, this, &LensView::refresh_head);
  connect(model_, &LensModel::picture_changed, this, &LensView::refresh_head);
  connect(model_, &LensModel::length_wanted, this, [this] { open_panel(Panel::measure); });
  connect(measure_, &MeasurePanel::key_wanted, this, [this] {
    if (const Micrograph* m = model_->current())
      emit key_wanted(QString::fromStdString(m->blade), observations_of(*m), m->at_mm);
  });
  open_page(Page::picture);
  open_panel(Panel::measure);
  refresh_head();
}

void LensView::open_page(Page page) {
  pages_->setCurrentIndex(int(page));
  for (QWidget* part : {static_cast<QWidget*>(bring_), static_cast<QWidget*>(watch_),
                        static_cast<QWidget*>(export_)})
    part->setVisible(page == Page::picture);
  stand_in_->setVisible(page == Page::picture && has_stand_in_);
  pictures_->setVisible(page == Page::picture);
  new_ones_->setVisible(page == Page::picture && !model_->unseen().empty());
  head_gap_->setVisible(page != Page::picture);
  page_tabs_[std::size_t(page)]->setChecked(true);
  if (page == Page::live) live_->setFocus();
}

void LensView::open_panel(Panel panel) {
  panels_->setCurrentIndex(int(panel));
  panel_tabs_[std::size_t(panel)]->setChecked(true);
}

void LensView::refresh_head() {
  const auto& all = model_->trial().micrographs;
  std::vector<std::int64_t> newest_first;
  for (auto it = all.rbegin(); it != all.rend(); ++it) newest_first.push_back(it->id);
  const QString none = !all.empty()               ? QString()
                       : workbench_.has_project() ? tr("no pictures yet")
                                                  : tr("no project");
  pictures_->offer(
      none, std::move(newest_first), 0,
      [this](std::int64_t id) {
        const Micrograph* m =
            workbench_.has_project() ? workbench_.session().micrograph(id) : nullptr;
        return m ? QString::fromStdString(describe(*m)) : QString();
      },
      model_->current_id());
  pictures_->setEnabled(!all.empty());
  bring_->setEnabled(workbench_.writable());
  watch_->setEnabled(workbench_.writable());
  watch_->setText(model_->watched().isEmpty() ? tr("Watch a folder …") : tr("Stop watching"));
  watch_->setToolTip(model_->watched().isEmpty()
                         ? tr("Every new picture that any program saves there comes in by itself.")
                         : tr("Watched: %1").arg(model_->watched()));
  export_->setEnabled(model_->current() && model_->pixels());
  const int unseen = int(model_->unseen().size());
  new_ones_->setVisible(unseen > 0 && pages_->currentIndex() == int(Page::picture));
  new_ones_->setText(unseen == 1 ? tr("1 new picture") : tr("%1 new pictures").arg(unseen));
}

void LensView::offer_stand_in(const QString& folder, const std::function<void()>& take) {
  has_stand_in_ = true;
  stand_in_->setVisible(pages_->currentIndex() == int(Page::picture));
  connect(stand_in_, &QPushButton::clicked, this, [this, folder, take] {
    if (!workbench_.has_project()) return;
    if (model_->watched() != folder) model_->watch(folder);
    take();
  });
}

void LensView::offer_stand_in_camera(const std::function<std::unique_ptr<LiveSource>()>& make) {
  live_->offer({tr("Stand-in camera"), make});
}

void LensView::ask_files() {
  const QStringList paths = QFileDialog::getOpenFileNames(
      this, tr("Bring pictures in"), {},
      tr("Pictures (*.png *.jpg *.jpeg *.tif *.tiff *.bmp);;All files (*)"));
  if (!paths.isEmpty()) model_->bring_in(paths);
}

void LensView::ask_folder() {
  if (!model_->watched().isEmpty()) {
    model_->watch({});
    return;
  }
  const QString folder = QFileDialog::getExistingDirectory(
      this, tr("Folder that the microscope's program saves into"));
  if (!folder.isEmpty()) model_->watch(folder);
}

void LensView::ask_export() {
  const Micrograph* m = model_->current();
  if (!m) return;
  QString name = QString::fromStdString(m->name);
  name = name.left(name.lastIndexOf('.')) + tr(" measured.png");
  const QString path =
      QFileDialog::getSaveFileName(this, tr("Export the picture with its measures"), name,
                                   tr("PNG picture (*.png);;SVG drawing (*.svg)"));
  if (!path.isEmpty()) export_to(path);
}

void LensView::compare(std::int64_t earlier, std::int64_t later) {
  open_page(Page::picture);
  model_->open(later);
  open_panel(Panel::overlay);
  model_->compare_with(earlier);
}

bool LensView::export_to(const QString& path) {
  const Micrograph* m = model_->current();
  if (!m || !model_->pixels()) return false;
  // At most 4,000 px: what is larger is for measuring, not for a page.
  QImage image = model_->pixels()->shown;
  for (const QImage& smaller : model_->pixels()->smaller)
    if (std::max(image.width(), image.height()) > 4000) image = smaller;
  const bool svg = path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive);
  MicrographFigure figure =
      figure_of(model_->trial(), *m, {svg ? png_of(image) : std::string(), whole_picture(*m)});
  Drawing drawing = draw_micrograph(figure, 160);
  std::string bytes;
  if (svg) {
    bytes = svg_file_of(drawing);
  } else {
    // The same drawing over the picture's own pixels.
    drawing.image.reset();
    QImage out = image.convertToFormat(QImage::Format_RGB32);
    QSvgRenderer overlay(QByteArray::fromStdString(svg_of(drawing)));
    QPainter painter(&out);
    painter.setRenderHint(QPainter::Antialiasing);
    overlay.render(&painter, QRectF(out.rect()));
    painter.end();
    bytes = png_of(out);
  }
  QString why;
  if (!write_whole(path, bytes, &why)) {
    emit workbench_.refused(tr("%1 could not be written: %2. Nothing was changed.").arg(path, why));
    return false;
  }
  emit workbench_.told(tr("The picture with its measures was written to %1.").arg(path));
  return true;
}

void LensView::keyPressEvent(QKeyEvent* event) {
  if (event->matches(QKeySequence::Paste)) {
    const QMimeData* held = QGuiApplication::clipboard()->mimeData();
    QStringList paths;
    for (const QUrl& url : held->urls())
      if (url.isLocalFile()) paths << url.toLocalFile();
    if (!paths.isEmpty())
      model_->bring_in(paths);
    else if (held->hasImage())
      model_->paste(qvariant_cast<QImage>(held->imageData()));
    else
      emit workbench_.told(tr("There is no picture on the clipboard."));
    return;
  }
  if (event->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier) ||
      pages_->currentIndex() != int(Page::picture)) {
    QWidget::keyPressEvent(event);
    return;
  }
  const auto tool = [&](LensTool which) {
    open_panel(Panel::measure);
    measure_->pick(which);
    canvas_->setFocus();
  };
  switch (event->key()) {
    case Qt::Key_K:
      tool(LensTool::scale);
      break;
    case Qt::Key_W:
      tool(LensTool::bevel);
      break;
    case Qt::Key_M:
      tool(LensTool::micro_bevel);
      break;
    case Qt::Key_B:
      tool(LensTool::burr);
      break;
    case Qt::Key_O:
      tool(LensTool::roll);
      break;
    case Qt::Key_C:
      tool(LensTool::chip);
      break;
    case Qt::Key_G:
      tool(LensTool::scratches);
      break;
    case Qt::Key_A:
      tool(LensTool::apex);
      break;
    case Qt::Key_P:
      open_panel(Panel::overlay);
      model_->set_tool(model_->tool() == LensTool::marks ? LensTool::look : LensTool::marks);
      break;
    case Qt::Key_X: {
      open_panel(Panel::overlay);
      model_->set_mode(CompareMode((int(model_->mode()) + 1) % 4));
      break;
    }
    case Qt::Key_S:
      model_->set_snap(!model_->snap());
      break;
    case Qt::Key_J:
      if (panels_->currentIndex() != int(Panel::overlay)) open_panel(Panel::damage);
      model_->measure_along();
      break;
    case Qt::Key_T:
      model_->set_other_side(!model_->other_side());
      if (panels_->currentIndex() == int(Panel::damage)) model_->find_damage();
      break;
    case Qt::Key_R:
      model_->set_repeating(true);
      break;
    case Qt::Key_L:
      canvas_->set_loupe(!canvas_->loupe());
      break;
    case Qt::Key_F:
      open_panel(Panel::damage);
      model_->find_damage();
      break;
    case Qt::Key_Y:
      model_->answer_hint(true);
      break;
    case Qt::Key_N:
      model_->answer_hint(false);
      break;
    case Qt::Key_Delete:
      model_->remove_measure(model_->chosen());
      break;
    case Qt::Key_PageUp:
      model_->step(-1);
      break;
    case Qt::Key_PageDown:
      model_->step(1);
      break;
    case Qt::Key_Escape:
      if (model_->points().empty() && model_->marks_here().empty())
        model_->set_tool(LensTool::look);
      else
        model_->drop_points();
      break;
    default:
      QWidget::keyPressEvent(event);
  }
}

}  // namespace bq::ui
