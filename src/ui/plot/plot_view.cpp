#include "ui/plot/plot_view.h"

#include <qcustomplot.h>

#include <QSvgGenerator>
#include <array>
#include <cmath>

#include "quantity/csv_cell.h"
#include "quantity/number.h"
#include "ui/plot/stamped_graph.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr std::array<QCPScatterStyle::ScatterShape, 6> kMarkers{
    QCPScatterStyle::ssDisc,    QCPScatterStyle::ssSquare, QCPScatterStyle::ssTriangle,
    QCPScatterStyle::ssDiamond, QCPScatterStyle::ssPlus,   QCPScatterStyle::ssTriangleInverted};
constexpr std::array<Qt::PenStyle, 4> kPatterns{Qt::SolidLine, Qt::DashLine, Qt::DotLine,
                                                Qt::DashDotLine};

constexpr std::size_t kDense = 3000;
constexpr std::size_t kCrowd = 60;

/// Ticks at 1, 2 and 5 of each decade; even steps where the range holds fewer than four of them.
class OneTwoFiveTicker : public QCPAxisTicker {
 protected:
  QVector<double> createTickVector(double step, const QCPRange& range) override {
    QVector<double> ticks;
    for (double decade = std::pow(10, std::floor(std::log10(range.lower))); decade <= range.upper;
         decade *= 10)
      for (const double figure : {1.0, 2.0, 5.0})
        if (const double tick = figure * decade; tick >= range.lower && tick <= range.upper)
          ticks << tick;
    return ticks.size() < 4 ? QCPAxisTicker::createTickVector(step, range) : ticks;
  }
};

/// A long name shortened for the end of a line; the table has it whole.
QString short_name(const QString& name) {
  return name.size() > 18 ? name.left(17) + QChar(0x2026) : name;
}

QVector<double> list(const std::vector<double>& values) { return {values.begin(), values.end()}; }

QString number(double value) { return QString::fromStdString(print_number(value, 4)); }

}  // namespace

PlotView::PlotView(QWidget* parent) : QWidget(parent), plot_(new QCustomPlot(this)) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->addWidget(plot_);
  plot_->setInteractions(QCP::iRangeDrag | QCP::iRangeZoom);
  plot_->setContextMenuPolicy(Qt::CustomContextMenu);
  plot_->setFocusPolicy(Qt::StrongFocus);
  plot_->setNoAntialiasingOnDrag(true);
  // Lines are named where they end. A legend nobody sees is gone through for every line that is
  // taken out: a third of a second for the curves of 400 runs.
  plot_->setAutoAddPlottableToLegend(false);
  plot_->installEventFilter(this);
  setMinimumSize(240, 180);
  connect(plot_, &QWidget::customContextMenuRequested, this, &PlotView::open_menu);
  plot_->setAccessibleName(tr("Picture"));
  plot_->setLocale(QLocale::c());  // numbers are written one way on every desk
  connect(plot_, &QCustomPlot::beforeReplot, this, &PlotView::spread_labels);
  connect(plot_, &QCustomPlot::mouseDoubleClick, this, [this] {
    fit_ranges();
    plot_->replot();
  });
  retheme();
}

QWidget* PlotView::canvas() const { return plot_; }

void PlotView::retheme() {
  const Theme& t = theme();
  plot_->setBackground(t.ground);
  plot_->axisRect()->setBackground(t.panel);
  for (QCPAxis* axis : {plot_->xAxis, plot_->yAxis}) {
    axis->setBasePen(QPen(t.quiet, 1));
    axis->setTickPen(QPen(t.quiet, 1));
    axis->setSubTickPen(QPen(t.hairline, 1));
    axis->setTickLabelColor(t.quiet);
    axis->setLabelColor(t.ink);
    axis->setTickLabelFont(font_of(12));
    axis->setLabelFont(font_of(kBody));
    axis->grid()->setPen(QPen(t.hairline, 1, Qt::DotLine));
    axis->grid()->setZeroLinePen(Qt::NoPen);
    axis->grid()->setSubGridVisible(false);
  }
  draw();
}

void PlotView::set_empty_text(const QString& text) { empty_text_ = text; }

