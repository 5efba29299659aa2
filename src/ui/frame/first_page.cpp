#include "ui/frame/first_page.h"

#include <QFileInfo>
#include <QLabel>
#include <QPixmap>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/frame/help_index.h"
#include "ui/parts/layouts.h"
#include "ui/parts/words.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {

constexpr int kWays_px = 400, kPicture_px = 560, kMostShown = 5;

/// A button with what it does beneath it.
QWidget* way_in(const WayIn& way, bool first) {
  auto* out = new QWidget;
  auto* layout = new QVBoxLayout(out);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(2);
  auto* button = new QPushButton(way.text);
  if (first) name_look(button, "primary");
  button->setAccessibleDescription(way.words);
  QObject::connect(button, &QPushButton::clicked, out, way.act);
  layout->addWidget(button);
  layout->addWidget(quiet_label(way.words));
  return out;
}

/// A column of words and ways in beside a picture with its caption, under a title.
void lay_out(QWidget* page, QLabel* title, QVBoxLayout* column, QLabel* picture,
             const QString& caption) {
  auto* left = new QWidget;
  left->setFixedWidth(kWays_px);
  left->setLayout(column);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(12);
  column->addStretch();
  auto* right = new QVBoxLayout;
  right->setSpacing(6);
  right->addWidget(picture);
  right->addWidget(quiet_label(caption));
  right->addStretch();
  auto* both = new QHBoxLayout;
  both->setSpacing(40);
  both->addWidget(left);
  both->addLayout(right, 1);
  title->setFont(font_of(24));
  auto* layout = new QVBoxLayout(page);
  layout->setContentsMargins(40, 30, 30, 20);
  layout->setSpacing(22);
  layout->addWidget(title);
  layout->addLayout(both, 1);
}

}  // namespace

FirstPage::FirstPage(std::vector<WayIn> ways, QWidget* parent)
    : QWidget(parent), recent_(new QVBoxLayout) {
  auto* question = wrapped_label();
  question->setText(tr("Which edge stays useful longest for this work, and how do we know?"));
  auto* column = new QVBoxLayout;
  recent_->setSpacing(4);
  column->addLayout(recent_);
  for (std::size_t i = 0; i < ways.size(); ++i) column->addWidget(way_in(ways[i], i == 0));
  column->addWidget(
      quiet_label(tr("A project or a table can also be dropped on this window. F1: "
                     "what each screen is for.")));
  auto* picture = new QLabel;
  picture->setPixmap(QPixmap(QStringLiteral(":/guide/answer.png"))
                         .scaledToWidth(kPicture_px, Qt::SmoothTransformation));
  picture->setAccessibleName(tr("A filled Verdict, of made-up data"));
  lay_out(this, question, column, picture,
          tr("What comes out: the edge to make, how sure that is, and what speaks against it. "
             "Made-up data of the demo."));
}

void FirstPage::show_recent(const std::vector<RecentProject>& projects) {
  empty(recent_);
  if (projects.empty()) return;
  recent_->addWidget(heading(tr("Go on with")));
  int shown = 0;
  for (const auto& project : projects) {
    if (++shown > kMostShown) break;
    auto* button = new QPushButton(in_label(QFileInfo(project.path).completeBaseName()));
    button->setToolTip(project.path);
    connect(button, &QPushButton::clicked, this,
            [this, path = project.path] { emit project_wanted(path); });
    recent_->addWidget(button);
    auto* words = quiet_label({});
    words->setTextFormat(Qt::PlainText);
    words->setText(project.next.isEmpty() ? QFileInfo(project.path).absolutePath() : project.next);
    recent_->addWidget(words);
  }
  recent_->addSpacing(8);
}

StationPurpose::StationPurpose(const std::vector<WayIn>& ways, QWidget* parent)
    : QWidget(parent), name_(heading({})), purpose_(wrapped_label()), picture_(new QLabel) {
  purpose_->setTextFormat(Qt::MarkdownText);
  purpose_->setTextInteractionFlags(Qt::NoTextInteraction);
  auto* column = new QVBoxLayout;
  column->addWidget(purpose_);
  for (std::size_t i = 0; i < ways.size(); ++i) column->addWidget(way_in(ways[i], i == 0));
  lay_out(this, name_, column, picture_, tr("As it looks with the demo's made-up data."));
}

void StationPurpose::show_station(const QString& name) {
  name_->setText(name);
  const HelpPage* page = HelpIndex::get().page(name);
  // What it is for stands first; keys and cautions follow it in the guide.
  purpose_->setText(
      page ? page->text.section('\n', 1).trimmed().section(QStringLiteral("\n\n"), 0, 0)
           : QString());
  picture_->setPixmap(QPixmap(QStringLiteral(":/guide/%1.png").arg(name.toLower()))
                          .scaledToWidth(kPicture_px, Qt::SmoothTransformation));
  picture_->setAccessibleName(tr("%1, filled with made-up data").arg(name));
}

}  // namespace bq::ui
