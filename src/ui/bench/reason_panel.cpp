#include "ui/bench/reason_panel.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/theme/theme.h"

namespace bq::ui {

ReasonPanel::ReasonPanel(QWidget* parent)
    : QWidget(parent),
      question_(new QLabel),
      more_(quiet_label({})),
      choices_(new QGridLayout),
      words_(new QLineEdit),
      keep_(new QPushButton(tr("Keep this reason  (Enter)"))),
      back_(new QPushButton(tr("Back  (Esc)"))) {
  setFocusPolicy(Qt::StrongFocus);
  question_->setFont(font_of(26, true));
  question_->setWordWrap(true);
  words_->setPlaceholderText(tr("or in your own words"));
  words_->setAccessibleName(tr("Reason"));
  words_->setFont(font_of(kHeading));
  words_->setMinimumHeight(40);
  connect(words_, &QLineEdit::returnPressed, this, [this] {
    if (!words_->text().trimmed().isEmpty()) finish(words_->text().trimmed());
  });
  connect(words_, &QLineEdit::textChanged, this,
          [this](const QString& text) { keep_->setEnabled(!text.trimmed().isEmpty()); });
  connect(keep_, &QPushButton::clicked, this, [this] { finish(words_->text().trimmed()); });
  connect(back_, &QPushButton::clicked, this, &ReasonPanel::left);
  choices_->setSpacing(6);
  keep_->setMinimumHeight(40);
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(keep_, 1);
  buttons->addWidget(back_);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(10);
  layout->addWidget(question_);
  layout->addWidget(more_);
  layout->addLayout(choices_);
  layout->addWidget(words_);
  layout->addStretch();
  layout->addLayout(buttons);
}

void ReasonPanel::ask(const QString& question, const QString& more, const QStringList& usual,
                      const Take& take) {
  question_->setText(question);
  more_->setText(more);
  more_->setVisible(!more.isEmpty());
  qDeleteAll(buttons_);
  buttons_.clear();
  for (int i = 0; i < usual.size(); ++i) {
    auto* button = new QPushButton(tr("%1  %2").arg(i + 1).arg(usual[i]));
    button->setMinimumHeight(44);
    button->setFont(font_of(15));
    connect(button, &QPushButton::clicked, this, [this, reason = usual[i]] { finish(reason); });
    choices_->addWidget(button, i / 2, i % 2);
    buttons_.push_back(button);
  }
  words_->clear();
  keep_->setEnabled(false);
  take_ = take;
  setFocus();
}

void ReasonPanel::finish(const QString& reason) {
  if (reason.isEmpty()) return;
  const Take take = take_;
  emit left();
  if (take) take(reason);
}

void ReasonPanel::keyPressEvent(QKeyEvent* event) {
  if (event->isAutoRepeat()) return;
  const int choice = event->key() - Qt::Key_1;
  if (choice >= 0 && choice < int(buttons_.size()) && !words_->hasFocus())
    buttons_[std::size_t(choice)]->click();
  else if (event->key() == Qt::Key_Escape)
    emit left();
  else if (const QString text = event->text();
           !words_->hasFocus() && !text.isEmpty() && text[0].isPrint() && !text[0].isSpace()) {
    // Whoever begins to write has no usual reason in mind: what is typed arrives, digits too.
    words_->setFocus();
    words_->insert(text);
  } else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
