#include "ui/section/gauge_page.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPointer>
#include <QPushButton>
#include <QTableWidget>

#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/parts/plain_table.h"

namespace bq::ui {

GaugePage::GaugePage(Workbench& workbench, SectionModel& model, QWidget* parent)
    : HelperPage(workbench, model, tr("Gauge log"),
                 tr("Never look into a beam gauge. Cover an edge that stays in a clamp."), parent),
      value_(new QLineEdit),
      side_(new QComboBox),
      bevel_(new BevelChoice),
      at_(new NumberEntry),
      taper_(new NumberEntry),
      limit_(new NumberEntry),
      zero_(new QPushButton(tr("Zero"))),
      reading_(new QPushButton(tr("Reading"))),
      check_(new QPushButton(tr("Zero again"))),
      turn_(new QPushButton(tr("Turned over"))),
      back_(new QPushButton(tr("Take back"))),
      clear_(new QPushButton(tr("Start anew"))),
      store_(new QPushButton),
      table_(new QTableWidget),
      say_(quiet_label({})),
      summary_(new QLabel) {
  set_up_entries();
  lay_out();
  listen();
}

void GaugePage::set_up_entries() {
  value_->setPlaceholderText(tr("gauge shows, °"));
  value_->setAccessibleName(tr("Angle the gauge shows"));
  side_->addItems({tr("left"), tr("right")});
  side_->setAccessibleName(tr("Side that is read"));
  const auto set_up = [&](NumberEntry* box, double least, double most, int decimals, double step,
                          const QString& suffix, const QString& name) {
    set_up_number(box, least, most, decimals, step, suffix, name);
    box->setKeyboardTracking(false);
  };
  set_up(at_, 0, 2000, 0, 5, tr(" mm"), tr("Place, from the heel"));
  set_up(taper_, 0, 20, 1, 0.1, QStringLiteral("°"),
         tr("Lean of the face the gauge was zeroed on, per side"));
  set_up(limit_, 0, 5, 2, 0.05, QStringLiteral("°"), tr("Drift of the zero that voids readings"));
}

void GaugePage::lay_out() {
  auto* grid = new QGridLayout;
  grid->setHorizontalSpacing(6);
  grid->addWidget(value_, 0, 0, 1, 2);
  grid->addWidget(side_, 0, 2);
  grid->addWidget(at_, 0, 3);
  grid->addWidget(zero_, 1, 0);
  grid->addWidget(reading_, 1, 1);
  grid->addWidget(check_, 1, 2);
  grid->addWidget(turn_, 1, 3);
  turn_->setToolTip(
      tr("The blade is turned over in the clamp: read both sides again, and the clamp's tilt is "
         "told from the edge"));
  auto* limits = new QHBoxLayout;
  limits->addWidget(quiet_label(tr("face leans")));
  limits->addWidget(taper_);
  limits->addWidget(quiet_label(tr("drift limit")));
  limits->addWidget(limit_);
  limits->addWidget(quiet_label(tr("on the")));
  limits->addWidget(bevel_);
  column_->addLayout(grid);
  column_->addWidget(say_);
  column_->addLayout(limits);
  table_->setColumnCount(4);
  table_->setHorizontalHeaderLabels({tr("what"), tr("shown"), tr("angle"), tr("state")});
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table_->setSelectionMode(QAbstractItemView::NoSelection);
  make_plain(table_, tr("Lines of the log"));
  table_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  for (int i : {1, 2, 3}) table_->setColumnWidth(i, i == 3 ? 132 : 62);
  column_->addWidget(table_, 1);
  summary_->setWordWrap(true);
  column_->addWidget(summary_);
  auto* foot = new QHBoxLayout;
  foot->addWidget(back_);
  foot->addWidget(clear_);
  foot->addStretch();
  store_->setObjectName(QStringLiteral("primary"));
  foot->addWidget(store_);
  column_->addLayout(foot);
}

void GaugePage::listen() {
  connect(zero_, &QPushButton::clicked, this, [this] { add(GaugeEntry::Kind::zero); });
  connect(reading_, &QPushButton::clicked, this, [this] { add(GaugeEntry::Kind::reading); });
  connect(check_, &QPushButton::clicked, this, [this] { add(GaugeEntry::Kind::zero_check); });
  connect(turn_, &QPushButton::clicked, this, [this] { add(GaugeEntry::Kind::turned); });
  connect(value_, &QLineEdit::returnPressed, this, [this] {
    add(log_.entries.empty() ? GaugeEntry::Kind::zero : GaugeEntry::Kind::reading);
  });
  connect(back_, &QPushButton::clicked, this, [this] {
    if (log_.entries.empty()) return;
    log_.entries.pop_back();
    keep_now("taking back a line of the gauge log");
  });
  connect(clear_, &QPushButton::clicked, this, [this] {
    log_.entries.clear();
    keep_now("a new gauge log");
  });
  connect(store_, &QPushButton::clicked, this, &GaugePage::store);
  connect(bevel_, &QComboBox::activated, this, [this] {
    log_.bevel = bevel_->bevel();
    keep_now("the bevel of the gauge log");
  });
  for (auto* box : {taper_, limit_})
    connect(box, &NumberEntry::valueChanged, this, [this] {
      if (filling_) return;
      log_.options = {limit_->value(), taper_->value()};
      keep_now("the gauge log's limits");
    });
  connect(&workbench(), &Workbench::display_changed, this, &GaugePage::refresh);
}

QString GaugePage::summary() const { return summary_->text(); }

void GaugePage::reload() {
  const auto text = kept("gauge");
  const auto read = text.empty() ? Checked<GaugeLogFile>(Refusal{}) : parse_gauge_log(text);
  log_ = read ? *read : GaugeLogFile{};
  filling_ = true;
  taper_->setValue(log_.options.face_taper_deg);
  limit_->setValue(log_.options.drift_limit_deg);
  if (model().blade() >= 0) ask_bevel(*bevel_, workbench().trial(), std::size_t(model().blade()));
  if (log_.bevel != MeasuredBevel::not_said) bevel_->choose(log_.bevel);
  filling_ = false;
  refresh();
}

bool GaugePage::keep_now(const char* what) {
  const bool good = keep("gauge", gauge_log_json(log_), what);
  refresh();
  return good;
}

void GaugePage::add(GaugeEntry::Kind kind) {
  if (!blade() || !workbench().writable()) return;
  const QString typed = value_->text().trimmed().remove(QChar(0xb0));
  const bool zero = kind != GaugeEntry::Kind::reading;
  const bool turn = kind == GaugeEntry::Kind::turned;
  const auto number =
      parse_number((turn || (zero && typed.isEmpty()) ? QStringLiteral("0") : typed).toStdString());
  if (!number) {
    say_->setText(tr("Not kept: \"%1\" is not a number.").arg(typed));
    return;
  }
  GaugeLogFile trying = log_;
  trying.entries.push_back({kind, EdgeSide(side_->currentIndex()), at_->value(), *number});
  if (const auto log = evaluate_gauge_log(trying.entries, trying.options); !log) {
    say_->setText(
        tr("Not kept: %1.")
            .arg(QString::fromStdString(log.refusal().reason).section(QStringLiteral(": "), 1)));
    return;
  }
  std::swap(log_, trying);
  if (!keep_now("a line of the gauge log")) {
    log_ = trying;
    refresh();
    say_->setText(tr("Not kept; see the message below."));
    return;
  }
  value_->clear();
  value_->setFocus();
  workbench().when_kept(
      [self = QPointer(this), said = turn   ? tr("Turned over: read both sides again.")
                                     : zero ? tr("Zero kept.")
                                            : tr("Reading kept.")] {
        if (self) self->say_->setText(said);
      });
}

void GaugePage::refresh() {
  const auto log = evaluate_gauge_log(log_.entries, log_.options);
  table_->setRowCount(int(log_.entries.size()));
  int reading = 0, check = 0;
  for (int row = 0; row < int(log_.entries.size()); ++row) {
    const GaugeEntry& entry = log_.entries[std::size_t(row)];
    QString what, angle, state;
    if (entry.kind == GaugeEntry::Kind::reading) {
      what = tr("%1, %2 mm")
                 .arg(entry.side == EdgeSide::left ? tr("left") : tr("right"))
                 .arg(entry.station_mm, 0, 'f', 0);
      if (log) {
        const GaugeReading& r = log->readings[std::size_t(reading++)];
        angle = angle_text(r.angle_deg);
        state = r.voided      ? tr("out: zero drifted")
                : r.unchecked ? tr("zero to be checked")
                              : tr("counts");
      }
    } else {
      what = entry.kind == GaugeEntry::Kind::zero     ? tr("zero")
             : entry.kind == GaugeEntry::Kind::turned ? tr("turned over")
                                                      : tr("zero again");
      if (log && entry.kind == GaugeEntry::Kind::zero_check) {
        const auto& drift = log->drifts[std::size_t(check++)];
        state = tr("drift %1°").arg(drift.drift_deg, 0, 'f', 2);
      }
    }
    const QString shown = entry.kind == GaugeEntry::Kind::turned
                              ? QString()
                              : QString::number(entry.angle_deg, 'f', 1) + QChar(0xb0);
    const QString cells[] = {what, shown, angle, state};
    for (int column = 0; column < 4; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      if (column == 1 || column == 2) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      table_->setItem(row, column, item);
    }
  }
  table_->scrollToBottom();
  int good = 0, voided = 0, open = 0;
  if (log)
    for (const auto& r : log->readings) {
      good += !r.voided;
      voided += r.voided;
      open += r.unchecked;
    }
  QString text;
  if (log && (log->left || log->right)) {
    const auto side = [&](const char* name, const std::optional<SideSummary>& s) {
      if (!s) return tr("%1 not read").arg(QString::fromUtf8(name));
      return QStringLiteral("%1 %2 %3%4")
          .arg(QString::fromUtf8(name), angle_text(s->mean_deg, 2), convention_text(),
               s->sd_deg ? tr(" (SD %1)").arg(angle_text(*s->sd_deg, 2)) : QString());
    };
    text = side("Left", log->left) + ", " + side("right", log->right) + ".";
    if (log->left_minus_right_deg)
      text += tr(" Left less right %1°.").arg(*log->left_minus_right_deg, 0, 'f', 2);
    if (log->tilt)
      text += tr(" The clamp tilts by %1°; the edge itself is %2° steeper on the %3.")
                  .arg(std::abs(log->tilt->tilt_deg), 0, 'f', 2)
                  .arg(std::abs(log->tilt->edge_difference_deg), 0, 'f', 2)
                  .arg(log->tilt->edge_difference_deg > 0 ? tr("left") : tr("right"));
    if (voided) text += tr(" %1 void by drift, kept in the log.").arg(voided);
  }
  if (open) text += tr(" Look at the zero again before you store.");
  if (good > 0 && !bevel_->said())
    text += tr(" Before you store: %1.").arg(BevelChoice::question());
  summary_->setText(
      text.isEmpty()
          ? tr("Zero the gauge on the reference face, read both sides at the stations, then look "
               "at the zero again. Turn the blade "
               "over in the clamp and read again to tell the clamp's tilt from the edge.")
          : text);
  const bool possible = blade() && workbench().writable();
  for (QWidget* part : {static_cast<QWidget*>(value_), static_cast<QWidget*>(zero_)})
    part->setEnabled(possible);
  reading_->setEnabled(possible && !log_.entries.empty());
  check_->setEnabled(possible && !log_.entries.empty());
  turn_->setEnabled(possible && !log_.entries.empty());
  back_->setEnabled(possible && !log_.entries.empty());
  clear_->setEnabled(possible && !log_.entries.empty());
  store_->setText(tr("Store %1 readings").arg(good));
  store_->setEnabled(possible && good > 0 && open == 0 && bevel_->said());
}

void GaugePage::store() {
  const auto log = evaluate_gauge_log(log_.entries, log_.options);
  if (!log) return;
  std::vector<EdgeRecordData> records;
  for (const auto& r : log->readings)
    if (!r.voided)
      records.push_back(
          AngleRecord{r.side, r.station_mm, r.angle_deg, 0, "gauge", bevel_->bevel()});
  const int index = model().blade();
  if (workbench().edit([&](ProjectSession& session) {
        session.add_records(std::size_t(index), records, "gauge readings");
      })) {
    log_.entries.clear();
    keep_now("a new gauge log");
    workbench().told(tr("%1 angles were stored for %2.")
                         .arg(records.size())
                         .arg(QString::fromStdString(blade()->name)));
  }
}

}  // namespace bq::ui
