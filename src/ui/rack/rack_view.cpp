#include "ui/rack/rack_view.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableView>
#include <QVBoxLayout>
#include <algorithm>

#include "ui/glyph/edge_glyph.h"
#include "ui/parts/plain_table.h"
#include "ui/rack/blade_editor.h"
#include "ui/rack/blade_list.h"
#include "ui/rack/blade_page.h"
#include "ui/rack/run_editor.h"
#include "ui/rack/run_table_model.h"

namespace bq::ui {

RackView::RackView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      blade_model_(new BladeListModel(workbench, this)),
      finder_(new BladeFinder(blade_model_, this)),
      run_model_(new RunTableModel(workbench, this)),
      find_blade_(new QLineEdit),
      find_run_(new QLineEdit),
      order_(new QComboBox),
      none_found_(quiet_label(tr("No blade holds all these words."))),
      blades_(new QListView),
      runs_(new QTableView),
      title_(heading({})),
      facts_(new QLabel),
      note_(quiet_label({})),
      glyph_(new EdgeGlyph),
      add_run_(new QPushButton(tr("Add run"))),
      edit_blade_(new QPushButton(tr("Edit blade"))),
      edit_run_(new QPushButton(tr("Edit run"))),
      to_bench_(new QPushButton(tr("Take to the bench"))),
      edge_tab_(new QPushButton(tr("Edge"))),
      runs_tab_(new QPushButton(tr("Runs"))),
      duplicate_(new QPushButton(tr("Duplicate"))),
      retire_(new QPushButton),
      section_(new QPushButton(tr("Section"))),
      page_(new BladePage(workbench)),
      pages_(new QStackedWidget) {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(16, 16, 16, 12);
  layout->setSpacing(20);
  layout->addWidget(make_blades());
  layout->addLayout(make_chosen(), 1);
  setFocusProxy(blades_);
  listen_to_blades();
  listen_to_runs();
  listen_to_project();
  reload();
}

QWidget* RackView::make_blades() {
  auto* column = new QWidget;
  column->setFixedWidth(300);
  auto* left = new QVBoxLayout(column);
  left->setContentsMargins(0, 0, 0, 0);
  auto* add_blade = new QPushButton(tr("Add blade"));
  connect(add_blade, &QPushButton::clicked, this, &RackView::start_blade);
  auto* every = new QPushButton(tr("All runs"));
  every->setObjectName(QStringLiteral("flat"));
  connect(every, &QPushButton::clicked, this, [this] {
    blades_->clearSelection();
    blades_->setCurrentIndex({});
    show_blade(-1);
  });
  blades_->setModel(finder_);
  blades_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  blades_->setItemDelegate(new BladeTagDelegate(blades_));
  blades_->setUniformItemSizes(true);
  blades_->setAccessibleName(tr("Blades"));
  blades_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  blades_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* left_head = new QHBoxLayout;
  left_head->addWidget(heading(tr("Blades")));
  left_head->addStretch();
  left_head->addWidget(every);
  left_head->addWidget(add_blade);
  left->addLayout(left_head);
  find_blade_->setPlaceholderText(tr("find a blade"));
  find_blade_->setAccessibleName(tr("Find blades"));
  find_blade_->setClearButtonEnabled(true);
  order_->addItems({tr("as put on"), tr("by name"), tr("by steel"), tr("by state")});
  order_->setAccessibleName(tr("Order of the blades"));
  auto* finding = new QHBoxLayout;
  finding->setSpacing(6);
  finding->addWidget(find_blade_, 1);
  finding->addWidget(order_);
  left->addLayout(finding);
  none_found_->hide();
  left->addWidget(none_found_);
  left->addWidget(blades_, 1);
  return column;
}

void RackView::set_up_runs() {
  runs_->setModel(run_model_);
  runs_->setItemDelegateForColumn(RunTableModel::glyph, new GlyphDelegate(runs_));
  runs_->setSelectionBehavior(QAbstractItemView::SelectRows);
  runs_->setSelectionMode(QAbstractItemView::SingleSelection);
  make_plain(runs_, tr("Runs"));
  runs_->verticalHeader()->setDefaultSectionSize(42);
  runs_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  runs_->setWordWrap(false);
  auto* header = runs_->horizontalHeader();
  header->setHighlightSections(false);
  header->setSectionResizeMode(QHeaderView::Fixed);
  header->setSectionResizeMode(RunTableModel::medium, QHeaderView::Stretch);
  // A click on a head puts the runs in its order, a third one as they were made.
  header->setSortIndicatorShown(true);
  header->setProperty("sorts", true);  // the theme keeps room for the arrow there alone
  header->setSortIndicatorClearable(true);
  header->setSortIndicator(-1, Qt::AscendingOrder);
  runs_->setSortingEnabled(true);
  find_run_->setPlaceholderText(tr("find: run, blade, steel, edge, finish, medium, state"));
  find_run_->setAccessibleName(tr("Find runs"));
  find_run_->setClearButtonEnabled(true);
}

QLayout* RackView::make_chosen() {
  set_up_runs();
  facts_->setFont(font_of(15));
  facts_->setWordWrap(true);
  to_bench_->setObjectName(QStringLiteral("primary"));

  auto* words = new QVBoxLayout;
  words->addWidget(title_);
  words->addWidget(facts_);
  words->addWidget(note_);
  words->addStretch();
  auto* top = new QHBoxLayout;
  top->setSpacing(16);
  top->addWidget(glyph_, 0, Qt::AlignTop);
  top->addLayout(words, 1);
  auto* acts = new QHBoxLayout;
  acts->setSpacing(8);
  for (auto* tab : {edge_tab_, runs_tab_}) {
    tab->setObjectName(QStringLiteral("tab"));
    tab->setCheckable(true);
    acts->addWidget(tab);
  }
  acts->addStretch();
  for (auto* act : {section_, edit_blade_, duplicate_, retire_}) acts->addWidget(act);
  auto* foot = new QHBoxLayout;
  foot->addWidget(add_run_);
  foot->addWidget(edit_run_);
  foot->addStretch();
  foot->addWidget(to_bench_);
  auto* right = new QVBoxLayout;
  right->setSpacing(8);
  auto* run_page = new QWidget;
  auto* run_column = new QVBoxLayout(run_page);
  run_column->setContentsMargins(0, 0, 0, 0);
  run_column->setSpacing(12);
  run_column->addWidget(find_run_);
  run_column->addWidget(runs_, 1);
  run_column->addLayout(foot);
  pages_->addWidget(run_page);
  pages_->addWidget(page_);
  right->addLayout(top);
  right->addLayout(acts);
  right->addWidget(pages_, 1);
  return right;
}

void RackView::listen_to_blades() {
  connect(find_blade_, &QLineEdit::textChanged, this, [this](const QString& words) {
    finder_->find(words);
    none_found_->setVisible(finder_->rowCount() == 0 && !words.isEmpty());
  });
  connect(order_, &QComboBox::activated, this,
          [this](int which) { finder_->order_by(BladeFinder::Order(which)); });
  connect(edge_tab_, &QPushButton::clicked, this, [this] { show_runs(false); });
  connect(runs_tab_, &QPushButton::clicked, this, [this] { show_runs(true); });
  connect(duplicate_, &QPushButton::clicked, this, &RackView::duplicate);
  connect(retire_, &QPushButton::clicked, this, &RackView::retire_picked);
  connect(section_, &QPushButton::clicked, this, [this] { emit section_wanted(blade_); });
  connect(edit_blade_, &QPushButton::clicked, this, &RackView::edit_blade);
  connect(blades_->selectionModel(), &QItemSelectionModel::currentChanged, this,
          [this](const QModelIndex& now) {
            if (now.isValid()) show_blade(finder_->blade_at(now));
          });
  connect(blades_->selectionModel(), &QItemSelectionModel::selectionChanged, this, [this] {
    // A screen reader picks a blade without going to it: the one that is picked is the one shown.
    const auto chosen = blades_->selectionModel()->selectedIndexes();
    if (chosen.size() == 1 && chosen.front() != blades_->currentIndex())
      blades_->selectionModel()->setCurrentIndex(chosen.front(), QItemSelectionModel::NoUpdate);
    const auto several = picked().size();
    if (blade_ < 0) return;
    const bool retired = workbench_.trial().blades[std::size_t(blade_)].retired;
    retire_->setText(several < 2 ? (retired ? tr("Back in use") : tr("Retire"))
                     : retired   ? tr("%1 back in use").arg(several)
                                 : tr("Retire %1").arg(several));
  });
}

void RackView::listen_to_runs() {
  connect(find_run_, &QLineEdit::textChanged, this, [this](const QString& words) {
    run_model_->find(words);
    if (run_model_->rowCount()) runs_->selectRow(0);
    to_bench_->setEnabled(run_model_->rowCount() > 0);
  });
  connect(add_run_, &QPushButton::clicked, this, &RackView::start_run);
  connect(edit_run_, &QPushButton::clicked, this, [this] { edit_run(runs_->currentIndex()); });
  connect(runs_, &QTableView::doubleClicked, this, &RackView::edit_run);
  connect(to_bench_, &QPushButton::clicked, this, [this] {
    if (!runs_->currentIndex().isValid()) return;
    workbench_.choose_run(run_model_->run_at(runs_->currentIndex().row()));
    emit workbench_.station_wanted(Station::bench);
  });
}

void RackView::listen_to_project() {
  connect(&workbench_, &Workbench::opened, this, [this] {
    // What was looked for in one project hides nothing of another.
    find_blade_->clear();
    find_run_->clear();
  });
  connect(&workbench_, &Workbench::changed, this, &RackView::reload);
  connect(&workbench_, &Workbench::display_changed, this, &RackView::reload);
  const auto repaint_life = [this] {
    if (run_model_->rowCount())
      emit run_model_->dataChanged(
          run_model_->index(0, RunTableModel::life),
          run_model_->index(run_model_->rowCount() - 1, RunTableModel::life));
  };
  connect(&workbench_, &Workbench::fits_changed, this, repaint_life);
  connect(&workbench_, &Workbench::threshold_changed, this, repaint_life);
}

void RackView::duplicate() {
  const Trial& trial = workbench_.trial();
  if (blade_ < 0) return;
  // The first free name after the blade's own.
  const std::string base = trial.blades[std::size_t(blade_)].name;
  std::string name;
  for (int i = 2; name.empty(); ++i) {
    const std::string trying = base + " (" + std::to_string(i) + ")";
    if (std::none_of(trial.blades.begin(), trial.blades.end(),
                     [&](const Blade& b) { return b.name == trying; }))
      name = trying;
  }
  const auto index = std::size_t(blade_);
  if (workbench_.edit([&](ProjectSession& session) { session.duplicate_blade(index, name); }))
    choose_blade(int(trial.blades.size()) - 1);
}

void RackView::reload() {
  const int run_row = runs_->currentIndex().row();
  blade_model_->reload();
  if (blade_ >= blade_model_->rowCount()) blade_ = -1;
  show_blade(blade_);
  if (const QModelIndex row = finder_->row_of(blade_); row.isValid()) blades_->setCurrentIndex(row);
  if (run_row >= 0 && run_row < run_model_->rowCount()) runs_->selectRow(run_row);
}

void RackView::show_blade(int index) {
  blade_ = index;
  const Trial& trial = workbench_.trial();
  const bool chosen = index >= 0;
  for (auto* part : {edge_tab_, runs_tab_, section_, duplicate_, retire_}) part->setVisible(chosen);
  duplicate_->setEnabled(workbench_.writable());
  retire_->setEnabled(workbench_.writable());
  edit_blade_->setVisible(chosen);
  const bool writable = workbench_.writable();
  add_run_->setEnabled(writable && !trial.blades.empty());
  edit_run_->setEnabled(writable);
  edit_blade_->setEnabled(writable);
  if (!chosen) {
    run_model_->show_blade(std::nullopt);
    show_columns(true);
    title_->setText(tr("All runs"));
    int done = 0;
    for (const auto& run : trial.runs) done += state_of(run) == RunState::done;
    facts_->setText(
        trial.runs.empty()
            ? (workbench_.has_project()
                   ? tr("No runs yet. A run is one sharpening of one blade, cut and read "
                        "from fresh to blunt.")
                   : tr("No project is open. Open one (Ctrl+O) or start a new one from the "
                        "menu at the top left."))
            : tr("%1 blades, %2 runs, %3 done")
                  .arg(trial.blades.size())
                  .arg(trial.runs.size())
                  .arg(done));
    note_->setText(trial.runs.empty() ? QString() : tr("Choose a blade to see its own runs."));
    glyph_->show_edge(std::nullopt, std::nullopt);
    glyph_->setVisible(false);
  } else {
    const Blade& blade = trial.blades[std::size_t(index)];
    const BladeTag& tag = blade_model_->tag(index);
    run_model_->show_blade(blade.name);
    show_columns(false);
    title_->setText(
        title_->fontMetrics().elidedText(tag.name, Qt::ElideRight, std::max(200, width() - 440)));
    title_->setToolTip(tag.name);
    facts_->setText(tag.steel + QStringLiteral(" · ") + tag.edge + QStringLiteral(" · ") +
                    tag.state);
    note_->setText(QString::fromStdString(blade.note));
    glyph_->setVisible(true);
    glyph_->show_edge(tag.geometry, tag.finish);
    retire_->setText(blade.retired ? tr("Back in use") : tr("Retire"));
    page_->show_blade(index);
  }
  note_->setVisible(!note_->text().isEmpty());
  if (run_model_->rowCount()) runs_->selectRow(0);
  to_bench_->setEnabled(run_model_->rowCount() > 0);
  edit_run_->setEnabled(writable && run_model_->rowCount() > 0);
  show_runs(runs_wanted_);
}

void RackView::show_runs(bool runs) {
  runs_wanted_ = runs;
  edge_tab_->setChecked(!runs);
  runs_tab_->setChecked(runs);
  pages_->setCurrentIndex(runs || blade_ < 0 ? 0 : 1);
}

void RackView::show_columns(bool of_all) {
  using Widths = std::array<int, RunTableModel::column_count>;
  constexpr Widths kOfAll{38, 52, 92, 98, 108, 58, 70, 54, 66, 74, 100};
  constexpr Widths kOfBlade{46, 66, 98, 98, 132, 76, 110, 76, 82, 84, 110};
  for (int i = 0; i < RunTableModel::column_count; ++i)
    runs_->setColumnWidth(i, (of_all ? kOfAll : kOfBlade)[std::size_t(i)]);
  for (const int column : {RunTableModel::blade, RunTableModel::steel})
    runs_->setColumnHidden(column, !of_all);
  runs_->setColumnHidden(RunTableModel::readings, of_all);
}

void RackView::choose_blade(int index) {
  // Whoever is sent here sees it, whatever was looked for before.
  if (!finder_->row_of(index).isValid()) find_blade_->clear();
  blades_->setCurrentIndex(finder_->row_of(index));
}

std::vector<std::size_t> RackView::picked() const {
  std::vector<std::size_t> out;
  for (const QModelIndex& row : blades_->selectionModel()->selectedIndexes())
    out.push_back(std::size_t(finder_->blade_at(row)));
  return out;
}

void RackView::retire_picked() {
  if (blade_ < 0) return;
  auto which = picked();
  if (which.empty()) which.push_back(std::size_t(blade_));
  const bool retire = !workbench_.trial().blades[std::size_t(blade_)].retired;
  workbench_.edit([&](ProjectSession& session) {
    if (which.size() == 1) return session.set_retired(which.front(), retire);
    const std::string what = std::to_string(which.size()) + " blades";
    session.as_one(retire ? "retiring " + what : what + " back in use", [&] {
      for (const std::size_t index : which) session.set_retired(index, retire);
    });
  });
}

void RackView::start_blade() {
  if (workbench_.has_project()) (new BladeEditor(workbench_, std::nullopt, this))->show();
}

void RackView::start_run() {
  if (workbench_.trial().blades.empty()) return;
  const auto index = std::size_t(std::max(0, blade_));
  (new RunEditor(workbench_, std::nullopt,
                 QString::fromStdString(workbench_.trial().blades[index].name), this))
      ->show();
}

void RackView::edit_blade() {
  if (blade_ >= 0) (new BladeEditor(workbench_, std::size_t(blade_), this))->show();
}

void RackView::edit_run(const QModelIndex& row) {
  if (!row.isValid() || !workbench_.writable()) return;
  const auto index = std::size_t(run_model_->run_at(row.row()));
  (new RunEditor(workbench_, index,
                 QString::fromStdString(workbench_.trial().runs[index].facts.blade), this))
      ->show();
}

}  // namespace bq::ui
