#include "ui/stones/start_page.h"

#include <QComboBox>
#include <QLabel>
#include <QPainter>
#include <QVBoxLayout>
#include <cmath>

#include "quantity/number.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {
QString starts_text(std::size_t count) {
  return count == 1 ? StartPage::tr("1 start") : StartPage::tr("%1 starts").arg(count);
}
}  // namespace

/// Readings in the order of the runs between their limits.
class StartPage::Chart : public QWidget {
 public:
  explicit Chart(Workbench& workbench) : workbench_(workbench) {
    setMinimumHeight(190);
    setAccessibleName(StartPage::tr("Initial readings in the order of the runs"));
  }
  void show_group(const StartGroup* group) {
    group_ = group ? std::optional(*group) : std::nullopt;
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    if (!group_) return;
    const Theme& t = theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    double low = 1e300, high = 0;
    for (const auto& start : group_->starts) {
      low = std::min(low, start.reading);
      high = std::max(high, start.reading);
    }
    if (group_->chart) {
      low = std::min(low, group_->lower());
      high = std::max(high, group_->upper());
    }
    low /= 1.05;
    high *= 1.05;
    const QRectF box(56, 12, width() - 148, height() - 38);
    const auto y = [&](double value) {
      return box.bottom() - box.height() * std::log(value / low) / std::log(high / low);
    };
    const auto x = [&](std::size_t i) {
      return box.left() + box.width() * (double(i) + 0.5) / double(group_->starts.size());
    };
    painter.setFont(font_of(12));
    const auto level = [&](double value, Qt::PenStyle style, const QString& name) {
      painter.setPen(QPen(t.ink, 1.2, style));
      painter.drawLine(QPointF(box.left(), y(value)), QPointF(box.right(), y(value)));
      painter.setPen(t.quiet);
      painter.drawText(QRectF(0, y(value) - 9, 52, 18), Qt::AlignRight | Qt::AlignVCenter,
                       QString::fromStdString(print_number(workbench_.shown(value), 3)));
      painter.drawText(QRectF(box.right() + 8, y(value) - 9, 84, 18),
                       Qt::AlignLeft | Qt::AlignVCenter, name);
    };
    if (group_->chart) {
      painter.fillRect(QRectF(box.left(), y(group_->upper()), box.width(),
                              y(group_->lower()) - y(group_->upper())),
                       t.chosen);
      level(group_->upper(), Qt::DashLine, StartPage::tr("too dull"));
      level(group_->centre(), Qt::SolidLine, StartPage::tr("centre"));
      level(group_->lower(), Qt::DashLine, StartPage::tr("too sharp"));
    }
    QPolygonF path;
    for (std::size_t i = 0; i < group_->starts.size(); ++i)
      path << QPointF(x(i), y(group_->starts[i].reading));
    painter.setPen(QPen(t.quiet, 1));
    painter.drawPolyline(path);
    for (std::size_t i = 0; i < group_->starts.size(); ++i) {
      const auto& start = group_->starts[i];
      const bool out = start.state == StartState::too_dull || start.state == StartState::too_sharp;
      painter.setPen(QPen(t.ink, 1.6));
      painter.setBrush(out ? t.panel : t.ink);
      if (out)
        painter.drawPolygon(QPolygonF{path[int(i)] + QPointF(0, -7), path[int(i)] + QPointF(7, 0),
                                      path[int(i)] + QPointF(0, 7), path[int(i)] + QPointF(-7, 0)});
      else
        painter.drawEllipse(path[int(i)], 4, 4);
      if (group_->starts.size() <= 10 || out) {
        painter.setPen(out ? t.ink : t.quiet);
        painter.drawText(QRectF(x(i) - 30, box.bottom() + 6, 60, 16), Qt::AlignCenter,
                         QString::fromStdString(workbench_.trial().runs[start.run].facts.name));
      }
    }
  }

 private:
  Workbench& workbench_;
  std::optional<StartGroup> group_;
};

