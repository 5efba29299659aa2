#include "ui/lens/stone_truth_page.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

#include "quantity/number.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {
QString um(double value) { return text_of(print_number(value, 2)); }
constexpr int kRow = 30;
}  // namespace

/// One line for each stone on a log axis, coarse left as on Stones: what the label says as a ring,
/// what its scratches say as a bar with a tick.
class StoneTruthPage::Axis : public QWidget {
 public:
  explicit Axis(StoneTruthPage& page) : page_(page) {
    setAccessibleName(StoneTruthPage::tr("Sizes by label and by scratches"));
  }
  void refresh() {
    setFixedHeight(34 + kRow * int(page_.truths_.stones.size()));
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    const auto& stones = page_.truths_.stones;
    if (stones.empty()) return;
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(font_of(kBody));
    double low = 1e300, high = 0;
    for (const auto& s : stones) {
      low = std::min({low, s.low_um, s.label_um.value_or(s.low_um)});
      high = std::max({high, s.high_um, s.label_um.value_or(s.high_um)});
    }
    low /= 1.4;
    high *= 1.4;
    const double left = 210, right = width() - 20.0;
    const auto x = [&](double size) {
      return left +
             (right - left) * std::log(high / std::clamp(size, low, high)) / std::log(high / low);
    };
    const double foot = height() - 24.0;
    for (double decade = std::pow(10, std::floor(std::log10(low))); decade <= high; decade *= 10)
      for (const double step : {1.0, 2.0, 5.0}) {
        const double size = decade * step;
        if (size < low || size > high) continue;
        painter.setPen(QPen(t.hairline, 1));
        painter.drawLine(QPointF(x(size), 4), QPointF(x(size), foot));
        painter.setPen(t.quiet);
        painter.drawText(QRectF(x(size) - 40, foot + 2, 80, 20), Qt::AlignCenter,
                         text_of(print_number(size, 3) + " µm"));
      }
    for (std::size_t i = 0; i < stones.size(); ++i) {
      const auto& s = stones[i];
      const double y = 6 + kRow * (double(i) + 0.5);
      const bool misleads = s.label == StoneTruth::Label::misleads;
      painter.setPen(t.ink);
      painter.setFont(font_of(kBody, misleads));
      painter.drawText(
          QRectF(0, y - 12, left - 14, 24), Qt::AlignRight | Qt::AlignVCenter,
          painter.fontMetrics().elidedText(text_of(s.stone), Qt::ElideMiddle, int(left - 16)));
      if (s.label_um) {
        painter.setPen(QPen(t.quiet, 1, Qt::DotLine));
        painter.drawLine(QPointF(x(*s.label_um), y), QPointF(x(s.effective_um), y));
        painter.setPen(QPen(t.ink, 1.6));
        painter.setBrush(t.ground);
        painter.drawEllipse(QPointF(x(*s.label_um), y), 5, 5);
      }
      painter.setPen(Qt::NoPen);
      painter.setBrush(misleads ? t.ochre : t.ink);
      painter.drawRect(QRectF(QPointF(x(s.high_um), y - 2.5), QPointF(x(s.low_um), y + 2.5)));
      painter.drawRect(QRectF(x(s.effective_um) - 1.5, y - 8, 3, 16));
    }
  }

 private:
  StoneTruthPage& page_;
};

StoneTruthPage::StoneTruthPage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      sentence_(new QLabel),
      chosen_(new QLabel),
      twins_(new QLabel),
      axis_(new Axis(*this)),
      table_(new QTableWidget(0, 7)),
      take_size_(new QPushButton(tr("Put this size on the shelf"))),
      reference_(new QPushButton) {
  sentence_->setFont(font_of(20));
  sentence_->setWordWrap(true);
  for (QLabel* label : {chosen_, twins_}) {
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  }
  table_->setHorizontalHeaderLabels({tr("stone, coarsest first"), tr("label µm"),
                                     tr("works like µm"), tr("95 % µm"), tr("spacing µm"),
                                     tr("deep scratches"), tr("pictures")});
  table_->verticalHeader()->hide();
  table_->setShowGrid(false);
  table_->horizontalHeader()->setHighlightSections(false);
  table_->horizontalHeader()->setDefaultAlignment(Qt::AlignRight | Qt::AlignVCenter);
  table_->horizontalHeaderItem(0)->setTextAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::SingleSelection);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  table_->setAccessibleName(tr("Stones by what they do"));
  table_->setMinimumHeight(150);
  lay_out();
  listen();
}

void StoneTruthPage::lay_out() {
  auto* acts = new QHBoxLayout;
  acts->addWidget(take_size_);
  acts->addWidget(reference_);
  acts->addStretch();
  reference_->setToolTip(
      tr("Sizes are scratch spacing over a ratio. Stones whose size is known give that ratio; "
         "without one the program's round figure 0.6 is used and sizes are estimates."));
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 6, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(sentence_);
  layout->addWidget(quiet_label(tr(
      "○ what the label says   ▬ what its scratches say, with 95 %; ochre: the label misleads")));
  layout->addWidget(axis_);
  layout->addWidget(twins_);
  layout->addWidget(table_, 1);
  layout->addWidget(chosen_);
  layout->addLayout(acts);
}

