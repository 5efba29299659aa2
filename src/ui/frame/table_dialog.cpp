#include "ui/frame/table_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileInfo>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <iostream>

#include "store/table_grid.h"
#include "ui/frame/job_news.h"
#include "ui/frame/remembered.h"
#include "ui/parts/layouts.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

struct ColumnChoice {
  const char* meaning;
  const char* words;
};
constexpr ColumnChoice kChoices[] = {
    {"run", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "run")},
    {"cuts", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "cuts made so far")},
    {"reading", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "reading")},
    {"unit", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "unit of the reading")},
    {"blade", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "blade")},
    {"steel", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "steel")},
    {"edge_angle", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "edge angle")},
    {"edge_angle_left", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "edge angle, left side")},
    {"edge_angle_right", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "edge angle, right side")},
    {"micro_angle", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "micro-bevel angle")},
    {"finish_um", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "finish")},
    {"medium", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "medium that is cut")},
    {"cut_mode", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "way of cutting")},
    {"station", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "place on the edge")},
    {"operator", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "operator")},
    {"block", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "block")},
    {"excluded", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "taken out (yes or no)")},
    {"reason", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "why it is taken out")},
    {"factor", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "a factor of my own")},
    {"skip", QT_TRANSLATE_NOOP("bq::ui::TableDialog", "leave it out")}};

QString words_of(const std::string& choice) {
  for (const auto& known : kChoices)
    if (choice == known.meaning) return TableDialog::tr(known.words);
  if (choice == "note") return TableDialog::tr("into the note");
  if (choice == "readings") return TableDialog::tr("a table of readings");
  if (choice == "blades") return TableDialog::tr("a list of blades");
  if (choice == "stones") return TableDialog::tr("a list of stones and other abrasives");
  if (choice == "pairs") return TableDialog::tr("a comparison, before and after");
  if (choice == "gauge") return TableDialog::tr("a gauge study");
  if (choice == "strokes") return TableDialog::tr("samples of force strokes");
  if (choice == ".") return TableDialog::tr("the point: 1.5");
  if (choice == ",") return TableDialog::tr("the comma: 1,5");
  if (choice == "um") return TableDialog::tr("µm");
  if (choice == "inclusive") return TableDialog::tr("inclusive, both sides together");
  return text_of(choice);
}

QString in_words(TableShape shape) {
  switch (shape) {
    case TableShape::long_rows:
      return TableDialog::tr("one row a reading");
    case TableShape::repeats:
      return TableDialog::tr("readings side by side");
    case TableShape::run_per_row:
      return TableDialog::tr("one row a run");
    case TableShape::run_per_column:
      return TableDialog::tr("one column a run");
  }
  return {};
}

QLabel* wrapped() {
  auto* label = new QLabel;
  label->setWordWrap(true);
  label->setTextFormat(Qt::PlainText);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  return label;
}

/// A table to be looked at only.
QTableWidget* look_at(const QStringList& heads, const QString& name) {
  auto* table = new QTableWidget(0, int(heads.size()));
  table->setHorizontalHeaderLabels(heads);
  table->verticalHeader()->hide();
  table->setSelectionMode(QAbstractItemView::NoSelection);
  table->setEditTriggers(QAbstractItemView::NoEditTriggers);
  table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  table->setAccessibleName(name);
  return table;
}

QTableWidgetItem* cell_of(const QString& text, bool number = false) {
  auto* item = new QTableWidgetItem(text);
  if (number) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
  return item;
}

}  // namespace

TableDialog::TableDialog(const QString& path, KnownNames known, AngleConvention angles,
                         QWidget* parent)
    : QDialog(parent),
      path_(path),
      known_(std::move(known)),
      angles_(angles),
      sentence_(wrapped()),
      notes_(wrapped()),
      read_as_(new QWidget),
      encoding_(new QComboBox),
      separator_(new QComboBox),
      questions_(new QVBoxLayout),
      columns_(look_at({tr("Column"), tr("Taken for"), tr("Unit"), tr("How sure")},
                       tr("What each column is taken for"))),
      rows_(look_at({}, tr("The table, as it stands there"))),
      runs_(look_at({tr("Run"), tr("Blade"), tr("Steel"), tr("Edge"), tr("Finish"), tr("Work"),
                     tr("Readings"), tr("Cuts"), tr("First to last")},
                    tr("The runs that would come in"))),
      pages_(new QStackedWidget),
      import_(nullptr) {
  setWindowTitle(tr("What this table says"));
  sentence_->setFont(font_of(17));
  columns_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  columns_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  for (const char* name : {"UTF-8", "UTF-16", "Windows-1252"})
    encoding_->addItem(QLatin1String(name), QLatin1String(name));
  for (const auto& [sign, words] : {std::pair{",", tr("comma")}, std::pair{";", tr("semicolon")},
                                    std::pair{"tab", tr("tab")}, std::pair{"|", tr("bar")}})
    separator_->addItem(words, QLatin1String(sign));
  encoding_->setAccessibleName(tr("Read as"));
  separator_->setAccessibleName(tr("Separated by"));
  lay_out();
}