void PlotView::show_plot(const PlotAxes& axes, const std::vector<PlotSeries>& series) {
  const bool same_axes = axes.x_label == axes_.x_label && axes.x_log == axes_.x_log &&
                         axes.y_log == axes_.y_log && axes.y_label == axes_.y_label &&
                         !series_.empty();
  const QCPRange x = plot_->xAxis->range(), y = plot_->yAxis->range();
  axes_ = axes;
  series_ = series;
  draw();
  // A picture that only gets new data keeps the zoom a person chose.
  if (same_axes && plot_->property("zoomed").toBool()) {
    plot_->xAxis->setRange(x);
    plot_->yAxis->setRange(y);
    plot_->replot();
  }
}

void PlotView::draw_series(const PlotSeries& s) {
  const Theme& t = theme();
  QColor colour = s.ink ? t.quiet : t.series(s.style);
  if (!s.y_low.empty() && s.line) {
    auto* low = plot_->addGraph();
    auto* high = plot_->addGraph();
    low->setData(list(s.x), list(s.y_low), true);
    high->setData(list(s.x), list(s.y_high), true);
    QColor band = colour;
    band.setAlphaF(0.16F);
    for (auto* graph : {low, high}) graph->setPen(QPen(band, 1));
    high->setBrush(band);
    high->setChannelFillGraph(low);
  }
  auto* graph = new StampedGraph(plot_->xAxis, plot_->yAxis);  // the plot's from now on
  graph->setData(list(s.x), list(s.y));
  if (s.faint) colour.setAlphaF(0.45F);
  QPen pen(colour, s.ink ? 1.2 : s.faint ? 1.2 : 2.0);
  pen.setStyle(s.ink ? Qt::DashDotLine : kPatterns[std::size_t(s.style) % kPatterns.size()]);
  // Thousands of points make a pattern that nobody sees and that takes the painter a tenth of a
  // second: a plain thin line then.
  // So it is where hundreds of curves lie over each other.
  const bool dense = s.x.size() > kDense || (s.line && series_.size() > kCrowd);
  if (dense) pen = QPen(colour, 1);
  graph->setAntialiased(!dense);
  graph->setPen(s.line ? pen : QPen(colour, 1));
  graph->setLineStyle(s.line ? QCPGraph::lsLine : QCPGraph::lsNone);
  graph->setAdaptiveSampling(true);
  if (!s.line)
    for (std::size_t i = 0; i < s.y_low.size(); ++i) {
      auto* bar = new QCPItemLine(plot_);
      bar->start->setCoords(s.x[i], s.y_low[i]);
      bar->end->setCoords(s.x[i], s.y_high[i]);
      bar->setHead(QCPLineEnding(QCPLineEnding::esBar, 9));
      bar->setTail(QCPLineEnding(QCPLineEnding::esBar, 9));
      bar->setPen(QPen(colour, 1.8));
    }
  if (s.markers) {
    QCPScatterStyle marker(kMarkers[std::size_t(s.style) % kMarkers.size()], s.faint ? 5 : 8);
    marker.setPen(QPen(colour, 1.4));
    QColor fill = colour;
    fill.setAlphaF(0.55F);
    marker.setBrush(s.upward_arrows ? QBrush(t.panel) : QBrush(fill));
    graph->setScatterStyle(marker);
  }
  if (s.upward_arrows)
    for (std::size_t i = 0; i < s.x.size(); ++i) {
      auto* arrow = new QCPItemLine(plot_);
      arrow->start->setCoords(s.x[i], s.y[i]);
      arrow->end->setParentAnchor(arrow->start);
      arrow->end->setTypeX(QCPItemPosition::ptAbsolute);
      arrow->end->setTypeY(QCPItemPosition::ptAbsolute);
      arrow->end->setCoords(0, -16);
      arrow->setHead(QCPLineEnding(QCPLineEnding::esSpikeArrow, 6, 7));
      arrow->setPen(QPen(colour, 1.4));
    }
  if ((s.label_at_end || s.label_at_start) && !s.x.empty()) {
    auto* label = new QCPItemText(plot_);
    const std::size_t at = s.label_at_end ? s.x.size() - 1 : s.x.size() / 6;
    label->position->setCoords(s.x[at], s.y[at]);
    label->setPositionAlignment(Qt::AlignLeft |
                                (s.label_at_end ? Qt::AlignVCenter : Qt::AlignBottom));
    label->setPadding(QMargins(6, 0, 0, 0));
    label->setText(s.label_at_start ? s.name : short_name(s.name));
    label->setFont(font_of(12));
    label->setColor(s.ink ? t.quiet : t.series(s.style));
    label->setClipToAxisRect(false);
    if (s.label_at_end) end_labels_.emplace_back(label, s.y[at]);
  }
}