void StoneTruthPage::listen() {
  connect(table_, &QTableWidget::currentCellChanged, this, [this] { show_choice(); });
  connect(take_size_, &QPushButton::clicked, this, [this] {
    const int row = table_->currentRow();
    if (row < 0) return;
    const StoneTruth stone = truths_.stones[std::size_t(row)];
    for (const auto& abrasive : workbench_.trial().shelf)
      if (abrasive.name == stone.stone) {
        Abrasive after = abrasive;
        after.measured_um = std::round(stone.effective_um * 100) / 100;
        after.streaks = stone.streaks >= 0.05;
        if (workbench_.edit([&](ProjectSession& s) { s.set_abrasive(after); }))
          emit workbench_.told(tr("%1 now counts as %2 µm on the shelf.")
                                   .arg(text_of(stone.stone), um(stone.effective_um)));
        return;
      }
  });
  connect(reference_, &QPushButton::clicked, this, [this] {
    const int row = table_->currentRow();
    if (row < 0) return;
    auto names = parse_references(workbench_.session().kept(kReferenceStonesKey));
    const std::string name = truths_.stones[std::size_t(row)].stone;
    if (!names.insert(name).second) names.erase(name);
    workbench_.edit([&](ProjectSession& s) {
      s.keep(kReferenceStonesKey, print_references(names), "which stone's size is known");
    });
  });
  for (auto signal : {&Workbench::opened, &Workbench::display_changed})
    connect(&workbench_, signal, this, &StoneTruthPage::reload);
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.part(Part::pictures) || touched.part(Part::shelf) ||
        touched.text(kReferenceStonesKey))
      reload();
  });
  reload();
}

void StoneTruthPage::reload() {
  const int row = table_->currentRow();
  truths_ = workbench_.has_project()
                ? stone_truths(workbench_.trial(),
                               parse_references(workbench_.session().kept(kReferenceStonesKey)))
                : StoneTruths{};
  sentence_->setText(workbench_.has_project()
                         ? text_of(truths_.sentence)
                         : tr("Open a project: what its stones really do is shown here."));
  table_->setRowCount(int(truths_.stones.size()));
  for (std::size_t i = 0; i < truths_.stones.size(); ++i) {
    const auto& s = truths_.stones[i];
    const QStringList cells{text_of(s.stone) + (s.reference ? tr("  (taken as known)") : QString()),
                            s.label_um ? um(*s.label_um) : tr("none"),
                            um(s.effective_um),
                            tr("%1 to %2").arg(um(s.low_um), um(s.high_um)),
                            um(s.spacing_um),
                            tr("%1 %").arg(text_of(print_fixed(100 * s.streaks, 0))),
                            QString::number(s.pictures)};
    for (int c = 0; c < cells.size(); ++c) {
      auto* item = new QTableWidgetItem(cells[c]);
      item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      if (c > 0) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      table_->setItem(int(i), c, item);
    }
  }
  QString twins;
  for (const auto& t : truths_.twins) twins += text_of(t.sentence) + '\n';
  if (!truths_.left_out.empty())
    twins += tr("Not counted: ") + text_of(truths_.left_out.front()) +
             (truths_.left_out.size() > 1 ? tr(" and %1 more").arg(truths_.left_out.size() - 1)
                                          : QString());
  twins_->setText(twins.trimmed());
  twins_->setVisible(!twins.isEmpty());
  const bool any = !truths_.stones.empty();
  for (QWidget* part :
       {static_cast<QWidget*>(axis_), static_cast<QWidget*>(table_), static_cast<QWidget*>(chosen_),
        static_cast<QWidget*>(take_size_), static_cast<QWidget*>(reference_)})
    part->setVisible(any);
  axis_->refresh();
  if (any) table_->selectRow(std::clamp(row, 0, int(truths_.stones.size()) - 1));
  show_choice();
}

void StoneTruthPage::show_choice() {
  const int row = table_->currentRow();
  const bool chosen = row >= 0 && row < int(truths_.stones.size());
  if (!chosen) {
    chosen_->clear();
    return;
  }
  const auto& s = truths_.stones[std::size_t(row)];
  chosen_->setText(tr("%1: %2.").arg(text_of(s.stone), text_of(s.sentence)));
  const auto& shelf = workbench_.trial().shelf;
  const auto on_shelf = std::find_if(shelf.begin(), shelf.end(),
                                     [&](const Abrasive& a) { return a.name == s.stone; });
  take_size_->setEnabled(on_shelf != shelf.end() && !truths_.estimated);
  take_size_->setToolTip(truths_.estimated
                             ? tr("Sizes are estimates until one stone's size is taken as known.")
                             : QString());
  reference_->setEnabled(on_shelf != shelf.end() && size_um(*on_shelf).has_value());
  reference_->setText(s.reference ? tr("No longer take its size as known")
                                  : tr("Take its size as known"));
}

}  // namespace bq::ui