void TableDialog::lay_out() {
  auto* read_as = new QHBoxLayout(read_as_);
  read_as->setContentsMargins(0, 0, 0, 0);
  read_as->addWidget(new QLabel(tr("read as")));
  read_as->addWidget(encoding_);
  read_as->addWidget(new QLabel(tr("separated by")));
  read_as->addWidget(separator_);
  connect(encoding_, &QComboBox::activated, this, [this] {
    map_.encoding = encoding_->currentData().toString().toStdString();
    understand();
  });
  connect(separator_, &QComboBox::activated, this, [this] {
    map_.separator = separator_->currentData().toString().toStdString();
    understand();
  });
  auto* tabs = new QHBoxLayout;
  tabs->setSpacing(3);
  tabs_ = make_tabs({tr("Columns"), tr("The table"), tr("What comes in")},
                    [this](int page) { open_page(page); });
  for (auto* tab : tabs_) tabs->addWidget(tab);
  tabs->addStretch();
  for (QWidget* page : {columns_, rows_, runs_}) pages_->addWidget(page);
  auto* buttons = new QDialogButtonBox;
  import_ = buttons->addButton(tr("Take it in"), QDialogButtonBox::AcceptRole);
  name_look(import_, "primary");
  buttons->addButton(tr("Leave it"), QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &TableDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 16, 20, 14);
  layout->setSpacing(10);
  auto* file = new QHBoxLayout;
  file->addWidget(quiet_label(QFileInfo(path_).fileName()), 1);
  file->addWidget(read_as_);
  layout->addLayout(file);
  layout->addWidget(sentence_);
  questions_->setSpacing(6);
  layout->addLayout(questions_);
  layout->addLayout(tabs);
  layout->addWidget(pages_, 1);
  layout->addWidget(notes_);
  layout->addWidget(buttons);
  resize(fitting({940, 700}, screen()));
  open_page(0);
  understand();
}

QString TableDialog::sentence() const { return sentence_->text(); }

QString TableDialog::memory_key() const {
  QByteArray heads;
  for (const auto& column : seen_->table.columns)
    heads += QByteArray::fromStdString(column.name) + '\n';
  return settings_key(QStringLiteral("tables"), heads);
}

void TableDialog::accept() {
  if (!import_->isEnabled()) return;
  program_settings().setValue(memory_key(), QString::fromStdString(table_map_text(map_)));
  QDialog::accept();
}

void TableDialog::open_page(int page) {
  pages_->setCurrentIndex(page);
  for (int i = 0; i < int(tabs_.size()); ++i) tabs_[std::size_t(i)]->setChecked(i == page);
}

void TableDialog::understand() {
  import_->setEnabled(false);
  sentence_->setText(tr("Reading the table …"));
  job_.ask(
      [path = path_.toStdString(), map = map_, known = known_](const std::stop_token&) {
        auto seen = std::make_shared<Seen>();
        try {
          SourceResult read = read_tables({path}, std::cin, {}, map, known);
          seen->lists = count_of(read.lists);
          if (!read.understood.empty()) seen->table = std::move(read.understood.front());
          // A tidy table says all by itself; it is shown like any other.
          if (seen->table.preview.empty() && read.lists.empty() && map.kind.empty()) {
            auto questions = std::move(seen->table.questions);
            seen->table = understand_table(read_text_file(path, kMostTableBytes), map);
            seen->table.questions = std::move(questions);
            seen->table.faults.clear();
          }
          for (auto& note : read.notes) seen->table.notes.push_back(std::move(note));
          seen->trial = std::move(read.trial);
          if (seen->table.faults.empty() && seen->table.questions.empty())
            seen->problems = std::move(read.problems);
        } catch (...) {
          seen->problems.push_back(words_of_exception().toStdString());
        }
        return seen;
      },
      [this](std::shared_ptr<Seen> seen) { take(std::move(seen)); });
}