void PlotView::draw() {
  end_labels_.clear();
  plot_->clearItems();
  plot_->clearGraphs();
  line_ = nullptr;
  line_text_ = nullptr;
  readout_ = nullptr;
  const auto scale = [](QCPAxis* axis, bool log) {
    axis->setScaleType(log ? QCPAxis::stLogarithmic : QCPAxis::stLinear);
    axis->setTicker(log ? QSharedPointer<QCPAxisTicker>(new OneTwoFiveTicker)
                        : QSharedPointer<QCPAxisTicker>(new QCPAxisTicker));
    axis->setNumberFormat(QStringLiteral("g"));
    axis->setNumberPrecision(6);
  };
  scale(plot_->xAxis, axes_.x_log);
  scale(plot_->yAxis, axes_.y_log);
  if (!axes_.x_words.isEmpty()) {
    QSharedPointer<QCPAxisTickerText> words(new QCPAxisTickerText);
    for (int i = 0; i < axes_.x_words.size(); ++i) words->addTick(i, short_name(axes_.x_words[i]));
    plot_->xAxis->setTicker(words);
    axes_.x_range = std::pair(-0.5, double(axes_.x_words.size()) - 0.4);
  }
  plot_->xAxis->setLabel(axes_.x_label);
  plot_->yAxis->setLabel(axes_.y_label);
  for (const auto& series : series_) draw_series(series);
  draw_lit();
  for (const auto& point : reading_lines_) {
    const std::array<std::array<QPointF, 2>, 2> ways{
        {{QPointF(point.x(), 1e-12), point}, {QPointF(1e-12, point.y()), point}}};
    for (const auto& way : ways) {
      auto* item = new QCPItemLine(plot_);
      item->start->setCoords(way[0]);
      item->end->setCoords(way[1]);
      item->setPen(QPen(theme().ochre, 1.5, Qt::DashLine));
    }
  }
  bool any = false;
  for (const auto& series : series_) any = any || !series.x.empty();
  if (!any && !empty_text_.isEmpty()) {
    auto* text = new QCPItemText(plot_);
    text->position->setType(QCPItemPosition::ptAxisRectRatio);
    text->position->setCoords(0.5, 0.5);
    text->setText(empty_text_);
    text->setFont(font_of(kBody));
    text->setColor(theme().quiet);
    text->setTextAlignment(Qt::AlignCenter);
  }
  fit_ranges();
  place_threshold();
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void PlotView::fit_ranges() {
  plot_->setProperty("zoomed", false);
  double x_low = 1e300, x_high = -1e300, y_low = 1e300, y_high = -1e300;
  for (const auto& series : series_)
    for (std::size_t i = 0; i < series.x.size(); ++i) {
      if (!std::isfinite(series.x[i]) || !std::isfinite(series.y[i])) continue;
      x_low = std::min(x_low, series.x[i]);
      x_high = std::max(x_high, series.x[i]);
      const bool bar = !series.line && i < series.y_low.size();
      y_low = std::min(y_low, bar ? series.y_low[i] : series.y[i]);
      y_high = std::max(y_high, bar ? series.y_high[i] : series.y[i]);
    }
  if (x_low > x_high) {
    x_low = axes_.x_log ? 1 : 0;
    x_high = 10;
    y_low = axes_.y_log ? 1 : 0;
    y_high = 10;
  }
  if (threshold_) {
    y_low = std::min(y_low, *threshold_);
    y_high = std::max(y_high, *threshold_);
  }
  const auto widen = [](QCPAxis* axis, bool log, double low, double high,
                        std::optional<std::pair<double, double>> wished, double right_margin) {
    if (wished) {
      low = wished->first;
      high = wished->second;
    }
    if (log) {
      low = std::max(low, 1e-9);
      const double span = std::max(std::log(high / low), 0.1);
      axis->setRange(std::exp(std::log(low) - 0.06 * span),
                     std::exp(std::log(high) + right_margin * span));
    } else {
      const double span = std::max(high - low, 1e-9 + 0.02 * std::fabs(high));
      const double bottom = low >= 0 && low < 0.35 * high ? 0 : low - 0.06 * span;
      axis->setRange(bottom == 0 ? -0.015 * span : bottom, high + right_margin * span);
    }
  };
  double label_room = 0.06;
  for (const auto& series : series_)
    if (series.label_at_end) label_room = 0.22;
  widen(plot_->xAxis, axes_.x_log, x_low, x_high, axes_.x_range, label_room);
  widen(plot_->yAxis, axes_.y_log, y_low, y_high, std::nullopt, 0.08);
}

void PlotView::set_threshold(std::optional<double> y, const QString& label, bool fixed) {
  fixed_ = fixed;
  threshold_ = y;
  threshold_label_ = label;
  // A line outside the picture is brought into it, but never while it or the picture is being
  // moved.
  if (y && !dragging_ && !plot_->property("zoomed").toBool() && !plot_->yAxis->range().contains(*y))
    fit_ranges();
  place_threshold();
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

void PlotView::set_reading_lines(const std::vector<QPointF>& points) { reading_lines_ = points; }

void PlotView::place_threshold() {
  if (!threshold_) {
    if (line_) {
      plot_->removeItem(line_);
      plot_->removeItem(line_text_);
    }
    line_ = nullptr;
    line_text_ = nullptr;
    return;
  }
  if (!line_) {
    line_ = new QCPItemStraightLine(plot_);
    line_->setPen(fixed_ ? QPen(theme().quiet, 1.2, Qt::DashLine) : QPen(theme().ochre, 2.5));
    line_text_ = new QCPItemText(plot_);
    line_text_->position->setTypeX(QCPItemPosition::ptAxisRectRatio);
    line_text_->setPositionAlignment(Qt::AlignLeft | Qt::AlignBottom);
    line_text_->setFont(font_of(12, true));
    line_text_->setColor(theme().ink);
    line_text_->setPadding(QMargins(4, 1, 4, 1));
    line_text_->setBrush(Qt::NoBrush);  // a reading behind the words still shows
  }
  line_->point1->setCoords(1, *threshold_);
  line_->point2->setCoords(2, *threshold_);
  line_text_->position->setCoords(0.015, *threshold_);
  line_text_->setText(threshold_label_);
}

QPoint PlotView::threshold_handle() const {
  if (!threshold_) return {};
  return {int(plot_->axisRect()->center().x()), int(plot_->yAxis->coordToPixel(*threshold_))};
}

void PlotView::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  // Drawn as finely as the screen is, which changes with the size of everything (zoom.h).
  if (plot_->bufferDevicePixelRatio() == devicePixelRatioF()) return;
  plot_->setBufferDevicePixelRatio(devicePixelRatioF());
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

bool PlotView::eventFilter(QObject* watched, QEvent* event) {
  if (watched != plot_) return QWidget::eventFilter(watched, event);
  if (event->type() == QEvent::Wheel) plot_->setProperty("zoomed", true);
  if (event->type() == QEvent::MouseButtonPress) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    if (mouse->button() == Qt::LeftButton && threshold_ && !fixed_ &&
        std::abs(plot_->yAxis->coordToPixel(*threshold_) - mouse->position().y()) < 9) {
      dragging_ = true;
      return true;
    }
    if (mouse->button() == Qt::LeftButton) {
      pressed_ = mouse->position().toPoint();
      plot_->setProperty("zoomed", true);
    }
  }
  if (event->type() == QEvent::MouseMove) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    if (dragging_) {
      const double y = plot_->yAxis->pixelToCoord(mouse->position().y());
      if (y > 0) {
        threshold_ = y;
        emit threshold_dragged(y);
        place_threshold();
        plot_->replot(QCustomPlot::rpQueuedReplot);
      }
      return true;
    }
    const bool near = threshold_ && !fixed_ &&
                      std::abs(plot_->yAxis->coordToPixel(*threshold_) - mouse->position().y()) < 9;
    plot_->setCursor(near ? Qt::SizeVerCursor : Qt::CrossCursor);
    show_readout(mouse->position());
  }
  if (event->type() == QEvent::MouseButtonRelease && dragging_) {
    dragging_ = false;
    if (threshold_) emit threshold_dropped(*threshold_);
    return true;
  }
  if (event->type() == QEvent::MouseButtonRelease) {
    const auto* mouse = static_cast<QMouseEvent*>(event);
    if (mouse->button() == Qt::LeftButton &&
        (mouse->position().toPoint() - pressed_).manhattanLength() < 4)
      if (const QString run = run_at(mouse->position()); !run.isEmpty()) emit run_picked(run);
  }
  return QWidget::eventFilter(watched, event);
}

