#include "ui/bench/search_page.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

#include "quantity/number.h"
#include "trial/edge_map.h"
#include "ui/bench/look_panel.h"
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
      blade_(new QComboBox),
      mode_(new QComboBox),
      middle_(new QStackedWidget),
      instruction_(new QLabel),
      figure_(new QLabel),
      reason_(new QLabel),
      bound_(new QLabel),
      said_(quiet_label({})),
      caution_(new QLabel),
      made_(new QPushButton(tr("Block made: look at the edge  (Space)"))),
      end_(new QPushButton(tr("End the search"))),
      begin_(new QPushButton(tr("Begin the search"))),
      new_(new QPushButton(tr("New search"))),
      cuts_(new NumberEntry),
      angle_(new NumberEntry),
      bevel_(new NumberEntry),
      micro_made_(new NumberEntry),
      start_(new NumberEntry),
      step_(new NumberEntry),
      micro_(new NumberEntry),
      share_(new NumberEntry),
      rough_(new NumberEntry),
      confirm_(new NumberEntry),
      name_(new QLineEdit),
      use_(new QLineEdit),
      medium_(new QLineEdit),
      look_(new LookPanel(false)),
      stairs_(new Staircase),
      sketch_(new SearchSketch) {
  setFocusPolicy(Qt::StrongFocus);
  sessions_->setAccessibleName(tr("Search"));
  sessions_->setMinimumWidth(220);
  middle_->addWidget(make_setup());
  middle_->addWidget(make_work());
  middle_->addWidget(look_);
  bound_->setFont(font_of(kHeading));
  bound_->setWordWrap(true);
  bound_->setTextFormat(Qt::RichText);
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
      quiet_label(tr("“No damage in 200 cuts” and “in 3,000” are different promises: the rate "
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
  connect(begin_, &QPushButton::clicked, this, &SearchPage::begin);
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

QWidget* SearchPage::make_setup() {
  name_->setPlaceholderText(tr("mat corners with staples"));
  name_->setAccessibleName(tr("Name of the search"));
  blade_->setAccessibleName(tr("Blade"));
  medium_->setAccessibleName(tr("Medium"));
  medium_->setPlaceholderText(tr("what is cut"));
  use_->setAccessibleName(tr("What makes it rough"));
  use_->setPlaceholderText(tr("staples, entry, exit, grain, twist: what the edge must survive"));
  mode_->setAccessibleName(tr("Way of cutting"));
  mode_->addItem(tr("how is it cut?"), -1);
  for (const CutMode mode : {CutMode::push, CutMode::slice, CutMode::chop})
    mode_->addItem(text_of(name_of(mode)), int(mode));
  set_up_number(micro_, 0, 60, 1, 0.5, tr("° per side, renewed each round"), tr("Micro-bevel"));
  micro_->set_edge_angle(AngleConvention::per_side);
  micro_->setSpecialValueText(tr("none"));
  set_up_number(start_, 2, 45, 1, 0.5, tr("° per side"), tr("First angle"));
  start_->set_edge_angle(AngleConvention::per_side);
  set_up_number(step_, 0.5, 15, 1, 0.5, tr("°"), tr("Step"));
  set_up_number(share_, 0.1, 5, 2, 0.1, tr(" × damaged thickness (½ to ¾ as a rule)"), tr("Bevel"));
  for (auto* box : {rough_, confirm_, cuts_}) box->set_whole();
  set_up_number(rough_, 1, 1e6, 0, 10, tr(" cuts"), tr("Rough block"));
  set_up_number(confirm_, 1, 1e7, 0, 50, tr(" cuts"), tr("Long block"));
  start_->setValue(10);
  step_->setValue(2);
  share_->setValue(0.6);
  rough_->setValue(50);
  confirm_->setValue(300);
  auto* title = new QLabel(tr("How slim can it be and still hold?"));
  title->setFont(font_of(26, true));
  title->setWordWrap(true);
  auto* form = new QFormLayout;
  form->setVerticalSpacing(7);
  form->addRow(tr("name"), name_);
  form->addRow(tr("blade"), blade_);
  form->addRow(tr("medium"), medium_);
  form->addRow(tr("cut by"), mode_);
  form->addRow(tr("what makes it rough"), use_);
  form->addRow(tr("begin with"), start_);
  form->addRow(tr("micro-bevel"), micro_);
  form->addRow(tr("steeper after damage by"), step_);
  form->addRow(tr("new bevel up to"), share_);
  form->addRow(tr("rough block"), rough_);
  form->addRow(tr("long block when clean"), confirm_);
  name_look(begin_, "primary");
  begin_->setMinimumHeight(44);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(0, 0, 6, 0);
  column->setSpacing(10);
  column->addWidget(title);
  column->addWidget(
      quiet_label(tr("Start deliberately slim. Each block visits every awkward place; what breaks "
                     "sizes the next bevel; a clean long block ends it.")));
  column->addLayout(form);
  column->addWidget(begin_);
  column->addStretch();
  return scrolled(inside);
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
  begin_->setEnabled(writable);
  // One begun from Plan or Verdict says not yet what makes it rough.
  if (!now || (now->rounds.empty() && fault_of(*now))) {
    const QString blade = blade_->currentText();
    blade_->clear();
    for (const auto& one : workbench_.trial().blades)
      if (!one.retired) blade_->addItem(QString::fromStdString(one.name));
    if (blade_->findText(blade) >= 0) blade_->setCurrentText(blade);
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
  if (begun) {
    name_->setText(text_of(begun->name));
    if (blade_->findText(text_of(begun->blade)) >= 0) blade_->setCurrentText(text_of(begun->blade));
    medium_->setText(text_of(begun->medium));
    use_->setText(text_of(begun->roughest_use));
    mode_->setCurrentIndex(begun->cut_mode ? mode_->findData(int(*begun->cut_mode)) : 0);
    start_->setValue(begun->start_angle_deg);
    step_->setValue(begun->step_deg);
    micro_->setValue(begun->micro_deg.value_or(0));
    share_->setValue(begun->bevel_share);
    rough_->setValue(double(begun->rough_cuts));
    confirm_->setValue(double(begun->confirm_cuts));
  }
  middle_->setCurrentIndex(kSetup);
  if (begun) said_->setText(tr("Before the first block: %1.").arg(text_of(*fault_of(*begun))));
  bound_->setText(tr("Nothing yet."));
  sketch_->hide();
  stairs_->show_search({}, {}, workbench_.display().angles);
}

DamageSearch SearchPage::asked() const {
  DamageSearch made;
  if (const DamageSearch* begun = search()) made = *begun;
  made.name = name_->text().trimmed().isEmpty()
                  ? tr("search %1").arg(sessions_->count()).toStdString()
                  : name_->text().trimmed().toStdString();
  made.blade = blade_->currentText().toStdString();
  for (const auto& blade : workbench_.trial().blades)
    if (blade.name == made.blade) made.steel = blade.steel;
  made.medium = medium_->text().trimmed().toStdString();
  made.roughest_use = use_->text().trimmed().toStdString();
  const int mode = mode_->currentData().toInt();
  made.cut_mode = mode < 0 ? std::nullopt : std::optional(CutMode(mode));
  made.start_angle_deg = start_->value();
  made.step_deg = step_->value();
  made.micro_deg = micro_->value() > 0 ? std::optional(micro_->value()) : std::nullopt;
  made.bevel_share = share_->value();
  made.rough_cuts = std::int64_t(rough_->value());
  made.confirm_cuts = std::int64_t(confirm_->value());
  return made;
}

void SearchPage::begin() {
  DamageSearch made = asked();
  if (const auto fault = fault_of(made)) {
    said_->setText(tr("Not begun: %1.").arg(text_of(*fault)));
    QWidget* first = medium_->text().trimmed().isEmpty() ? static_cast<QWidget*>(medium_)
                     : !made.cut_mode                    ? static_cast<QWidget*>(mode_)
                                                         : static_cast<QWidget*>(use_);
    first->setFocus();
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
  const auto blade = std::find_if(blades.begin(), blades.end(),
                                  [&](const Blade& b) { return b.name == changed.blade; });
  const auto index = std::size_t(blade - blades.begin());
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
  if (!now->rounds.empty() && (round.edge_angle_deg != now->rounds.back().edge_angle_deg ||
                               round.bevel_thickness_um != now->rounds.back().bevel_thickness_um ||
                               round.micro_deg != now->rounds.back().micro_deg))
    round.confirmation = false;
  double stock_mm = kThickestStock_mm;
  std::string steel = now->steel;
  for (const auto& blade : workbench_.trial().blades)
    if (blade.name == now->blade) {
      steel = blade.steel;
      if (const auto section = edge_now(blade).section) stock_mm = section->stock_mm;
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
  keep(std::move(changed),
       tr("round %1, %2").arg(number + 1).arg(QString::fromUtf8(name_of(look.found).data())),
       records);
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
