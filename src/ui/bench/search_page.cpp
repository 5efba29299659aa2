#include "ui/bench/search_page.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "quantity/number.h"
#include "trial/edge_map.h"
#include "ui/bench/look_panel.h"
#include "ui/bench/search_setup.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/bench_study.h"
#include "workflow/search_making.h"
#include "workflow/section_study.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

enum Middle { kSetup, kWork, kLook };

}  // namespace

SearchPage::SearchPage(Workbench& workbench, BenchModel& model, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      model_(model),
      sessions_(new QComboBox),
      setup_(new SearchSetup),
      middle_(new QStackedWidget),
      instruction_(new QLabel),
      figure_(new QLabel),
      reason_(new QLabel),
      bound_(new QLabel),
      said_(quiet_label({})),
      caution_(new QLabel),
      made_(new QPushButton(tr("Block made: look at the edge  (Space)"))),
      end_(new QPushButton(tr("End the search"))),
      new_(new QPushButton(tr("New search"))),
      cuts_(new NumberEntry),
      angle_(new NumberEntry),
      bevel_(new NumberEntry),
      micro_made_(new NumberEntry),
      look_(new LookPanel(false)),
      stairs_(new Staircase),
      sketch_(new SearchSketch) {
  setFocusPolicy(Qt::StrongFocus);
  sessions_->setAccessibleName(tr("Search"));
  sessions_->setMinimumWidth(220);
  middle_->addWidget(scrolled(setup_));
  middle_->addWidget(make_work());
  middle_->addWidget(look_);
  bound_->setFont(font_of(kHeading));
  bound_->setWordWrap(true);
  bound_->setTextFormat(Qt::RichText);
  lay_out();
}

void SearchPage::lay_out() {
  auto* head = new QHBoxLayout;
  head->addWidget(sessions_);
  head->addWidget(new_);
  head->addStretch();
  auto* left = new QVBoxLayout;
  left->addLayout(head);
  left->addWidget(middle_, 1);
  left->addWidget(said_);
  auto* right = new QVBoxLayout;
  right->setSpacing(12);
  right->addWidget(stairs_, 3);
  right->addWidget(sketch_, 2);
  right->addWidget(heading(tr("What can be promised")));
  right->addWidget(bound_);
  right->addWidget(
      quiet_label(tr("“No damage in 200 cuts” and “in 3000” are different promises: the rate "
                     "tells them apart. A block says only that it happened at least once.")));
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(0, 4, 0, 4);
  layout->setSpacing(28);
  layout->addLayout(left, 1);
  layout->addLayout(right, 1);
  connect(sessions_, &QComboBox::activated, this, [this](int index) {
    chosen_ = sessions_->itemData(index).toLongLong();
    reload();
  });
  connect(new_, &QPushButton::clicked, this, [this] {
    chosen_ = 0;
    reload();
  });
  connect(setup_, &SearchSetup::begin_asked, this, &SearchPage::begin);
  connect(made_, &QPushButton::clicked, this, &SearchPage::block_made);
  connect(end_, &QPushButton::clicked, this, &SearchPage::keep_end);
  connect(look_, &LookPanel::decided, this, [this](const LookEvent& look) { keep_round(look); });
  connect(look_, &LookPanel::left, this, [this] { reload(); });
  connect(&workbench_, &Workbench::changed, this, [this] {
    if (isVisible() && middle_->currentIndex() != kLook) reload();
  });
  connect(&workbench_, &Workbench::display_changed, this, [this] {
    if (isVisible()) reload();
  });
}

QWidget* SearchPage::make_work() {
  instruction_->setFont(font_of(26, true));
  instruction_->setWordWrap(true);
  figure_->setFont(font_of(44, true));
  reason_->setWordWrap(true);
  reason_->setFont(font_of(15));
  caution_->setObjectName(QStringLiteral("caution"));
  caution_->setWordWrap(true);
  caution_->setTextFormat(Qt::RichText);
  caution_->setText(
      tr("<b>Rough cuts can break pieces off:</b> eye protection, cut-resistant glove on the off "
         "hand, cut away from the body, fix the work. "
         "Local rules, workplace procedure and trained persons come before this program."));
  cuts_->set_whole();
  set_up_number(cuts_, 1, 1e7, 0, 10, tr(" cuts made"), tr("Cuts made"));
  set_up_number(angle_, 1, 60, 1, 0.5, tr("° per side as ground"), tr("Angle as ground"));
  angle_->set_edge_angle(AngleConvention::per_side);
  set_up_number(bevel_, 0, 5000, 0, 5, tr(" µm thick behind the bevel"), tr("Bevel as ground"));
  bevel_->setSpecialValueText(tr("the whole edge bevel"));
  set_up_number(micro_made_, 0, 60, 1, 0.5, tr("° micro-bevel, per side"),
                tr("Micro-bevel as ground"));
  micro_made_->set_edge_angle(AngleConvention::per_side);
  micro_made_->setSpecialValueText(tr("no micro-bevel"));
  name_look(made_, "primary");
  made_->setMinimumHeight(48);
  made_->setFont(font_of(kHeading, true));
  auto* fields = new QHBoxLayout;
  fields->addWidget(angle_);
  fields->addWidget(cuts_);
  auto* work = new QWidget;
  auto* column = new QVBoxLayout(work);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(8);
  column->addWidget(instruction_);
  column->addWidget(figure_);
  column->addWidget(reason_);
  column->addLayout(fields);
  auto* section = new QHBoxLayout;
  section->addWidget(bevel_);
  section->addWidget(micro_made_);
  column->addLayout(section);
  column->addWidget(made_);
  column->addWidget(end_);
  column->addStretch();
  column->addWidget(caution_);
  return scrolled(work);
}

QString SearchPage::instruction() const { return instruction_->text(); }
QString SearchPage::bound() const { return bound_->text(); }

const BenchSession* SearchPage::session() const {
  if (!workbench_.has_project() || !chosen_) return nullptr;
  for (const auto& one : workbench_.session().bench_sessions())
    if (one.id == chosen_) return &one;
  return nullptr;
}

const DamageSearch* SearchPage::search() const {
  const BenchSession* one = session();
  return one ? std::get_if<DamageSearch>(&one->data) : nullptr;
}

SearchProposal SearchPage::proposal() const {
  const DamageSearch* now = search();
  if (!now) return {};
  return propose(*now, stress_facts(workbench_.trial(), now->steel,
                                    workbench_.session().kept(kSectionQuestionsKey)));
}

void SearchPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  // The latest search that has not ended is what one comes back to.
  if (!chosen_ && workbench_.has_project())
    for (const auto& one : workbench_.session().bench_sessions())
      if (const auto* found = std::get_if<DamageSearch>(&one.data); found && !found->ended)
        chosen_ = one.id;
  reload();
}

