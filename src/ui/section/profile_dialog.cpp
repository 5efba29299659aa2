#include "ui/section/profile_dialog.h"

#include <QDialogButtonBox>
#include <QLabel>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QVBoxLayout>

#include "edge/edge_outline.h"
#include "quantity/number.h"
#include "ui/theme/theme.h"

namespace bq::ui {

ProfileDialog::ProfileDialog(const std::vector<MeasuredThickness>& now, QWidget* parent)
    : QDialog(parent), text_(new QPlainTextEdit), refusal_(new QLabel) {
  setAttribute(Qt::WA_DeleteOnClose);
  setModal(true);
  setWindowTitle(tr("Measured thicknesses"));
  setMinimumWidth(420);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(20, 20, 20, 16);
  layout->setSpacing(10);
  layout->addWidget(heading(windowTitle()));
  layout->addWidget(
      quiet_label(tr("Distance from the apex and thickness there, both in mm, one pair to a line. "
                     "The section is drawn straight between "
                     "them, and from the first down to the apex. The grinds are cleared: what was "
                     "measured has them in it.")));
  text_->setPlaceholderText(QStringLiteral("0.5  0.22\n1  0.35\n5  0.78"));
  text_->setAccessibleName(tr("Distances and thicknesses"));
  text_->setTabChangesFocus(true);
  QStringList lines;
  for (const auto& point : now)
    lines << QString::fromStdString(print_number(point.distance_mm, 6) + "  " +
                                    print_number(point.thickness_mm, 6));
  text_->setPlainText(lines.join('\n'));
  layout->addWidget(text_);
  refusal_->setObjectName(QStringLiteral("refusal"));
  refusal_->setWordWrap(true);
  refusal_->hide();
  layout->addWidget(refusal_);
  auto* buttons = new QDialogButtonBox;
  buttons->addButton(tr("Start from these"), QDialogButtonBox::AcceptRole)
      ->setObjectName(QStringLiteral("primary"));
  buttons->addButton(tr("Cancel"), QDialogButtonBox::RejectRole);
  layout->addWidget(buttons);
  connect(buttons, &QDialogButtonBox::accepted, this, &ProfileDialog::keep);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  text_->setFocus();
}

void ProfileDialog::keep() {
  const auto refuse = [&](const std::string& why) {
    refusal_->setText(tr("Not taken: %1.").arg(QString::fromStdString(why)));
    refusal_->show();
  };
  const auto pairs = outline_from_table(text_->toPlainText().toStdString());
  if (!pairs) return refuse(pairs.refusal().reason);
  std::vector<MeasuredThickness> profile;
  for (const auto& pair : *pairs) profile.push_back({pair.x_mm, pair.y_mm});
  if (const auto section = Section::measured(profile); !section)
    return refuse(section.refusal().reason);
  emit kept(profile);
  accept();
}

}  // namespace bq::ui
