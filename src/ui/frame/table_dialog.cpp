#include "ui/frame/table_dialog.h"

#include <QComboBox>
#include <QDialogButtonBox>
#include <QFile>
#include <QFileInfo>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>

#include "store/table_grid.h"
#include "ui/frame/remembered.h"
#include "ui/parts/layouts.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

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
  if (choice == ".") return TableDialog::tr("the point: 1.5");
  if (choice == ",") return TableDialog::tr("the comma: 1,5");
  if (choice == "um") return TableDialog::tr("µm");
  if (choice == "inclusive") return TableDialog::tr("inclusive, both sides together");
  return text_of(choice);
}

QLabel* wrapped() {
  auto* label = new QLabel;
  label->setWordWrap(true);
  label->setTextFormat(Qt::PlainText);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  return label;
}

}  // namespace

TableDialog::TableDialog(const QString& path, QWidget* parent)
    : QDialog(parent),
      path_(path),
      bytes_(std::make_shared<std::string>()),
      sentence_(wrapped()),
      notes_(wrapped()),
      questions_(new QVBoxLayout),
      columns_(new QTableWidget(0, 4)),
      import_(nullptr) {
  setWindowTitle(tr("What this table says"));
  sentence_->setFont(font_of(17));
  columns_->setHorizontalHeaderLabels({tr("Column"), tr("Taken for"), tr("Unit"), tr("How sure")});
  columns_->verticalHeader()->hide();
  columns_->setSelectionMode(QAbstractItemView::NoSelection);
  columns_->setEditTriggers(QAbstractItemView::NoEditTriggers);
  columns_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
  columns_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  columns_->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  columns_->setAccessibleName(tr("What each column is taken for"));
  auto* buttons = new QDialogButtonBox;
  import_ = buttons->addButton(tr("Take it in"), QDialogButtonBox::AcceptRole);
  name_look(import_, "primary");
  buttons->addButton(tr("Leave it"), QDialogButtonBox::RejectRole);
  connect(buttons, &QDialogButtonBox::accepted, this, &TableDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 16, 20, 14);
  layout->setSpacing(10);
  layout->addWidget(quiet_label(QFileInfo(path).fileName()));
  layout->addWidget(sentence_);
  questions_->setSpacing(6);
  layout->addLayout(questions_);
  layout->addWidget(columns_, 1);
  layout->addWidget(notes_);
  layout->addWidget(buttons);
  resize(fitting({820, 640}, screen()));
  understand();
}

QString TableDialog::sentence() const { return sentence_->text(); }

QString TableDialog::memory_key() const {
  QByteArray heads;
  for (const auto& column : table_->columns) heads += QByteArray::fromStdString(column.name) + '\n';
  return settings_key(QStringLiteral("tables"), heads);
}

void TableDialog::accept() {
  if (!import_->isEnabled()) return;
  program_settings().setValue(memory_key(), QString::fromStdString(table_map_text(map_)));
  QDialog::accept();
}

void TableDialog::understand() {
  import_->setEnabled(false);
  sentence_->setText(tr("Reading the table …"));
  job_.ask(
      [path = path_, bytes = bytes_, map = map_](const std::stop_token&) {
        if (QFile file(path); bytes->empty() && file.open(QIODevice::ReadOnly))
          *bytes = file.read(qint64(kMostTableBytes) + 1).toStdString();
        auto table = std::make_shared<AnyTable>(understand_table(*bytes, map));
        table->tidy.clear();  // the import makes it again
        return table;
      },
      [this](std::shared_ptr<AnyTable> table) { take(std::move(table)); });
}

void TableDialog::take(std::shared_ptr<AnyTable> table) {
  table_ = std::move(table);
  if (!remembered_) {
    remembered_ = true;
    const QString kept = program_settings().value(memory_key()).toString();
    if (const auto map = parse_table_map(kept.toStdString()); map && !(*map == map_)) {
      map_ = *map;
      understand();
      return;
    }
  }
  const auto asked = table_->questions.size();
  if (!table_->problems.empty())
    sentence_->setText(tr("It cannot be taken in as it is."));
  else if (asked)
    sentence_->setText(asked == 1 ? tr("One thing is not said in it:")
                                  : tr("%1 things are not said in it:").arg(asked));
  else
    sentence_->setText(tr("To come in: %1 (%2).")
                           .arg(runs_with_readings(table_->runs, table_->readings),
                                text_of(name_of(table_->shape))));
  show_questions();
  show_columns();
  QStringList lines;
  for (const auto& problem : table_->problems)
    if (lines.size() < 8) lines << tr("Line %1").arg(text_of(problem));
  for (const auto& note : table_->notes)
    if (lines.size() < 16) lines << QStringLiteral("· ") + text_of(note);
  if (!table_->unknown.empty()) {
    QStringList names;
    for (const auto& name : table_->unknown) names << text_of(name);
    lines << tr("· factors of your own: %1").arg(names.join(QStringLiteral(", ")));
  }
  notes_->setText(lines.join('\n'));
  import_->setEnabled(table_->problems.empty() && asked == 0);
}

void TableDialog::show_questions() {
  empty(questions_);
  for (const auto& question : table_->questions) {
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
  columns_->setRowCount(int(table_->columns.size()));
  for (int r = 0; r < int(table_->columns.size()); ++r) {
    const TableColumn& column = table_->columns[std::size_t(r)];
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
  understand();
}

}  // namespace bq::ui