void PlotView::show_readout(QPointF position) {
  if (!plot_->axisRect()->rect().contains(position.toPoint())) return;
  if (!readout_) {
    readout_ = new QCPItemText(plot_);
    readout_->position->setType(QCPItemPosition::ptAxisRectRatio);
    readout_->position->setCoords(0.99, 0.985);
    readout_->setPositionAlignment(Qt::AlignRight | Qt::AlignBottom);
    readout_->setFont(font_of(12));
    readout_->setColor(theme().ink);
    readout_->setPadding(QMargins(4, 2, 4, 2));
    readout_->setBrush(theme().panel);
  }
  const QString run = run_at(position),
                x = axes_.x_words.isEmpty()
                        ? number(plot_->xAxis->pixelToCoord(position.x())) + QStringLiteral("  |  ")
                        : QString();
  readout_->setText((run.isEmpty() ? QString() : run + QStringLiteral("    ")) + x +
                    number(plot_->yAxis->pixelToCoord(position.y())));
  plot_->replot(QCustomPlot::rpQueuedReplot);
}

QString PlotView::data_as_csv() const {
  QString out = QStringLiteral("series,x,y\n");
  for (const auto& series : series_)
    for (std::size_t i = 0; i < series.x.size(); ++i)
      out += QString::fromStdString(csv_cell(series.name.toStdString())) + ',' +
             QString::number(series.x[i], 'g', 12) + ',' + QString::number(series.y[i], 'g', 12) +
             '\n';
  return out;
}