void TableDialog::take(std::shared_ptr<Seen> seen) {
  seen_ = std::move(seen);
  if (!remembered_) {
    remembered_ = true;
    const QString kept = program_settings().value(memory_key()).toString();
    if (const auto map = parse_table_map(kept.toStdString()); map && !(*map == map_)) {
      map_ = *map;
      understand();
      return;
    }
  }
  const AnyTable& table = seen_->table;
  const auto asked = table.questions.size();
  const bool fault = !table.faults.empty() || !seen_->problems.empty();
  if (fault)
    sentence_->setText(
        tr("It cannot be taken in as it is. Mend what is marked, and bring it in again."));
  else if (asked)
    sentence_->setText(asked == 1 ? tr("One thing is not said in it:")
                                  : tr("%1 things are not said in it:").arg(asked));
  else if (seen_->lists != "nothing")
    sentence_->setText(tr("To come in: %1.").arg(text_of(seen_->lists)));
  else
    sentence_->setText(tr("To come in: %1 (%2).")
                           .arg(runs_with_readings(qint64(seen_->trial.runs.size()),
                                                   qint64(seen_->trial.reading_count())),
                                in_words(table.shape)));
  read_as_->setVisible(!table.encoding.empty());
  encoding_->setCurrentIndex(encoding_->findData(text_of(table.encoding)));
  separator_->setCurrentIndex(separator_->findData(text_of(table.separator)));
  show_questions();
  show_columns();
  show_rows();
  show_runs();
  QStringList lines;
  constexpr int kMostFaults = 6, kMostLines = 12;
  for (const auto& one : table.faults)
    if (lines.size() < kMostFaults) lines << tr("Line %1").arg(text_of(one.in_words()));
  for (const auto& problem : seen_->problems)
    if (lines.size() < kMostFaults) lines << text_of(problem);
  for (const auto& note : table.notes)
    if (lines.size() < kMostLines) lines << QStringLiteral("· ") + text_of(note);
  if (!table.unknown.empty()) {
    QStringList names;
    for (const auto& name : table.unknown) names << text_of(name);
    lines << tr("· factors of your own: %1").arg(names.join(QStringLiteral(", ")));
  }
  notes_->setText(lines.join('\n'));
  import_->setEnabled(!fault && asked == 0);
}

void TableDialog::show_rows() {
  const auto& rows = seen_->table.preview;
  std::size_t width = 0;
  for (const auto& row : rows) width = std::max(width, row.cells.size());
  QStringList heads{tr("line")};
  for (std::size_t c = 0; c < width; ++c) {
    QString meaning;
    const auto head = std::find_if(rows.begin(), rows.end(), [](const TablePreviewRow& row) {
      return row.use == TablePreviewRow::Use::head;
    });
    if (head != rows.end() && c < head->cells.size())
      for (const auto& column : seen_->table.columns)
        if (column.name == head->cells[c]) meaning = words_of(column.meaning);
    heads << meaning;
  }
  rows_->clear();
  rows_->setColumnCount(int(heads.size()));
  rows_->setHorizontalHeaderLabels(heads);
  rows_->setRowCount(int(rows.size()));
  QFont bold = rows_->font();
  bold.setBold(true);
  for (int r = 0; r < int(rows.size()); ++r) {
    const TablePreviewRow& row = rows[std::size_t(r)];
    rows_->setItem(r, 0, cell_of(QString::number(row.line), true));
    for (std::size_t c = 0; c < row.cells.size(); ++c) {
      auto* item = cell_of(text_of(row.cells[c]).left(60).replace('\n', ' '));
      if (row.use == TablePreviewRow::Use::head) item->setFont(bold);
      if (row.use == TablePreviewRow::Use::left_out || row.use == TablePreviewRow::Use::title) {
        item->setForeground(theme().quiet);
        item->setToolTip(tr("left out"));
      }
      for (const auto& fault : seen_->table.faults)
        if (fault.line == row.line && fault.column == c + 1) {
          item->setText(QStringLiteral("✗ ") + item->text());
          item->setForeground(theme().danger);
          item->setToolTip(text_of(fault.what));
        }
      rows_->setItem(r, int(c) + 1, item);
    }
  }
  rows_->resizeColumnsToContents();
  tabs_[1]->setText(seen_->table.faults.empty()
                        ? tr("The table")
                        : tr("The table (%1 wrong)").arg(seen_->table.faults.size()));
}