StartPage::StartPage(Workbench& workbench, StonesModel& model, QWidget* parent)
    : StonesPage(workbench, model, tr("Start gate"), parent),
      choice_(new QComboBox),
      sentence_(new QLabel),
      list_(quiet_label({})),
      chart_(new Chart(workbench)) {
  choice_->setAccessibleName(tr("Steel and finish"));
  choice_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  sentence_->setWordWrap(true);
  column_->addWidget(choice_);
  column_->addWidget(sentence_);
  column_->addWidget(chart_);
  column_->addWidget(list_);
  column_->addWidget(
      quiet_label(tr("Individuals chart of ln reading at 0 cuts; limits 2.66 mean moving ranges "
                     "off the centre. Runs that start alike stand together: one steel, "
                     "one finish, one cut mode. Nothing is judged below %1 starts.")
                      .arg(StartGateOptions{}.least_starts)));
  column_->addStretch(1);
  connect(choice_, &QComboBox::activated, this, &StartPage::show_group);
}

QString StartPage::sentence() const { return sentence_->text(); }

void StartPage::reload() {
  const std::string chosen =
      choice_->currentIndex() >= 0 && choice_->currentIndex() < int(groups_.size())
          ? name_of(groups_[std::size_t(choice_->currentIndex())])
          : "";
  groups_ = start_gate(trial());
  choice_->clear();
  const Blade* blade = model().blade_facts();
  int index = 0;
  std::size_t most = 0;
  for (std::size_t i = 0; i < groups_.size(); ++i) {
    choice_->addItem(tr("%1: %2").arg(QString::fromStdString(name_of(groups_[i])),
                                      starts_text(groups_[i].starts.size())));
    // Another blade shows the largest group it is in; else what was chosen stays.
    if (blade && blade->id != blade_id_) {
      for (const auto& start : groups_[i].starts)
        if (trial().runs[start.run].facts.blade == blade->name && groups_[i].starts.size() > most) {
          index = int(i);
          most = groups_[i].starts.size();
        }
    } else if (name_of(groups_[i]) == chosen) {
      index = int(i);
    }
  }
  blade_id_ = blade ? blade->id : 0;
  choice_->setCurrentIndex(groups_.empty() ? -1 : index);
  show_group();
}

void StartPage::show_group() {
  const int index = choice_->currentIndex();
  const StartGroup* group =
      index >= 0 && index < int(groups_.size()) ? &groups_[std::size_t(index)] : nullptr;
  chart_->show_group(group);
  chart_->setVisible(group && group->starts.size() > 1);
  if (!group) {
    sentence_->setText(
        tr("No run was read at 0 cuts yet: take three readings before the first cut, and every "
           "start is proved."));
    list_->clear();
    return;
  }
  int out = 0;
  QStringList lines;
  for (const auto& start : group->starts) {
    if (const auto before = reading_before_clean_up(trial(), start.run, trial().unit()))
      lines << tr("%1 read %2 before the clean-up and %3 after it.")
                   .arg(QString::fromStdString(trial().runs[start.run].facts.name),
                        QString::fromStdString(
                            print_measure(workbench().shown(*before), workbench().shown_unit(), 3)),
                        QString::fromStdString(print_measure(workbench().shown(start.reading),
                                                             workbench().shown_unit(), 3)));
    const auto verdict = start_of_run(groups_, start.run, trial().unit());
    const bool is_out = start.state == StartState::too_dull || start.state == StartState::too_sharp;
    out += is_out;
    if (is_out && verdict)
      lines << tr("%1. %2").arg(QString::fromStdString(trial().runs[start.run].facts.name),
                                QString::fromStdString(verdict->sentence));
  }
  sentence_->setText(
      !group->chart ? tr("%1: not judged yet, %2 are needed.")
                          .arg(starts_text(group->starts.size()))
                          .arg(StartGateOptions{}.least_starts)
      : out == 0
          ? tr("All %1 starts lie within %2 to %3%4.")
                .arg(group->starts.size())
                .arg(QString::fromStdString(print_number(workbench().shown(group->lower()), 3)),
                     QString::fromStdString(print_measure(workbench().shown(group->upper()),
                                                          workbench().shown_unit(), 3)),
                     group->provisional ? tr(" (provisional: few starts)") : QString())
          : tr("%1 of %2 starts lie outside.").arg(out).arg(group->starts.size()));
  list_->setText(lines.join(QStringLiteral("\n")));
}

}  // namespace bq::ui