void SearchPage::reload() {
  sessions_->clear();
  sessions_->addItem(tr("a new search"), 0);
  if (workbench_.has_project())
    for (const auto& one : workbench_.session().bench_sessions())
      if (const auto* found = std::get_if<DamageSearch>(&one.data))
        sessions_->addItem(tr("%1%2").arg(QString::fromStdString(found->name),
                                          found->ended ? tr(" (ended)") : QString()),
                           qlonglong(one.id));
  sessions_->setCurrentIndex(std::max(0, sessions_->findData(qlonglong(chosen_))));
  const DamageSearch* now = search();
  const bool writable = workbench_.writable();
  setup_->set_writable(writable);
  // One begun from Plan or Verdict says not yet what makes it rough.
  if (!now || (now->rounds.empty() && fault_of(*now))) {
    show_setup(now);
    return;
  }
  const SearchProposal next = proposal();
  middle_->setCurrentIndex(kWork);
  const AngleConvention angles = workbench_.display().angles;
  const QString angle = QString::fromStdString(print_angle(next.edge_angle_deg, angles));
  const bool done = now->ended || next.kind == SearchProposal::Kind::finished;
  if (now->ended)
    instruction_->setText(tr("The search has ended"));
  else if (next.kind == SearchProposal::Kind::finished)
    instruction_->setText(tr("It holds: %1").arg(angle));
  else if (next.kind == SearchProposal::Kind::confirmation)
    instruction_->setText(tr("Clean. Now the long block at %1").arg(angle));
  else if (now->rounds.empty())
    instruction_->setText(tr("Grind %1, then cut the rough block").arg(angle));
  else
    instruction_->setText(tr("Damage. Regrind to %1, then cut again").arg(angle));
  figure_->setText(done ? QString::fromStdString(print_angle_number(next.edge_angle_deg, angles)) +
                              QChar(0xb0)
                        : tr("%1 cuts").arg(QString::fromStdString(print_cuts(double(next.cuts)))));
  reason_->setText(QString::fromStdString(next.reason));
  cuts_->setValue(double(next.cuts ? next.cuts : now->confirm_cuts));
  angle_->setValue(next.edge_angle_deg);
  bevel_->setValue(next.bevel_thickness_um);
  micro_made_->setValue(next.micro_deg.value_or(0));
  for (QWidget* part :
       {static_cast<QWidget*>(cuts_), static_cast<QWidget*>(angle_), static_cast<QWidget*>(bevel_),
        static_cast<QWidget*>(micro_made_), static_cast<QWidget*>(made_)})
    part->setVisible(writable && !now->ended);
  caution_->setVisible(writable && !done && !cautioned_);
  end_->setVisible(writable && !now->ended);
  const auto geometries = geometries_of(*now);
  QStringList lines;
  for (const auto& one : geometries)
    lines << tr("<b>%1</b>%2: %3")
                 .arg(QString::fromStdString(print_angle(one.edge_angle_deg, angles)),
                      (one.bevel_thickness_um > 0
                           ? tr(", bevel to %1 µm").arg(one.bevel_thickness_um)
                           : QString()) +
                          (one.micro_deg ? tr(", micro-bevel %1")
                                               .arg(text_of(print_angle(*one.micro_deg, angles)))
                                         : QString()),
                      QString::fromStdString(bound_in_words(one.blocks)));
  bound_->setText(lines.isEmpty() ? tr("Nothing yet: no block has been cut.")
                                  : lines.join(QStringLiteral("<br>")));
  stairs_->show_search(*now, next, angles);
  sketch_->show_search(*now, next);
}

