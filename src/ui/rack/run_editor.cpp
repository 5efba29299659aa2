#include "ui/rack/run_editor.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <set>

#include "edge/asked_number.h"
#include "quantity/number.h"
#include "trial/run_plan.h"
#include "ui/frame/workbench.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/parts/number_entry.h"
#include "ui/parts/text_field.h"
#include "ui/parts/words.h"

namespace bq::ui {
RunEditor::RunEditor(Workbench& workbench, std::optional<std::size_t> index, const QString& blade,
                     QWidget* parent)
    : QDialog(parent),
      workbench_(workbench),
      index_(index),
      name_(text_field(tr("Name of the run"))),
      edge_left_(text_field(tr("Edge angle left"), tr("left"))),
      edge_right_(text_field(tr("Edge angle right"), tr("right, if it differs"))),
      micro_left_(text_field(tr("Micro-bevel angle left"), tr("none"))),
      micro_right_(text_field(tr("Micro-bevel angle right"), tr("right, if it differs"))),
      finish_(text_field(tr("Finish"), tr("µm"))),
      checkpoints_(text_field(tr("Checkpoints"))),
      block_(text_field(tr("Block"), tr("day or batch"))),
      blade_(new QComboBox),
      medium_(new QComboBox),
      mode_(new QComboBox),
      each_(new NumberEntry),
      refusal_(new QLabel),
      glyph_(new EdgeGlyph),
      convention_(workbench.display().angles) {
  setAttribute(Qt::WA_DeleteOnClose);
  setModal(true);  // what is edited must not change underneath
  setWindowTitle(index ? tr("Edit run") : tr("Add a run"));
  setMinimumWidth(620);
  const Trial& trial = workbench_.trial();
  const Run begun = index ? trial.runs[*index] : next_run(blade.toStdString());
  offer_choices(begun.facts.blade);
  lay_out();
  fill(begun);
  for (auto* edit :
       {name_, edge_left_, edge_right_, micro_left_, micro_right_, finish_, checkpoints_, block_})
    connect(edit, &QLineEdit::textChanged, this, &RunEditor::read);
  read();
  refusal_->clear();
  (index ? edge_left_ : name_)->setFocus();
}

void RunEditor::offer_choices(const std::string& own_blade) {
  const Trial& trial = workbench_.trial();
  // What is not said stays unsaid: both lists begin with it.
  blade_->addItem(tr("not said"));
  for (const auto& b : trial.blades)
    if (!b.retired || b.name == own_blade) blade_->addItem(QString::fromStdString(b.name));
  std::set<std::string> media;
  for (const auto& run : trial.runs)
    if (!run.facts.medium.empty()) media.insert(run.facts.medium);
  medium_->setEditable(true);
  for (const auto& medium : media) medium_->addItem(QString::fromStdString(medium));
  mode_->addItem(tr("not said"));
  for (const CutMode mode : {CutMode::slice, CutMode::push, CutMode::chop})
    mode_->addItem(shown(mode), int(mode));
  each_->set_whole();
  each_->setRange(1, 50);
  each_->setValue(3);
  each_->setSuffix(tr(" readings"));
  blade_->setAccessibleName(tr("Blade"));
  medium_->setAccessibleName(tr("Medium"));
  mode_->setAccessibleName(tr("Cut mode"));
  each_->setAccessibleName(tr("Readings at each checkpoint"));
}

void RunEditor::lay_out() {
  const QString convention = shown(convention_);
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(20, 20, 20, 16);
  grid->setHorizontalSpacing(12);
  grid->setVerticalSpacing(9);
  int row = 0;
  grid->addWidget(heading(windowTitle()), row, 0, 1, 3);
  grid->addWidget(glyph_, row++, 3, 2, 1, Qt::AlignRight | Qt::AlignTop);
  const auto add = [&](const QString& label, QWidget* first, QWidget* second = nullptr) {
    grid->addWidget(new QLabel(label), row, 0);
    grid->addWidget(first, row, 1, 1, second ? 1 : 2);
    if (second) grid->addWidget(second, row, 2);
    ++row;
  };
  add(tr("Run"), name_);
  add(tr("Blade"), blade_);
  add(tr("Edge angle, ° %1").arg(convention), edge_left_, edge_right_);
  add(tr("Micro-bevel, ° %1").arg(convention), micro_left_, micro_right_);
  add(tr("Finish, µm"), finish_);
  add(tr("Medium and cut"), medium_, mode_);
  add(tr("Block"), block_);
  add(tr("Checkpoints, cuts"), checkpoints_);
  add(tr("At each"), each_);
  grid->setColumnStretch(1, 2);
  grid->setColumnStretch(2, 2);
  refusal_->setObjectName(QStringLiteral("refusal"));
  refusal_->setWordWrap(true);
  refusal_->setMinimumHeight(34);
  grid->addWidget(refusal_, row++, 0, 1, 4);
  auto* buttons = new QDialogButtonBox;
  auto* good =
      buttons->addButton(index_ ? tr("Keep changes") : tr("Add run"), QDialogButtonBox::AcceptRole);
  good->setObjectName(QStringLiteral("primary"));
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  grid->addWidget(buttons, row, 0, 1, 4);
  connect(buttons, &QDialogButtonBox::accepted, this, &RunEditor::keep);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
}

Run RunEditor::next_run(const std::string& blade) const {
  const Trial& trial = workbench_.trial();
  Run fresh;
  fresh.facts.blade = blade;
  int number = int(trial.runs.size()) + 1;
  while (trial.find_run("R" + std::to_string(number))) ++number;
  fresh.facts.name = "R" + std::to_string(number);
  fresh.plan.checkpoints = checkpoint_ladder(1000, 9);
  if (!trial.runs.empty()) {
    const Run& last = trial.runs.back();
    fresh.facts.medium = last.facts.medium;
    fresh.facts.cut_mode = last.facts.cut_mode;
    if (!last.plan.checkpoints.empty()) fresh.plan = last.plan;
  }
  return fresh;
}

void RunEditor::fill(const Run& run) {
  const auto number = [](double value) { return QString::fromStdString(print_number(value, 6)); };
  name_->setText(QString::fromStdString(run.facts.name));
  if (!run.facts.blade.empty()) blade_->setCurrentText(QString::fromStdString(run.facts.blade));
  medium_->setCurrentText(QString::fromStdString(run.facts.medium));
  if (run.facts.cut_mode) mode_->setCurrentIndex(mode_->findData(int(*run.facts.cut_mode)));
  block_->setText(QString::fromStdString(run.facts.block));
  checkpoints_->setText(QString::fromStdString(print_checkpoints(run.plan.checkpoints)));
  each_->setValue(run.plan.readings_each);
  if (run.facts.finish)
    finish_->setText(
        QString::fromStdString(print_finish(*run.facts.finish)).remove(QStringLiteral(" µm")));
  if (run.facts.geometry) {
    const double shown = convention_ == AngleConvention::inclusive ? 2 : 1;
    const auto& edge = run.facts.geometry->edge();
    edge_left_->setText(number(edge.left_deg * shown));
    if (!edge.is_symmetric()) edge_right_->setText(number(edge.right_deg * shown));
    if (const auto& micro = run.facts.geometry->micro()) {
      micro_left_->setText(number(micro->left_deg * shown));
      if (!micro->is_symmetric()) micro_right_->setText(number(micro->right_deg * shown));
    }
  }
  before_ = run.facts;
  edge_before_ = edge_texts();
  finish_text_before_ = finish_->text();
}

/// What the fields of the edge say: while it is what they said at first, the edge is the one
/// before, with every digit it had.
QStringList RunEditor::edge_texts() const {
  return {edge_left_->text(), edge_right_->text(), micro_left_->text(), micro_right_->text()};
}

std::optional<double> RunEditor::angle(QLineEdit* field, QString& why) const {
  if (field->text().trimmed().isEmpty()) return std::nullopt;
  const auto parsed = parse_angle(field->text().trimmed().toStdString(), convention_);
  if (parsed) return *parsed;
  if (why.isEmpty())
    why = field->accessibleName() + QStringLiteral(": ") +
          QString::fromStdString(parsed.refusal().reason);
  return std::nullopt;
}

/// Reads all fields; shows the first thing that is wrong and the glyph of what is right.
void RunEditor::read() {
  QString why;
  Run run;
  RunFacts& facts = run.facts;
  facts = before_;  // whatever has no field here stays as it was
  facts.name = name_->text().trimmed().toStdString();
  if (facts.name.empty()) why = tr("A run needs a name.");
  facts.blade = blade_->currentIndex() > 0 ? blade_->currentText().toStdString() : std::string();
  if (facts.blade != before_.blade) {
    // Another blade is of its own steel; with none, the run's own is what is known.
    for (const auto& blade : workbench_.trial().blades)
      if (blade.name == facts.blade) facts.steel = blade.steel;
  }
  const auto left = angle(edge_left_, why), right = angle(edge_right_, why);
  const auto micro_left = angle(micro_left_, why), micro_right = angle(micro_right_, why);
  if (edge_texts() == edge_before_) {
    facts.geometry = before_.geometry;
  } else if (left) {
    const BevelAngles edge{*left, right.value_or(*left)};
    std::optional<BevelAngles> micro;
    if (micro_left) micro = BevelAngles{*micro_left, micro_right.value_or(*micro_left)};
    const auto made = EdgeGeometry::make(edge, micro);
    if (made)
      facts.geometry = *made;
    else if (why.isEmpty())
      why = QString::fromStdString(made.refusal().reason);
  } else {
    facts.geometry.reset();
  }
  if (!left && (right || micro_left || micro_right) && why.isEmpty())
    why = tr("Give the left edge angle too; where one number is given it holds for both sides.");
  if (const QString text = finish_->text().trimmed(); !text.isEmpty()) {
    AskedNumber particle;
    particle.least = 0.001;
    particle.most = 5000;
    particle.beside = "µm";
    particle.particle_size = true;
    const auto um = read_asked(text.toStdString(), particle);
    if (finish_->text() == finish_text_before_)
      facts.finish = before_.finish;
    else if (um)
      facts.finish = Finish::both(*um);
    else if (why.isEmpty())
      why = tr("Finish, the abrasive's particle size: %1.").arg(text_of(um.refusal().reason));
  } else {
    facts.finish.reset();
  }
  facts.medium = medium_->currentText().trimmed().toStdString();
  facts.cut_mode = mode_->currentIndex() > 0 ? std::optional(CutMode(mode_->currentData().toInt()))
                                             : std::nullopt;
  facts.block = block_->text().trimmed().toStdString();
  const auto checkpoints = parse_checkpoints(checkpoints_->text().toStdString());
  if (checkpoints)
    run.plan.checkpoints = *checkpoints;
  else if (why.isEmpty())
    why = QString::fromStdString(checkpoints.refusal().reason);
  run.plan.readings_each = each_->whole();
  glyph_->show_edge(facts.geometry, facts.finish);
  refusal_->setText(why);
  read_ = why.isEmpty() ? std::optional(run) : std::nullopt;
}

void RunEditor::keep() {
  read();
  if (!read_) return;
  const Edited edited = workbench_.edit([&](ProjectSession& session) {
    if (index_)
      session.update_run(*index_, read_->facts, read_->plan);
    else
      session.add_run(*read_);
  });
  refusal_->setText(edited.refusal);
  if (!edited) return;
  if (!index_) workbench_.choose_run(int(workbench_.trial().runs.size()) - 1);
  accept();
}

}  // namespace bq::ui
