#include "ui/frame/drawn_words.h"

#include <QAccessible>
#include <QAccessibleWidget>
#include <QPaintDevice>
#include <QPaintEngine>
#include <algorithm>
#include <cmath>
#include <utility>
#include <vector>

#include "ui/plot/plot_view.h"

namespace bq::ui {
namespace {

struct Word {
  QPointF at;
  QString text;
};

/// Paints nothing and keeps what is written.
class WordEngine : public QPaintEngine {
 public:
  explicit WordEngine(std::vector<Word>& words)
      : QPaintEngine(PaintEngineFeatures(AllFeatures)), words_(words) {}
  bool begin(QPaintDevice*) override { return true; }
  bool end() override { return true; }
  void updateState(const QPaintEngineState& state) override {
    if (state.state() & DirtyTransform) transform_ = state.transform();
  }
  void drawPixmap(const QRectF&, const QPixmap&, const QRectF&) override {}
  void drawPath(const QPainterPath&) override {}
  void drawPolygon(const QPointF*, int, PolygonDrawMode) override {}
  void drawTextItem(const QPointF& at, const QTextItem& item) override {
    if (!item.text().trimmed().isEmpty())
      words_.push_back({transform_.map(at), item.text().trimmed()});
  }
  [[nodiscard]] Type type() const override { return User; }

 private:
  std::vector<Word>& words_;
  QTransform transform_;
};

class WordPage : public QPaintDevice {
 public:
  explicit WordPage(const QWidget* widget) : widget_(widget), engine_(words) {}
  [[nodiscard]] QPaintEngine* paintEngine() const override { return &engine_; }
  std::vector<Word> words;

 protected:
  [[nodiscard]] int metric(PaintDeviceMetric metric) const override {
    switch (metric) {
      case PdmWidth:
        return widget_->width();
      case PdmHeight:
        return widget_->height();
      case PdmWidthMM:
        return widget_->widthMM();
      case PdmHeightMM:
        return widget_->heightMM();
      case PdmDpiX:
      case PdmPhysicalDpiX:
        return widget_->logicalDpiX();
      case PdmDpiY:
      case PdmPhysicalDpiY:
        return widget_->logicalDpiY();
      case PdmNumColors:
        return 1 << 24;
      case PdmDepth:
        return 32;
      case PdmDevicePixelRatio:
        return 1;
      case PdmDevicePixelRatioScaled:
        return int(devicePixelRatioFScale());
    }
    return 0;
  }

 private:
  const QWidget* widget_;
  mutable WordEngine engine_;
};

/// The program's own classes, and its plots: none of Qt's controls, dialogs and frames, which Qt
/// describes itself.
bool is_own(const QObject* widget) {
  const QByteArray name = widget->metaObject()->className();
  if (name == "QCustomPlot") return true;
  if (!name.startsWith("bq::ui::")) return false;
  for (const char* other : {"QAbstractButton", "QAbstractSpinBox", "QFrame", "QLineEdit",
                            "QComboBox", "QAbstractSlider", "QDialog", "QMainWindow", "QMenu"})
    if (widget->inherits(other)) return false;
  return true;
}

/// Asked when a widget is being made, and has no place yet: what it is is looked at whenever
/// somebody wants to know.
class OwnForReaders : public QAccessibleWidget {
 public:
  explicit OwnForReaders(QWidget* widget) : QAccessibleWidget(widget, QAccessible::Client) {}
  [[nodiscard]] QAccessible::Role role() const override {
    if (widget()->inherits("QCustomPlot")) return QAccessible::Chart;
    if (is_drawing(widget())) return QAccessible::Graphic;
    return widget()->accessibleName().isEmpty() ? QAccessible::Client : QAccessible::Grouping;
  }
  [[nodiscard]] QString text(QAccessible::Text what) const override {
    if (what == QAccessible::Description && widget()->accessibleDescription().isEmpty()) {
      if (const auto* plot = qobject_cast<const PlotView*>(widget()->parentWidget());
          plot && plot->canvas() == widget())
        return plot->in_words();
      if (is_drawing(widget())) return drawn_words(widget());
    }
    return QAccessibleWidget::text(what);
  }
};

QAccessibleInterface* own_for_readers(const QString&, QObject* object) {
  auto* widget = qobject_cast<QWidget*>(object);
  return widget && is_own(widget) ? new OwnForReaders(widget) : nullptr;
}

}  // namespace

bool is_drawing(const QWidget* widget) {
  if (!is_own(widget) || widget->inherits("QCustomPlot") || widget->isWindow() || widget->layout())
    return false;
  const auto children = widget->children();
  return std::none_of(children.begin(), children.end(), [](const QObject* child) {
    const auto* part = qobject_cast<const QWidget*>(child);
    return part && !part->isHidden();
  });
}

QString drawn_words(QWidget* widget) {
  if (widget->size().isEmpty()) return {};
  WordPage page(widget);
  {
    QPainter painter(&page);
    widget->render(&painter, QPoint(), QRegion(), QWidget::RenderFlags());
  }
  // Lines by their height, words from the left.
  constexpr double kLine = 6;
  std::stable_sort(page.words.begin(), page.words.end(), [](const Word& a, const Word& b) {
    const auto line = [](const Word& w) { return std::lround(w.at.y() / kLine); };
    return line(a) != line(b) ? line(a) < line(b) : a.at.x() < b.at.x();
  });
  QStringList out;
  for (const Word& word : page.words)
    if (out.isEmpty() || out.back() != word.text) out << word.text;
  return out.join(QStringLiteral(", "));
}

void expose_drawings() {
  static bool done = false;
  if (!std::exchange(done, true)) QAccessible::installFactory(own_for_readers);
}

}  // namespace bq::ui
