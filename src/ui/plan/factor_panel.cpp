#include "ui/plan/factor_panel.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>

#include "quantity/number.h"
#include "ui/glyph/edge_glyph.h"

namespace bq::ui {
namespace {

constexpr std::array<FactorKind, 8> kAll{
    FactorKind::steel,  FactorKind::apex_angle, FactorKind::edge_angle, FactorKind::micro_width,
    FactorKind::finish, FactorKind::medium,     FactorKind::cut_mode,   FactorKind::finishing_step};

QString name_for(FactorKind kind, AngleConvention angles) {
  return shown_factor({kind, std::string(key_of(kind)), {}, {}}, angles);
}

std::vector<FactorValue> usual_levels(FactorKind kind, const QStringList& known) {
  switch (kind) {
    case FactorKind::apex_angle:
      return {12.0, 15.0, 18.0};
    case FactorKind::edge_angle:
      return {10.0, 12.0};
    case FactorKind::micro_width:
      return {30.0, 60.0};
    case FactorKind::finish:
      return {1.0, 6.0};
    case FactorKind::cut_mode:
      return {std::string("slice"), std::string("push")};
    case FactorKind::finishing_step:
      return {std::string("none"), std::string("strop")};
    default:
      break;
  }
  std::vector<FactorValue> levels;
  for (const auto& name : known)
    if (levels.size() < 2) levels.emplace_back(name.toStdString());
  while (levels.size() < 2) levels.emplace_back(std::string(levels.empty() ? "first" : "second"));
  return levels;
}

}  // namespace

Checked<std::vector<FactorValue>> read_levels(FactorKind kind, const QString& text,
                                              AngleConvention angles) {
  std::vector<FactorValue> levels;
  const auto split = split_list(text.toStdString());
  if (!split) return split.refusal();
  QStringList parts;
  for (const auto& part : *split) parts << QString::fromStdString(part);
  const bool angle = kind == FactorKind::apex_angle || kind == FactorKind::edge_angle;
  bool all_numbers = true;
  for (const QString& part : parts)
    all_numbers = all_numbers && parse_number(part.toStdString()).ok();
  for (QString part : parts) {
    if (!is_numeric(kind) && !(kind == FactorKind::user && all_numbers)) {
      levels.emplace_back(part.toStdString());
      continue;
    }
    part.remove(QStringLiteral("°")).remove(QStringLiteral("µm"));
    const auto number = parse_number(part.toStdString());
    if (!number) return Refusal{"\"" + part.toStdString() + "\" is no number"};
    levels.emplace_back(angle && angles == AngleConvention::inclusive ? *number / 2 : *number);
  }
  return levels;
}

QString print_levels(FactorKind kind, const std::vector<FactorValue>& levels,
                     AngleConvention angles) {
  QStringList parts;
  bool comma = false;
  for (const auto& level : levels) {
    QString text = shown_level(kind, level, angles);
    if (is_numeric(kind)) text.remove(QStringLiteral("°")).remove(QStringLiteral(" µm"));
    comma = comma || text.contains(',');
    parts << text;
  }
  return parts.join(comma ? QStringLiteral("; ") : QStringLiteral(", "));
}

LevelStrip::LevelStrip(Workbench& workbench, QWidget* parent)
    : QWidget(parent), workbench_(workbench) {
  setFixedHeight(62);
}

void LevelStrip::show_levels(const TrialPlan& plan, std::size_t factor) {
  marks_.clear();
  const PlanFactor& f = plan.factors[factor];
  const bool drawn = f.kind == FactorKind::apex_angle || f.kind == FactorKind::edge_angle ||
                     f.kind == FactorKind::finish;
  for (std::size_t l = 0; l < f.levels.size(); ++l) {
    Mark mark;
    mark.text = shown_level(f.kind, f.levels[l], workbench_.display().angles);
    Combination levels(plan.factors.size(), 0);
    levels[factor] = int(l);
    if (drawn)
      if (const auto facts = facts_of(plan, levels); facts && facts->geometry) {
        mark.geometry = facts->geometry;
        mark.finish = f.kind == FactorKind::finish || facts->finish ? facts->finish : std::nullopt;
      } else if (f.kind == FactorKind::finish) {
        mark.geometry = *EdgeGeometry::make(BevelAngles::symmetric(15));
        if (const auto* um = std::get_if<double>(&f.levels[l]); um && *um > 0)
          mark.finish = Finish::both(*um);
      }
    if (f.kind == FactorKind::steel)
      mark.style = workbench_.steel_style(print_factor_value(f.levels[l]));
    marks_.push_back(std::move(mark));
  }
  setVisible(drawn || f.kind == FactorKind::steel);
  setFixedHeight(drawn ? 62 : 20);
  setAccessibleName(tr("Levels of %1").arg(QString::fromStdString(f.name)));
  update();
}

void LevelStrip::paintEvent(QPaintEvent*) {
  if (marks_.empty()) return;
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const double step = std::min(double(width()) / double(marks_.size()), 150.0);
  painter.setFont(font_of(12));
  for (std::size_t i = 0; i < marks_.size(); ++i) {
    const QRectF box(double(i) * step, 0, step - 4, height());
    const Mark& mark = marks_[i];
    if (mark.geometry)
      paint_edge_glyph(painter, QRectF(box.left(), 0, std::min(40.0, box.width()), 44),
                       *mark.geometry, mark.finish, theme().ink);
    if (mark.style >= 0) {
      painter.setPen(Qt::NoPen);
      painter.setBrush(theme().series(mark.style));
      painter.drawEllipse(QRectF(box.left() + 1, 6, 8, 8));
    }
    painter.setPen(theme().quiet);
    const QRectF text = mark.geometry ? QRectF(box.left(), 44, box.width(), 18)
                                      : QRectF(box.left() + 13, 0, box.width() - 13, 20);
    painter.drawText(
        text, Qt::AlignLeft | Qt::AlignVCenter,
        painter.fontMetrics().elidedText(mark.text, Qt::ElideRight, int(text.width())));
  }
}

FactorPanel::FactorPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : PlanPanel(workbench, model, tr("What is compared"), parent),
      factors_(new QVBoxLayout),
      held_(new QVBoxLayout),
      add_(new QComboBox) {
  factors_->setSpacing(10);
  held_->setSpacing(5);
  column_->addLayout(factors_);
  add_->setAccessibleName(tr("Add a factor"));
  column_->addWidget(add_);
  column_->addSpacing(6);
  column_->addWidget(heading(tr("What is held the same")));
  column_->addLayout(held_);
  column_->addStretch(1);
  connect(add_, &QComboBox::activated, this, &FactorPanel::add);
}

QStringList FactorPanel::suggestions(FactorKind kind) const {
  const Trial& trial = workbench().trial();
  QStringList names;
  if (kind == FactorKind::steel)
    for (const auto& steel : steels_of(trial)) names << QString::fromStdString(steel);
  if (kind == FactorKind::medium) {
    for (const auto& medium : trial.media) names << QString::fromStdString(medium.name);
    for (const auto& run : trial.runs)
      if (const QString name = QString::fromStdString(run.facts.medium);
          !name.isEmpty() && !names.contains(name))
        names << name;
  }
  if (kind == FactorKind::cut_mode)
    names << QStringLiteral("slice") << QStringLiteral("push") << QStringLiteral("chop");
  return names;
}

void FactorPanel::build(const TrialPlan& plan) {
  for (auto& row : rows_) row.widget->deleteLater();
  rows_.clear();
  for (auto& [kind, widget] : held_fields_) widget->parentWidget()->deleteLater();
  held_fields_.clear();
  for (std::size_t i = 0; i < plan.factors.size(); ++i) {
    Row row;
    row.widget = new QWidget;
    auto* box = new QVBoxLayout(row.widget);
    box->setContentsMargins(0, 0, 0, 0);
    box->setSpacing(3);
    auto* head = new QHBoxLayout;
    const bool own = plan.factors[i].kind == FactorKind::user;
    if (own) {
      row.own_name = new QLineEdit;
      row.own_name->setAccessibleName(tr("Name of the factor"));
      row.own_name->setFont(font_of(kBody, true));
      head->addWidget(row.own_name, 1);
      connect(row.own_name, &QLineEdit::editingFinished, this, [this, i, field = row.own_name] {
        const std::string name = field->text().trimmed().toStdString();
        if (name.empty() || kind_of_factor(name) != FactorKind::user) return refill();
        edit(tr("a factor's name"), [&](TrialPlan& p) {
          if (p.question && p.question->factor == p.factors[i].name) p.question->factor = name;
          p.factors[i].name = name;
        });
      });
    } else {
      row.name = new QLabel;
      row.name->setFont(font_of(kBody, true));
      head->addWidget(row.name, 1);
    }
    auto* out = new QPushButton(tr("Take out"));
    out->setObjectName(QStringLiteral("flat"));
    out->setAccessibleName(tr("Take out %1").arg(QString::fromStdString(plan.factors[i].name)));
    head->addWidget(out);
    box->addLayout(head);
    row.levels = new QLineEdit;
    row.levels->setAccessibleName(
        tr("Levels of %1, separated by commas").arg(QString::fromStdString(plan.factors[i].name)));
    row.levels->setPlaceholderText(tr("levels, separated by commas"));
    box->addWidget(row.levels);
    row.strip = new LevelStrip(workbench());
    box->addWidget(row.strip);
    factors_->addWidget(row.widget);
    connect(row.levels, &QLineEdit::editingFinished, this, [this, i] { take_levels(i); });
    connect(out, &QPushButton::clicked, this, [this, i] {
      edit(tr("a factor"), [&](TrialPlan& p) {
        const PlanFactor gone = p.factors[i];
        p.factors.erase(p.factors.begin() + std::ptrdiff_t(i));
        // What was a factor is held at its first level, so that nothing is left unsaid.
        if (!gone.levels.empty()) p.held.emplace_back(gone.name, gone.levels.front());
        std::erase_if(p.exclusions, [&](const Exclusion& e) {
          return std::any_of(e.when.begin(), e.when.end(),
                             [&](const auto& w) { return w.first == gone.name; });
        });
        std::erase_if(p.only, [&](const OnlyRule& r) {
          return r.factor == gone.name ||
                 std::any_of(r.when.begin(), r.when.end(),
                             [&](const auto& w) { return w.first == gone.name; });
        });
        std::erase_if(p.design.interactions, [&](const auto& pair) {
          return pair.first == gone.name || pair.second == gone.name;
        });
        if (p.question && p.question->factor == gone.name) p.question.reset();
      });
    });
    rows_.push_back(row);
  }
  add_->clear();
  add_->addItem(tr("Add a factor …"));
  for (const FactorKind kind : kAll) {
    if (plan.factor(key_of(kind))) continue;
    add_->addItem(name_for(kind, angles()), int(kind));
    if (kind == FactorKind::micro_width || kind == FactorKind::finishing_step) continue;
    auto* line = new QWidget;
    auto* row = new QHBoxLayout(line);
    row->setContentsMargins(0, 0, 0, 0);
    auto* label = quiet_label(name_for(kind, angles()));
    label->setFixedWidth(128);
    row->addWidget(label);
    auto* field = new QComboBox;
    field->setEditable(true);
    field->setInsertPolicy(QComboBox::NoInsert);
    field->addItems(suggestions(kind));
    field->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    field->setAccessibleName(tr("%1, held").arg(name_for(kind, angles())));
    field->lineEdit()->setPlaceholderText(tr("not said"));
    row->addWidget(field, 1);
    held_->addWidget(line);
    connect(field->lineEdit(), &QLineEdit::editingFinished, this,
            [this, kind, field] { take_held(kind, field->currentText()); });
    connect(field, &QComboBox::activated, this,
            [this, kind, field] { take_held(kind, field->currentText()); });
    held_fields_.emplace_back(kind, field);
  }
  add_->addItem(tr("a factor of my own"), int(FactorKind::user));
}

void FactorPanel::fill(const TrialPlan& plan) {
  QString shape = QString::number(int(angles()));
  for (const auto& factor : plan.factors)
    shape += '|' + QString::fromStdString(factor.kind == FactorKind::user ? "own" : factor.name);
  if (shape != built_) {
    built_ = shape;
    build(plan);
  }
  for (std::size_t i = 0; i < rows_.size(); ++i) {
    const auto& factor = plan.factors[i];
    if (rows_[i].name) rows_[i].name->setText(shown_factor(factor, angles()));
    if (rows_[i].own_name && !rows_[i].own_name->hasFocus())
      rows_[i].own_name->setText(QString::fromStdString(factor.name));
    const QString text = print_levels(factor.kind, factor.levels, angles());
    if (rows_[i].levels->text() != text) {
      rows_[i].levels->setText(text);
      rows_[i].levels->setCursorPosition(0);
    }
    rows_[i].levels->setToolTip(text);
    rows_[i].strip->show_levels(plan, i);
  }
  for (auto& [kind, widget] : held_fields_) {
    auto* field = static_cast<QComboBox*>(widget);
    const auto value = plan.value_of(Combination(plan.factors.size(), 0), key_of(kind));
    const QString text = value ? print_levels(kind, {*value}, angles()) : QString();
    if (field->currentText() != text) field->setCurrentText(text);
    field->setToolTip(text);
  }
  for (QWidget* part : {static_cast<QWidget*>(add_)}) part->setEnabled(model().can_edit());
  for (auto& row : rows_) row.widget->setEnabled(model().can_edit());
  for (auto& [kind, widget] : held_fields_) widget->setEnabled(model().can_edit());
}

void FactorPanel::take_levels(std::size_t factor) {
  if (filling() || !model().plan() || factor >= model().plan()->factors.size()) return;
  const FactorKind kind = model().plan()->factors[factor].kind;
  const auto levels = read_levels(kind, rows_[factor].levels->text(), angles());
  if (!levels) {
    emit workbench().refused(tr("The levels were not taken: %1. What was there before stands.")
                                 .arg(QString::fromStdString(levels.refusal().reason)));
    return refill();
  }
  edit(tr("the levels of %1").arg(QString::fromStdString(model().plan()->factors[factor].name)),
       [&](TrialPlan& p) {
         auto& f = p.factors[factor];
         if (f.levels == *levels) return;
         // A stated ratio stays with its level.
         std::vector<double> ratios;
         for (const auto& level : *levels) {
           const auto found = std::find(f.levels.begin(), f.levels.end(), level);
           ratios.push_back(found == f.levels.end() || f.life_ratio.empty()
                                ? 1.0
                                : f.life_ratio[std::size_t(found - f.levels.begin())]);
         }
         f.levels = *levels;
         f.life_ratio = f.life_ratio.empty() ? std::vector<double>{} : ratios;
         const auto gone = [&](const LevelMatch& when) {
           return std::any_of(when.begin(), when.end(), [&](const auto& w) {
             return w.first == f.name &&
                    std::find(f.levels.begin(), f.levels.end(), w.second) == f.levels.end();
           });
         };
         std::erase_if(p.exclusions, [&](const Exclusion& e) { return gone(e.when); });
         std::erase_if(p.only, [&](OnlyRule& r) {
           if (r.factor == f.name)
             std::erase_if(r.levels, [&](const FactorValue& level) {
               return std::find(f.levels.begin(), f.levels.end(), level) == f.levels.end();
             });
           return gone(r.when) || r.levels.empty();
         });
         if (p.question && p.question->factor == f.name &&
             gone({{f.name, p.question->from}, {f.name, p.question->to}}))
           p.question.reset();
       });
}

void FactorPanel::take_held(FactorKind kind, const QString& text) {
  if (filling()) return;
  const std::string key(key_of(kind));
  if (text.trimmed().isEmpty())
    return edit(tr("what is held"), [&](TrialPlan& p) {
      std::erase_if(p.held, [&](const auto& h) { return h.first == key; });
    });
  // A held word may hold a comma: it is one value.
  const auto value = is_numeric(kind) ? read_levels(kind, text, angles())
                                      : Checked<std::vector<FactorValue>>(
                                            std::vector<FactorValue>{text.trimmed().toStdString()});
  if (!value || value->size() != 1) {
    emit workbench().refused(
        tr("\"%1\" was not taken for %2: one value is held.").arg(text, name_for(kind, angles())));
    return refill();
  }
  edit(tr("what is held"), [&](TrialPlan& p) {
    for (auto& [held_key, held_value] : p.held)
      if (held_key == key) {
        held_value = value->front();
        return;
      }
    p.held.emplace_back(key, value->front());
  });
}

void FactorPanel::add(int choice) {
  if (choice <= 0) return;
  const auto kind = FactorKind(add_->itemData(choice).toInt());
  edit(tr("a factor"), [&](TrialPlan& p) {
    PlanFactor factor;
    factor.kind = kind;
    factor.name = std::string(key_of(kind));
    if (kind == FactorKind::user)
      for (int i = 1; factor.name == "user" || p.factor(factor.name); ++i)
        factor.name = tr("factor %1").arg(i).toStdString();
    factor.levels = usual_levels(kind, suggestions(kind));
    std::erase_if(p.held, [&](const auto& h) { return h.first == factor.name; });
    p.factors.push_back(factor);
  });
}

}  // namespace bq::ui