void TableDialog::show_runs() {
  const auto& runs = seen_->trial.runs;
  constexpr std::size_t kMostShown = 500;
  runs_->setRowCount(int(std::min(kMostShown, runs.size())));
  for (int r = 0; r < runs_->rowCount(); ++r) {
    const Run& run = runs[std::size_t(r)];
    const auto put = [&](int column, const std::string& text, bool number = false) {
      runs_->setItem(r, column, cell_of(text_of(text), number));
    };
    put(0, run.facts.name);
    put(1, run.facts.blade);
    put(2, run.facts.steel);
    put(3, run.facts.geometry ? print_geometry(*run.facts.geometry, angles_) : "");
    put(4, run.facts.finish ? print_measure(run.facts.finish->mean_um(), Unit::um) : "");
    std::string work = run.facts.medium;
    if (run.facts.cut_mode)
      work += (work.empty() ? "" : ", ") + std::string(name_of(*run.facts.cut_mode));
    put(5, work);
    put(6, std::to_string(run.readings.size()), true);
    const auto [least, most] =
        std::minmax_element(run.readings.begin(), run.readings.end(),
                            [](const Reading& a, const Reading& b) { return a.cuts < b.cuts; });
    if (run.readings.empty()) continue;
    put(7, print_cuts(double(least->cuts)) + " to " + print_cuts(double(most->cuts)), true);
    put(8,
        print_measure(least->value, least->unit) + " to " + print_measure(most->value, most->unit),
        true);
  }
  runs_->resizeColumnsToContents();
  tabs_[2]->setText(runs.empty() ? tr("What comes in") : tr("What comes in (%1)").arg(runs.size()));
}

void TableDialog::show_questions() {
  empty(questions_);
  for (const auto& question : seen_->table.questions) {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(0, 0, 0, 0);
    auto* label = wrapped();
    label->setText(text_of(question.sentence));
    line->addWidget(label, 1);
    // Which column it is is said in the list below.
    if (question.key != "columns") {
      auto* choice = new QComboBox;
      choice->setAccessibleName(text_of(question.sentence));
      choice->addItem(tr("choose …"));
      for (const auto& one : question.choices) choice->addItem(words_of(one), text_of(one));
      connect(choice, &QComboBox::activated, this, [this, choice, key = question.key](int at) {
        if (at > 0) answer(key, choice->itemData(at).toString().toStdString());
      });
      line->addWidget(choice);
    }
    questions_->addWidget(row);
  }
}

void TableDialog::show_columns() {
  columns_->setRowCount(int(seen_->table.columns.size()));
  for (int r = 0; r < int(seen_->table.columns.size()); ++r) {
    const TableColumn& column = seen_->table.columns[std::size_t(r)];
    columns_->setItem(r, 0, new QTableWidgetItem(text_of(column.name)));
    auto* choice = new QComboBox;
    choice->setAccessibleName(tr("%1 is taken for").arg(text_of(column.name)));
    choice->setFocusPolicy(Qt::StrongFocus);
    int now = -1;
    for (const auto& known : kChoices) {
      if (column.meaning == known.meaning) now = choice->count();
      choice->addItem(tr(known.words), QString::fromLatin1(known.meaning));
    }
    if (now < 0) {  // a head that is a count of cuts, or the name of a run
      choice->insertItem(0, text_of(column.meaning));
      now = 0;
    }
    choice->setCurrentIndex(now);
    connect(choice, &QComboBox::activated, this, [this, choice, name = column.name](int at) {
      const QString meaning = choice->itemData(at).toString();
      if (!meaning.isEmpty()) answer("columns." + name, meaning.toStdString());
    });
    columns_->setCellWidget(r, 1, choice);
    columns_->setItem(r, 2, new QTableWidgetItem(text_of(column.unit)));
    columns_->setItem(r, 3,
                      new QTableWidgetItem(column.sure >= 1     ? tr("sure")
                                           : column.sure >= 0.9 ? tr("nearly sure")
                                           : column.sure > 0    ? tr("asked")
                                                                : tr("not a word that is known")));
  }
}

void TableDialog::answer(const std::string& key, const std::string& choice) {
  if (key.starts_with("columns."))
    map_.columns[key.substr(8)] = choice;
  else if (key == "unit")
    map_.unit = choice;
  else if (key == "angles")
    map_.angles = choice;
  else if (key == "decimal")
    map_.decimal = choice;
  else if (key == "grit")
    map_.grit = choice;
  else if (key == "sheet")
    map_.sheet = choice;
  else if (key == "kind")
    map_.kind = choice;
  else if (key.starts_with("names."))
    if (const auto dot = key.find('.', 6); dot != std::string::npos)
      map_.names[key.substr(6, dot - 6)][key.substr(dot + 1)] = choice;
  understand();
}

}  // namespace bq::ui