bool PlotView::save(const QString& path) {
  if (path.endsWith(QLatin1String(".pdf"), Qt::CaseInsensitive)) return plot_->savePdf(path);
  if (path.endsWith(QLatin1String(".svg"), Qt::CaseInsensitive)) {
    QSvgGenerator generator;
    generator.setFileName(path);
    generator.setSize(plot_->size());
    generator.setViewBox(QRect(QPoint(0, 0), plot_->size()));
    QCPPainter painter;
    if (!painter.begin(&generator)) return false;
    plot_->toPainter(&painter, plot_->width(), plot_->height());
    return painter.end();
  }
  return plot_->savePng(path, 0, 0, 2);
}

void PlotView::open_menu(QPoint position) {
  auto* menu = new QMenu(this);
  menu->setAttribute(Qt::WA_DeleteOnClose);
  menu->addAction(tr("Whole picture"), this, [this] {
    fit_ranges();
    plot_->replot();
  });
  menu->addAction(tr("Copy picture"), this,
                  [this] { QGuiApplication::clipboard()->setPixmap(plot_->toPixmap(0, 0, 2)); });
  menu->addAction(tr("Copy data as CSV"), this,
                  [this] { QGuiApplication::clipboard()->setText(data_as_csv()); });
  menu->addAction(tr("Save picture…"), this, [this] {
    const QString path = QFileDialog::getSaveFileName(
        this, tr("Save picture"), QStringLiteral("plot.svg"), tr("Pictures (*.svg *.png *.pdf)"));
    if (!path.isEmpty() && !save(path))
      QMessageBox::warning(this, tr("Not saved"),
                           tr("The picture could not be written to %1.").arg(path));
  });
  menu->popup(plot_->mapToGlobal(position));
}

}  // namespace bq::ui
