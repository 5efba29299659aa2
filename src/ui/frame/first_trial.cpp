#include "ui/frame/first_trial.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "ui/theme/theme.h"

namespace bq::ui {

FirstTrial::FirstTrial(std::vector<TrialStep> steps, QWidget* parent)
    : QDialog(parent, Qt::Tool),
      steps_(std::move(steps)),
      where_(quiet_label({})),
      text_(wrapped_label()),
      show_(new QPushButton(tr("Show me"))) {
  setWindowTitle(tr("First trial, on the demo"));
  setAttribute(Qt::WA_DeleteOnClose);
  setAttribute(Qt::WA_ShowWithoutActivating);  // keys go on going to the window
  constexpr int kCardWide_px = 380;
  setFixedWidth(kCardWide_px);
  text_->setTextFormat(Qt::MarkdownText);
  name_look(show_, "primary");
  auto* end = new QPushButton(tr("End"));
  connect(end, &QPushButton::clicked, this, &QDialog::close);
  connect(show_, &QPushButton::clicked, this, [this] {
    if (step_ < int(steps_.size())) steps_[std::size_t(step_)].show();
    look();
  });
  auto* buttons = new QHBoxLayout;
  buttons->addWidget(show_);
  buttons->addStretch();
  buttons->addWidget(end);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 12, 16, 12);
  layout->setSpacing(8);
  layout->addWidget(where_);
  layout->addWidget(text_);
  layout->addLayout(buttons);
  look();
}

void FirstTrial::look() {
  while (step_ < int(steps_.size()) && steps_[std::size_t(step_)].done()) ++step_;
  const bool done = step_ >= int(steps_.size());
  where_->setText(done ? tr("All %1 steps are done").arg(steps_.size())
                       : tr("Step %1 of %2").arg(step_ + 1).arg(steps_.size()));
  text_->setText(done ? tr("That is the whole path. The demo is yours to try everything on; F1 "
                           "says what each page is for.")
                      : steps_[std::size_t(step_)].text);
  show_->setVisible(!done);
  resize(width(), layout()->heightForWidth(width()));
}

}  // namespace bq::ui
