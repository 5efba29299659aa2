#include "ui/frame/next_action_bar.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QIcon>
#include <QLabel>
#include <QPainter>
#include <QPushButton>

#include "ui/frame/workbench.h"

namespace bq::ui {
namespace {}  // namespace

namespace {

/// Three strokes, drawn: the sign for it is in no embedded face, and looking for one in the
/// system's fonts would cost more than the whole window.
QIcon menu_icon() {
  QPixmap picture(32, 32);
  picture.fill(Qt::transparent);
  QPainter painter(&picture);
  painter.setPen(QPen(theme().ink, 3));
  for (const int y : {8, 16, 24}) painter.drawLine(5, y, 27, y);
  return QIcon(picture);
}

}  // namespace

NextActionBar::NextActionBar(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      project_(new QLabel),
      sentence_(new QLabel),
      kept_(new QLabel),
      button_(new QPushButton),
      angles_(new QPushButton),
      menu_(new QPushButton),
      unit_(new QComboBox) {
  setFixedHeight(kHeight);
  lay_out();
  listen();
}

void NextActionBar::lay_out() {
  auto* layout = new QHBoxLayout(this);
  layout->setContentsMargins(12, 0, 12, 0);
  layout->setSpacing(10);
  menu_->setObjectName(QStringLiteral("flat"));
  menu_->setAccessibleName(tr("Program menu"));
  menu_->setToolTip(tr("Menu (Alt+M)"));
  menu_->setShortcut(QKeySequence(Qt::ALT | Qt::Key_M));
  project_->setFont(font_of(kBody, true));
  project_->setMaximumWidth(300);
  sentence_->setFont(font_of(15));
  sentence_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
  button_->setObjectName(QStringLiteral("primary"));
  kept_->setObjectName(QStringLiteral("quiet"));
  kept_->setFont(font_of(12));
  // Room for what will stand here is kept from the start: nothing may move under a hand.
  kept_->setFixedWidth(kept_->fontMetrics().horizontalAdvance(tr("kept 00:00:00")) + 6);
  kept_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  project_->setSizePolicy(QSizePolicy::Maximum, QSizePolicy::Preferred);
  angles_->setToolTip(tr("Switch between angles per side and inclusive angles"));
  int widest = 0;
  for (const QString& text : {tr("° per side"), tr("° inclusive")})
    widest = std::max(widest, angles_->fontMetrics().horizontalAdvance(text));
  angles_->setFixedWidth(widest + 30);
  unit_->setMinimumContentsLength(3);
  unit_->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
  unit_->setAccessibleName(tr("Unit of readings"));
  unit_->setToolTip(tr("Unit readings are shown in"));
  layout->addWidget(menu_);
  layout->addWidget(project_);
  layout->addSpacing(8);
  layout->addWidget(sentence_, 1);
  layout->addWidget(button_);
  layout->addSpacing(8);
  layout->addWidget(angles_);
  layout->addWidget(unit_);
  layout->addWidget(kept_);
}

void NextActionBar::listen() {
  connect(button_, &QPushButton::clicked, this, &NextActionBar::go);
  connect(menu_, &QPushButton::clicked, this, &NextActionBar::menu_wanted);
  connect(angles_, &QPushButton::clicked, this, [this] {
    Display display = workbench_.display();
    display.angles = display.angles == AngleConvention::per_side ? AngleConvention::inclusive
                                                                 : AngleConvention::per_side;
    workbench_.set_display(display);
  });
  connect(unit_, &QComboBox::activated, this, [this](int index) {
    Display display = workbench_.display();
    if (kind_of(workbench_.trial().unit()) == UnitKind::force)
      display.force = kShownForces[std::size_t(index)];
    else
      display.length = kShownLengths[std::size_t(index)];
    workbench_.set_display(display);
  });
  show_display();
}

QWidget* NextActionBar::menu_button() const { return menu_; }

void NextActionBar::show_action(const QString& sentence, const QString& button) {
  sentence_->setToolTip(sentence);
  sentence_->setAccessibleName(sentence);
  button_->setText(button);
  button_->setVisible(!button.isEmpty());
  if (QLayout* places = layout()) places->activate();
  fit_sentence();
}

void NextActionBar::fit_sentence() {
  const QString whole = sentence_->toolTip();
  sentence_->setText(
      isVisible() ? sentence_->fontMetrics().elidedText(whole, Qt::ElideRight, sentence_->width())
                  : whole);
}

void NextActionBar::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  if (QLayout* places = layout()) places->activate();
  fit_sentence();
}

void NextActionBar::show_project(const QString& title, bool writable) {
  const QString text = title.isEmpty() ? tr("No project") : title;
  project_->setText(project_->fontMetrics().elidedText(text, Qt::ElideRight, 296));
  project_->setToolTip(text);
  if (!writable && !title.isEmpty()) kept_->setText(tr("read only"));
}

void NextActionBar::show_kept(const QDateTime& at) {
  kept_->setText(tr("kept %1").arg(at.toString(QStringLiteral("HH:mm:ss"))));
}

void NextActionBar::show_display() {
  menu_->setIcon(menu_icon());
  angles_->setText(workbench_.display().angles == AngleConvention::per_side ? tr("° per side")
                                                                            : tr("° inclusive"));
  angles_->setAccessibleName(tr("Angles shown %1").arg(angles_->text()));
  unit_->clear();
  const auto add = [this](const auto& units) {
    for (const Unit unit : units) {
      unit_->addItem(QString::fromStdString(std::string(sign_of(unit))));
      if (unit == workbench_.shown_unit()) unit_->setCurrentIndex(unit_->count() - 1);
    }
  };
  if (kind_of(workbench_.trial().unit()) == UnitKind::force)
    add(kShownForces);
  else
    add(kShownLengths);
}

void NextActionBar::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setPen(QPen(theme().hairline, 1));
  painter.drawLine(0, height() - 1, width(), height() - 1);
}

}  // namespace bq::ui
