#include "ui/rack/blade_page.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "quantity/number.h"
#include "trial/edge_map.h"
#include "trial/making.h"
#include "ui/parts/words.h"
#include "ui/rack/card_editors.h"
#include "ui/rack/edge_strip.h"
#include "ui/rack/place_entry.h"
#include "workflow/work_list.h"

namespace bq::ui {
namespace {
constexpr double kTolerance_deg = 0.5;

QVBoxLayout* titled(const QString& title, QWidget* extra = nullptr) {
  auto* column = new QVBoxLayout;
  column->setSpacing(4);
  auto* head = new QHBoxLayout;
  head->addWidget(heading(title));
  head->addStretch();
  if (extra) head->addWidget(extra);
  column->addLayout(head);
  return column;
}
}  // namespace

BladePage::BladePage(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      strip_(new EdgeStrip(workbench)),
      entry_(new PlaceEntry(workbench)),
      spread_(new QLabel),
      worst_(new QLabel),
      to_do_(new QLabel),
      now_(new QLabel),
      passes_(new QPushButton(tr("The paper passes now"))),
      stones_(new QPushButton(tr("To the stones"))),
      history_(new QListWidget),
      steel_(new QPushButton(tr("Steel card"))),
      medium_(new QPushButton(tr("Medium card"))),
      remove_(new QPushButton(tr("Take out"))) {
  set_up_words();
  auto* columns = new QHBoxLayout;
  columns->setSpacing(18);
  columns->addLayout(make_intake(), 6);
  columns->addLayout(make_edge(), 12);
  columns->addLayout(make_past(), 11);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(6);
  layout->addLayout(make_layers());
  layout->addWidget(strip_, 10);
  auto* open = new QHBoxLayout;
  open->setSpacing(12);
  open->addWidget(to_do_, 1);
  open->addWidget(passes_, 0, Qt::AlignTop);
  open->addWidget(stones_, 0, Qt::AlignTop);
  layout->addLayout(open);
  layout->addWidget(worst_);
  layout->addWidget(spread_);
  layout->addWidget(entry_);
  layout->addLayout(columns, 9);
  listen();
}

void BladePage::set_up_words() {
  spread_->setWordWrap(true);
  worst_->setWordWrap(true);
  to_do_->setWordWrap(true);
  to_do_->setTextFormat(Qt::PlainText);
  to_do_->setFont(font_of(14, true));
  stones_->setObjectName(QStringLiteral("flat"));
  connect(stones_, &QPushButton::clicked, this, [this] { emit stones_wanted(blade_); });
}

QLayout* BladePage::make_layers() {
  auto* layers = new QHBoxLayout;
  layers->setSpacing(12);
  const std::pair<QString, int> kinds[] = {
      {tr("angles"), EdgeStrip::angles}, {tr("thickness"), EdgeStrip::thickness},
      {tr("burr"), EdgeStrip::burr},     {tr("hangs"), EdgeStrip::hangs},
      {tr("bright"), EdgeStrip::bright}, {tr("damage"), EdgeStrip::damage}};
  auto shown = std::make_shared<int>(EdgeStrip::everything);
  for (const auto& [name, layer] : kinds) {
    auto* box = new QCheckBox(name);
    box->setChecked(true);
    connect(box, &QCheckBox::toggled, this, [this, shown, bit = layer](bool on) {
      *shown = on ? *shown | bit : *shown & ~bit;
      strip_->set_layers(*shown);
    });
    layers->addWidget(box);
  }
  layers->addStretch();
  auto* outline = new QPushButton(tr("Outline…"));
  layers->addWidget(outline);
  connect(outline, &QPushButton::clicked, this, [this] {
    if (blade_ >= 0 && workbench_.writable()) (new OutlineEditor(workbench_, blade_, this))->show();
  });
  return layers;
}

QLayout* BladePage::make_intake() {
  auto* intake = titled(tr("Intake"));
  auto* checks = new QWidget;
  auto* list = new QVBoxLayout(checks);
  list->setContentsMargins(0, 0, 4, 0);
  list->setSpacing(2);
  for (int i = 0; i < kIntakeChecks; ++i) {
    auto* check = new QPushButton;
    check->setObjectName(QStringLiteral("row"));
    connect(check, &QPushButton::clicked, this, [this, i] {
      if (blade_ >= 0 && workbench_.writable())
        (new FindingEditor(workbench_, blade_, IntakeCheck(i), this))->show();
    });
    list->addWidget(check);
    checks_.push_back(check);
  }
  list->addStretch();
  intake->addWidget(scrolled(checks), 1);
  return intake;
}

QLayout* BladePage::make_edge() {
  auto* edge = titled(tr("The edge as it is"));
  now_->setWordWrap(true);
  now_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
  now_->setTextFormat(Qt::RichText);
  edge->addWidget(scrolled(now_), 1);
  auto* cards = new QHBoxLayout;
  cards->addWidget(steel_);
  cards->addWidget(medium_);
  cards->addStretch();
  edge->addLayout(cards);
  return edge;
}

QLayout* BladePage::make_past() {
  auto* past = titled(tr("History"), remove_);
  remove_->setObjectName(QStringLiteral("flat"));
  history_->setWordWrap(true);
  history_->setAccessibleName(tr("History of this edge, newest first"));
  history_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  past->addWidget(history_, 1);
  return past;
}

void BladePage::listen() {
  passes_->setToolTip(
      tr("Wiped, and sliced through the same paper: it no longer hangs. The places are closed with "
         "today's date; their marks stay in the history"));
  connect(passes_, &QPushButton::clicked, this, &BladePage::close_hanging);
  connect(strip_, &EdgeStrip::place_chosen, entry_, &PlaceEntry::set_place);
  connect(steel_, &QPushButton::clicked, this, [this] {
    const auto& steel = workbench_.trial().blades[std::size_t(blade_)].steel;
    if (!steel.empty())
      (new SteelCardEditor(workbench_, QString::fromStdString(steel), this))->show();
  });
  connect(medium_, &QPushButton::clicked, this, [this] {
    (new MediumCardEditor(workbench_, medium_->property("medium").toString(), this))->show();
  });
  connect(remove_, &QPushButton::clicked, this, [this] {
    const auto* item = history_->currentItem();
    if (!item) return;
    const auto record = item->data(Qt::UserRole).toULongLong();
    workbench_.edit([&](ProjectSession& session) {
      session.remove_record(std::size_t(blade_), std::size_t(record));
    });
  });
  connect(history_, &QListWidget::currentRowChanged, this, [this](int row) {
    const bool record = row >= 0 && history_->item(row)->data(Qt::UserRole).isValid();
    remove_->setEnabled(record && workbench_.writable());
  });
}

QString BladePage::spread() const { return spread_->text(); }
QString BladePage::worst() const { return worst_->text(); }
QString BladePage::to_do() const { return to_do_->text(); }

void BladePage::show_blade(int index) {
  blade_ = index;
  refresh();
}

void BladePage::refresh() {
  if (blade_ < 0 || blade_ >= int(workbench_.trial().blades.size())) return;
  const Blade& blade = workbench_.trial().blades[std::size_t(blade_)];
  const EdgeNow edge = edge_now(blade);
  const EdgeWords words = describe_edge(edge, kTolerance_deg);
  strip_->show_edge(edge, kTolerance_deg);
  entry_->set_blade(blade_);
  spread_->setText(QString::fromStdString(words.spread +
                                          (words.thickness.empty() ? "" : " " + words.thickness)));
  worst_->setText(QString::fromStdString(words.worst));
  worst_->setVisible(!words.worst.empty());
  for (std::size_t i = 0; i < checks_.size(); ++i) {
    const auto& finding = edge.findings[i];
    QString text = shown(IntakeCheck(i));
    text[0] = text[0].toUpper();
    const QString mark = !finding           ? QString(QChar(0x25cb))
                         : finding->trouble ? QString(QChar(0x25b2))
                                            : QString(QChar(0x25cf));
    QString state = !finding ? tr("not looked at") : finding->trouble ? tr("trouble") : tr("good");
    if (finding && finding->trouble && finding->at_mm) state += tr(", %1 mm").arg(*finding->at_mm);
    if (finding && finding->trouble && !finding->note.empty())
      state += ": " + QString::fromStdString(finding->note);
    const int room = std::clamp(width() / 3 - 40, 150, 400);
    checks_[i]->setText(checks_[i]->fontMetrics().elidedText(mark + "  " + text + ": " + state,
                                                             Qt::ElideRight, room));
    checks_[i]->setToolTip(text + ": " + state + "\n" +
                           QString::fromUtf8(meaning_of(IntakeCheck(i)).data()));
    checks_[i]->setAccessibleName(text + ": " + state);
    checks_[i]->setEnabled(workbench_.writable());
  }
  refresh_to_do(edge);
  refresh_now(edge);
  refresh_history();
}

void BladePage::refresh_to_do(const EdgeNow& edge) {
  const auto work = work_list(workbench_.trial(), std::size_t(blade_));
  QStringList items, whys;
  for (const auto& item : work) {
    items << QStringLiteral("%1  %2").arg(items.size() + 1).arg(text_of(describe(item)));
    if (!item.why.empty()) whys << text_of(item.what + ": " + item.why);
  }
  to_do_->setText(tr("To do, in this order:  %1").arg(items.join(QStringLiteral("   "))));
  to_do_->setToolTip(whys.join('\n'));
  to_do_->setVisible(!work.empty());
  stones_->setVisible(!work.empty());
  passes_->setVisible(std::any_of(edge.spots.begin(), edge.spots.end(), [](const SpotRecord& spot) {
    return spot.kind == SpotKind::hangs;
  }));
  passes_->setEnabled(workbench_.writable());
}

void BladePage::close_hanging() {
  if (blade_ < 0) return;
  std::vector<EdgeRecordData> closed;
  for (SpotRecord spot : edge_now(workbench_.trial().blades[std::size_t(blade_)]).spots) {
    if (spot.kind != SpotKind::hangs) continue;
    spot.cleared = true;
    spot.note = tr("the paper passes").toStdString();
    closed.emplace_back(std::move(spot));
  }
  workbench_.edit([&](ProjectSession& session) {
    session.add_records(std::size_t(blade_), closed, "places where it hung");
  });
}

void BladePage::refresh_now(const EdgeNow& edge) {
  const Trial& trial = workbench_.trial();
  const Blade& blade = trial.blades[std::size_t(blade_)];
  QStringList lines;
  const auto line = [&](const QString& what, const QString& text) {
    lines << QStringLiteral("<b>%1</b> %2").arg(what, text.toHtmlEscaped());
  };
  if (edge.section) {
    QStringList grinds;
    for (const auto& grind : edge.section->grinds)
      grinds << QString::fromStdString(describe(grind));
    line(tr("Section:"), grinds.join(QStringLiteral("; ")));
  } else {
    line(tr("Section:"), tr("not on record; draw it on the Section station"));
  }
  if (const auto set = setting_of(blade, makings_of(trial, std::size_t(blade_)).now()))
    line(tr("Jig:"), QString::fromStdString(describe(EdgeRecordData(set->setting))));
  line(tr("Outline:"), edge.outline_known ? tr("%1 mm long, %2 mm along the edge")
                                                .arg(edge.length_mm(), 0, 'f', 0)
                                                .arg(edge.edge_mm(), 0, 'f', 0)
                                          : tr("not set, shown straight"));
  if (const SteelCard* card = trial.steel_card(blade.steel)) {
    QStringList facts;
    if (card->hardness_hrc) facts << tr("%1 HRC").arg(*card->hardness_hrc);
    if (card->hard_phase_percent) facts << tr("%1 % hard phase").arg(*card->hard_phase_percent);
    if (!card->behaviour.empty())
      facts << tr("%1 when deburred").arg(QString::fromStdString(card->behaviour));
    if (!card->toughness.empty()) facts << QString::fromStdString(card->toughness);
    line(tr("Steel:"),
         QString::fromStdString(blade.steel) + ", " + facts.join(QStringLiteral(", ")));
  } else {
    line(tr("Steel:"), blade.steel.empty()
                           ? tr("not given")
                           : QString::fromStdString(blade.steel) + tr(", no card yet"));
  }
  QString medium;
  for (const auto& run : trial.runs)
    if (run.facts.blade == blade.name && !run.facts.medium.empty())
      medium = QString::fromStdString(run.facts.medium);
  if (!medium.isEmpty()) {
    const MediumCard* card = trial.medium_card(medium.toStdString());
    line(tr("Medium:"),
         medium +
             (card && !card->form.empty() ? ", " + QString::fromStdString(card->form) : QString()));
  }
  now_->setText(lines.join(QStringLiteral("<br>")));
  steel_->setEnabled(workbench_.writable() && !blade.steel.empty());
  medium_->setEnabled(workbench_.writable() && !medium.isEmpty());
  medium_->setProperty("medium", medium);
}

void BladePage::refresh_history() {
  const Trial& trial = workbench_.trial();
  const Blade& blade = trial.blades[std::size_t(blade_)];
  history_->clear();
  const auto heading = [&](const QString& text) {
    auto* item = new QListWidgetItem(text);
    item->setFlags(Qt::ItemIsEnabled);
    item->setFont(font_of(12, true));
    item->setToolTip(text);
    history_->addItem(item);
  };
  const auto names = [&](const std::vector<std::size_t>& runs) {
    QStringList out;
    for (const std::size_t run : runs)
      out << (workbench_.is_covered(run) ? tr("a blind run") : text_of(trial.runs[run].facts.name));
    return out.join(QStringLiteral(", "));
  };
  // Whatever a line says of a covered run, it does not say its code.
  const auto hidden = [&](QString line) {
    for (const auto& code : workbench_.blind_runs()) {
      const Run* run = trial.find_run(code);
      if (run && workbench_.is_covered(std::size_t(run - trial.runs.data())))
        line.replace(tr("run %1").arg(text_of(code)), tr("a blind run"));
    }
    return line;
  };
  const BladeMakings makings = makings_of(trial, std::size_t(blade_));
  if (!makings.unplaced.empty())
    heading(tr("On which edge is not known: %1").arg(names(makings.unplaced)));
  for (std::size_t k = makings.all.size(); k-- > 0;) {
    const Making& making = makings.all[k];
    const std::size_t begin = making.sharpening.value_or(0);
    if (!making.sharpening && making.end == 0 && making.runs.empty()) continue;
    QString text = tr("Edge %1, %2").arg(k + 1).arg(hidden(text_of(describe(blade, making))));
    if (k + 1 == makings.all.size()) text += tr(" (now)");
    if (!making.runs.empty()) text += tr("; cut with: %1").arg(names(making.runs));
    heading(text);
    for (std::size_t i = making.end; i-- > begin;) {
      const auto& record = blade.records[i];
      auto* item = new QListWidgetItem(text_of(record.made_at.substr(0, 10)) + "  " +
                                       hidden(text_of(describe(record.data))));
      item->setData(Qt::UserRole, qulonglong(i));
      item->setToolTip(item->text());
      history_->addItem(item);
    }
  }
  remove_->setEnabled(false);
}

}  // namespace bq::ui