void SearchPage::show_setup(const DamageSearch* begun) {
  setup_->show_blades(workbench_.trial());
  if (begun) setup_->show_search(*begun);
  middle_->setCurrentIndex(kSetup);
  if (begun) said_->setText(tr("Before the first block: %1.").arg(text_of(*fault_of(*begun))));
  bound_->setText(tr("Nothing yet."));
  sketch_->hide();
  stairs_->show_search({}, {}, workbench_.display().angles);
}

void SearchPage::begin() {
  const DamageSearch* begun = search();
  DamageSearch made = setup_->asked(begun ? *begun : DamageSearch{}, workbench_.trial(),
                                    tr("search %1").arg(sessions_->count()));
  if (const auto fault = fault_of(made)) {
    said_->setText(tr("Not begun: %1.").arg(text_of(*fault)));
    setup_->go_to_missing();
    return;
  }
  keep(std::move(made), tr("beginning a damage search"));
  setFocus();
}

void SearchPage::keep(DamageSearch changed, const QString& what,
                      const std::vector<EdgeRecordData>& records) {
  BenchSession session;
  if (const BenchSession* before = this->session()) session = *before;
  const auto& blades = workbench_.trial().blades;
  const Blade* blade = workbench_.trial().find_blade(changed.blade);
  const std::size_t index = blade ? std::size_t(blade - blades.data()) : blades.size();
  session.data = std::move(changed);
  std::int64_t id = chosen_;
  // The edge as it was ground for the round, and what was seen of it: one act.
  const bool kept = workbench_.edit([&](ProjectSession& s) {
    s.as_one(what.toStdString(), [&] {
      if (!records.empty()) s.add_records(index, records, "the edge of a round");
      id = s.set_bench_session(session, what.toStdString());
    });
  });
  if (kept) {
    chosen_ = id;
    workbench_.when_kept([this, self = QPointer(this), line = tr("kept: %1").arg(what)] {
      if (self) said_->setText(line);
    });
  } else {
    said_->setText(tr("Not kept; see the message below."));
  }
  reload();
}

void SearchPage::block_made() {
  if (!search() || search()->ended) return;
  cautioned_ = true;
  middle_->setCurrentIndex(kLook);
  look_->begin(false);
  look_->offer(damage_offers(workbench_.trial(), search()->blade, ""));
}

void SearchPage::keep_round(const LookEvent& look) {
  const DamageSearch* now = search();
  if (!now) return;
  const SearchProposal next = proposal();
  DamageSearch changed = *now;
  SearchRound round{value_of(angle_, next.edge_angle_deg),
                    value_of(bevel_, next.bevel_thickness_um),
                    std::int64_t(cuts_->value()),
                    next.kind != SearchProposal::Kind::rough_block,
                    look,
                    now_utc(),
                    model_.by_operator().toStdString()};
  if (const double micro = value_of(micro_made_, next.micro_deg.value_or(0)); micro > 0) {
    round.micro_deg = micro;
    round.micro_um = next.micro_um;
  }
  // A round of another section is no confirmation of the one before.
  if (!now->rounds.empty() && !same_edge(round, now->rounds.back())) round.confirmation = false;
  double stock_mm = kThickestStock_mm;
  std::string steel = now->steel;
  if (const Blade* blade = workbench_.trial().find_blade(now->blade)) {
    steel = blade->steel;
    if (const auto section = edge_now(*blade).section) stock_mm = section->stock_mm;
  }
  std::optional<std::string> fault = fault_of(round, stock_mm);
  if (steel != now->steel)
    fault = "this search is of " + now->steel + "; blade " + now->blade + " is of " + steel +
            " now: begin another search for it";
  if (fault) {
    said_->setText(tr("Not kept: %1.").arg(text_of(*fault)));
    middle_->setCurrentIndex(kWork);
    return;
  }
  changed.rounds.push_back(round);
  const std::size_t number = now->rounds.size();
  const auto records = records_of_round(workbench_.trial(), changed, number);
  keep(std::move(changed), tr("round %1, %2").arg(number + 1).arg(shown(look.found)), records);
  setFocus();
}

void SearchPage::keep_end() {
  if (!search()) return;
  DamageSearch changed = *search();
  changed.ended = true;
  keep(std::move(changed), tr("the end of the search"));
}

void SearchPage::keyPressEvent(QKeyEvent* event) {
  if (!event->isAutoRepeat() && event->key() == Qt::Key_Space && middle_->currentIndex() == kWork)
    block_made();
  else if (event->key() == Qt::Key_U && middle_->currentIndex() == kWork)
    model_.undo();
  else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
