#include "ui/section/helper_page.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

namespace bq::ui {

HelperPage::HelperPage(Workbench& workbench, SectionModel& model, const QString& title,
                       const QString& caution, QWidget* parent)
    : QWidget(parent), column_(scrolled_column(this, title)), workbench_(workbench), model_(model) {
  const auto reload_if_seen = [this] {
    if (isVisible()) reload();
  };
  connect(&model_, &SectionModel::blade_changed, this, reload_if_seen);
  connect(&workbench_, &Workbench::changed, this, reload_if_seen);
  if (!caution.isEmpty()) {
    auto* bar = new QWidget;
    auto* line = new QHBoxLayout(bar);
    line->setContentsMargins(0, 0, 0, 0);
    auto* text = new QLabel(caution + tr(" Local rules and trained people come first."));
    text->setObjectName(QStringLiteral("caution"));
    text->setWordWrap(true);
    auto* seen = new QPushButton(tr("Seen"));
    line->addWidget(text, 1);
    line->addWidget(seen, 0, Qt::AlignTop);
    column_->addWidget(bar);
    connect(seen, &QPushButton::clicked, bar, &QWidget::hide);
    // Another blade is another act.
    connect(&model_, &SectionModel::blade_changed, bar, &QWidget::show);
  }
}

void HelperPage::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  reload();
}

const Blade* HelperPage::blade() const {
  return model_.blade() < 0 ? nullptr : &workbench_.trial().blades[std::size_t(model_.blade())];
}

std::string HelperPage::kept(const char* name) const {
  return blade() ? workbench_.session().kept(key_of(name)) : std::string();
}

std::string HelperPage::key_of(const char* name) const {
  return std::string(name) + ":" + std::to_string(blade()->id);
}

bool HelperPage::keep(const char* name, const std::string& text, const char* what) {
  if (!blade()) return false;
  const std::string key = key_of(name);
  return workbench_.edit([&](ProjectSession& session) { session.keep(key, text, what); });
}

QString HelperPage::angle_text(double per_side_deg, int decimals) const {
  const bool inclusive = workbench_.display().angles == AngleConvention::inclusive;
  return QString::number(per_side_deg * (inclusive ? 2 : 1), 'f', decimals) + QChar(0xb0);
}

QString HelperPage::hand_text(double per_side_deg, int decimals) {
  return QString::number(per_side_deg, 'f', decimals) + QChar(0xb0);
}

QString HelperPage::convention_text() const {
  return workbench_.display().angles == AngleConvention::inclusive ? tr("inclusive")
                                                                   : tr("per side");
}

}  // namespace bq::ui
