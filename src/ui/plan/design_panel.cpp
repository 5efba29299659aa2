#include "ui/plan/design_panel.h"

#include "ui/parts/layouts.h"

#include <QCheckBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>

#include "quantity/number.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

constexpr std::array<BlockBy, 5> kBlocks{BlockBy::none, BlockBy::day, BlockBy::medium_batch,
                                         BlockBy::by_operator, BlockBy::blade};

/// A level of a factor as item data: factor index * 10000 + level index.
int packed(std::size_t factor, std::size_t level) { return int(factor * 10000 + level); }

}  // namespace

DesignPanel::DesignPanel(Workbench& workbench, PlanModel& model, QWidget* parent)
    : PlanPanel(workbench, model, tr("Which runs, in which order"), parent),
      kind_(new QComboBox),
      block_(new QComboBox),
      runs_line_(new QWidget),
      interactions_(new QVBoxLayout),
      operators_(new QLineEdit),
      blind_(new QCheckBox(tr("blind codes on the sheet"))),
      rules_(new QListWidget),
      when_(new QComboBox),
      then_(new QComboBox),
      only_(new QLineEdit),
      add_rule_(new QPushButton(tr("Add"))),
      remove_rule_(new QPushButton(tr("Take out"))),
      durable_(new QPushButton(tr("Least angle that lasts, from Section"))),
      blades_(new QTableWidget(0, 3)),
      body_(new QWidget) {
  auto* all = new QVBoxLayout(body_);
  all->setContentsMargins(0, 0, 0, 0);
  all->setSpacing(8);
  column_->addWidget(body_);
  column_->addStretch(1);
  lay_out_combinations(*all);
  lay_out_order(*all);
  lay_out_rules(*all);
  lay_out_blades(*all);
  listen();
}

void DesignPanel::lay_out_combinations(QVBoxLayout& all) {
  kind_->addItems(
      {tr("all combinations"), tr("a chosen part of them"), tr("the runs that tell most")});
  kind_->setAccessibleName(tr("Combinations"));
  all.addWidget(kind_);
  auto* runs_grid = two_columns();
  runs_line_->setLayout(runs_grid);
  whole(
      runs_grid, 0, tr("runs to choose"), 2, 2000, {},
      [](const TrialPlan& p) { return std::max(2, p.design.runs); },
      [](TrialPlan& p, int value) { p.design.runs = value; });
  all.addWidget(runs_line_);
  auto* grid = two_columns();
  whole(
      grid, 0, tr("each one"), 1, 100, tr(" ×"),
      [](const TrialPlan& p) { return p.design.replicates; },
      [](TrialPlan& p, int value) { p.design.replicates = value; });
  all.addLayout(grid);
  all.addWidget(quiet_label(tr("Also to be told: do these two depend on each other?")));
  interactions_->setSpacing(2);
  all.addLayout(interactions_);
}

void DesignPanel::lay_out_order(QVBoxLayout& all) {
  all.addWidget(heading(tr("Order")));
  auto* order = two_columns();
  for (const BlockBy by : kBlocks)
    block_->addItem(by == BlockBy::none ? tr("no blocks") : tr("by %1").arg(shown(by)));
  block_->setAccessibleName(tr("Blocks"));
  order->addWidget(quiet_label(tr("blocks")), 0, 0);
  order->addWidget(block_, 0, 1);
  auto* each = whole(
      order, 1, tr("runs in a block"), 0, 1000, {},
      [](const TrialPlan& p) { return p.blocks.runs_each; },
      [](TrialPlan& p, int value) { p.blocks.runs_each = value; });
  each->setSpecialValueText(tr("as they fit"));
  operators_->setAccessibleName(tr("Operators, separated by commas"));
  operators_->setPlaceholderText(tr("operator A, operator B"));
  order->addWidget(quiet_label(tr("operators")), 2, 0);
  order->addWidget(operators_, 2, 1);
  whole(
      order, 3, tr("seed of the order"), 0, 2000000000, {},
      [](const TrialPlan& p) { return int(std::min<std::uint64_t>(p.seed, 2000000000)); },
      [](TrialPlan& p, int value) { p.seed = std::uint64_t(value); });
  all.addLayout(order);
  all.addWidget(blind_);
}

void DesignPanel::lay_out_rules(QVBoxLayout& all) {
  all.addWidget(heading(tr("Rules")));
  rules_->setAccessibleName(tr("Rules"));
  rules_->setFixedHeight(84);
  rules_->setWordWrap(true);
  all.addWidget(rules_);
  remove_rule_->setObjectName(QStringLiteral("flat"));
  all.addWidget(remove_rule_, 0, Qt::AlignLeft);
  auto* rule = new QGridLayout;
  rule->setHorizontalSpacing(6);
  for (QComboBox* box : {when_, then_})
    box->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  when_->setAccessibleName(tr("Where this level is"));
  then_->setAccessibleName(tr("Only these levels of"));
  only_->setAccessibleName(tr("The levels that are allowed, separated by commas"));
  only_->setPlaceholderText(tr("levels"));
  rule->addWidget(quiet_label(tr("with")), 0, 0);
  rule->addWidget(when_, 0, 1, 1, 2);
  rule->addWidget(quiet_label(tr("only")), 1, 0);
  rule->addWidget(then_, 1, 1, 1, 2);
  rule->addWidget(only_, 2, 1);
  rule->addWidget(add_rule_, 2, 2);
  rule->setColumnStretch(1, 1);
  all.addLayout(rule);
  all.addWidget(durable_);
}

void DesignPanel::lay_out_blades(QVBoxLayout& all) {
  all.addWidget(heading(tr("Blades")));
  blades_->setHorizontalHeaderLabels({tr("blade"), tr("steel"), tr("regrinds")});
  blades_->verticalHeader()->hide();
  blades_->setShowGrid(false);
  blades_->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Stretch);
  blades_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
  blades_->horizontalHeader()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
  blades_->setMinimumHeight(180);
  blades_->setAccessibleName(tr("Blades of the plan, and how often each may be reground"));
  all.addWidget(blades_);
  all.addWidget(quiet_label(
      tr("Ticked blades take part; \"regrinds\" is how often each may be sharpened again after its "
         "first run. With none ticked, one of each steel is assumed, without a limit.")));
}

void DesignPanel::listen() {
  connect(kind_, &QComboBox::activated, this, [this](int index) {
    edit(tr("which combinations"), [&](TrialPlan& p) {
      p.design.kind = DesignKind(index);
      if (p.design.kind != DesignKind::full && p.design.runs < 2)
        p.design.runs = std::max(4, int(combination_count(p) / 2));
    });
  });
  connect(block_, &QComboBox::activated, this, [this](int index) {
    edit(tr("the blocks"), [&](TrialPlan& p) { p.blocks.by = kBlocks[std::size_t(index)]; });
  });
  connect(operators_, &QLineEdit::editingFinished, this, [this] {
    const auto names = split_list(operators_->text().toStdString());
    if (!names) {
      emit this->workbench().refused(tr("The operators were not taken: %1.")
                                         .arg(QString::fromStdString(names.refusal().reason)));
      return refill();
    }
    edit(tr("the operators"), [&](TrialPlan& p) { p.operators = *names; });
  });
  connect(blind_, &QCheckBox::toggled, this,
          [this](bool on) { edit(tr("blind codes"), [&](TrialPlan& p) { p.blind = on; }); });
  connect(add_rule_, &QPushButton::clicked, this, &DesignPanel::add_rule);
  connect(only_, &QLineEdit::returnPressed, this, &DesignPanel::add_rule);
  connect(remove_rule_, &QPushButton::clicked, this, &DesignPanel::remove_rule);
  connect(rules_, &QListWidget::currentRowChanged, this,
          [this](int row) { remove_rule_->setEnabled(row >= 0); });
  connect(durable_, &QPushButton::clicked, this, [this] { this->model().take_durable(); });
  connect(blades_, &QTableWidget::cellChanged, this, [this](int row, int) { take_blade(row); });
}

void DesignPanel::fill(const TrialPlan& plan) {
  body_->setEnabled(model().can_edit());
  kind_->setCurrentIndex(int(plan.design.kind));
  runs_line_->setVisible(plan.design.kind != DesignKind::full);
  block_->setCurrentIndex(
      int(std::find(kBlocks.begin(), kBlocks.end(), plan.blocks.by) - kBlocks.begin()));
  QStringList names;
  for (const auto& name : plan.operators) names << QString::fromStdString(name);
  if (!operators_->hasFocus()) operators_->setText(names.join(QStringLiteral(", ")));
  blind_->setChecked(plan.blind);
  fill_interactions(plan);
  fill_rules(plan);
  fill_blades(plan);
}

void DesignPanel::fill_interactions(const TrialPlan& plan) {
  empty(interactions_);
  for (std::size_t i = 0; i < plan.factors.size() && plan.factors.size() <= 6; ++i)
    for (std::size_t j = i + 1; j < plan.factors.size(); ++j) {
      const std::pair<std::string, std::string> pair{plan.factors[i].name, plan.factors[j].name};
      auto* box = new QCheckBox(tr("%1 with %2")
                                    .arg(shown_factor(plan.factors[i], angles()),
                                         shown_factor(plan.factors[j], angles())));
      box->setChecked(std::find(plan.design.interactions.begin(), plan.design.interactions.end(),
                                pair) != plan.design.interactions.end());
      connect(box, &QCheckBox::toggled, this, [this, pair](bool on) {
        edit(tr("an interaction"), [&](TrialPlan& p) {
          std::erase(p.design.interactions, pair);
          if (on) p.design.interactions.push_back(pair);
        });
      });
      interactions_->addWidget(box);
    }
}

void DesignPanel::fill_rules(const TrialPlan& plan) {
  rules_->clear();
  const auto level = [&](const std::string& factor, const FactorValue& value) {
    return shown_level(kind_of_factor(factor), value, angles());
  };
  for (const auto& rule : plan.only) {
    QStringList levels, when;
    for (const auto& value : rule.levels) levels << level(rule.factor, value);
    for (const auto& [factor, value] : rule.when) when << level(factor, value);
    rules_->addItem(
        tr("%1: only %2").arg(when.join(QStringLiteral(", ")), levels.join(QStringLiteral(", "))));
  }
  for (const auto& limit : plan.durable)
    rules_->addItem(
        tr("%1: at least %2 %3 (estimate)")
            .arg(limit.steel.empty() ? tr("every steel") : QString::fromStdString(limit.steel),
                 shown_level(FactorKind::apex_angle, limit.least_apex_deg, angles()),
                 text_of(words_of(angles()))));
  for (const auto& exclusion : plan.exclusions) {
    QStringList when;
    for (const auto& [factor, value] : exclusion.when) when << level(factor, value);
    rules_->addItem(tr("not %1").arg(when.join(QStringLiteral(", "))));
  }
  for (int i = 0; i < rules_->count(); ++i) rules_->item(i)->setToolTip(rules_->item(i)->text());
  remove_rule_->setEnabled(false);
  QString shape = QString::number(int(angles()));
  for (const auto& f : plan.factors)
    shape += QString::fromStdString(f.name) + print_levels(f.kind, f.levels, angles());
  if (shape == built_) return;
  built_ = shape;
  when_->clear();
  then_->clear();
  for (std::size_t f = 0; f < plan.factors.size(); ++f) {
    for (std::size_t l = 0; l < plan.factors[f].levels.size(); ++l)
      when_->addItem(shown_level(plan.factors[f].kind, plan.factors[f].levels[l], angles()),
                     packed(f, l));
    then_->addItem(shown_factor(plan.factors[f], angles()), int(f));
  }
  if (then_->count() > 1) then_->setCurrentIndex(1);
}

void DesignPanel::fill_blades(const TrialPlan& plan) {
  std::vector<std::pair<std::string, std::string>> known;
  for (const auto& blade : workbench().trial().blades)
    if (!blade.retired) known.emplace_back(blade.name, blade.steel);
  for (const auto& blade : plan.blades)
    if (std::none_of(known.begin(), known.end(),
                     [&](const auto& k) { return k.first == blade.name; }))
      known.emplace_back(blade.name, blade.steel);
  blades_->setRowCount(int(known.size()));
  for (int row = 0; row < int(known.size()); ++row) {
    const auto& [name, steel] = known[std::size_t(row)];
    const auto used = std::find_if(plan.blades.begin(), plan.blades.end(),
                                   [&, &n = name](const PlanBlade& b) { return b.name == n; });
    const QStringList cells{
        QString::fromStdString(name), QString::fromStdString(steel),
        used == plan.blades.end() ? QString() : QString::number(used->resharpenings)};
    for (int column = 0; column < 3; ++column) {
      auto* item = new QTableWidgetItem(cells[column]);
      item->setToolTip(cells[column]);
      item->setFlags(column == 0
                         ? Qt::ItemIsEnabled | Qt::ItemIsUserCheckable | Qt::ItemIsSelectable
                     : column == 2 ? Qt::ItemIsEnabled | Qt::ItemIsEditable | Qt::ItemIsSelectable
                                   : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      if (column == 0) item->setCheckState(used == plan.blades.end() ? Qt::Unchecked : Qt::Checked);
      if (column == 2) item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
      blades_->setItem(row, column, item);
    }
  }
}

void DesignPanel::add_rule() {
  if (!model().plan() || when_->currentIndex() < 0 || then_->currentIndex() < 0) return;
  const TrialPlan& now = *model().plan();
  const int at = when_->currentData().toInt();
  const std::size_t factor = std::size_t(at / 10000), level = std::size_t(at % 10000),
                    then = std::size_t(then_->currentData().toInt());
  if (factor >= now.factors.size() || level >= now.factors[factor].levels.size() ||
      then >= now.factors.size())
    return;
  const auto levels = read_levels(now.factors[then].kind, only_->text(), angles());
  const auto refuse = [this](const QString& why) {
    emit workbench().refused(tr("The rule was not taken: %1.").arg(why));
  };
  if (!levels) return refuse(QString::fromStdString(levels.refusal().reason));
  if (levels->empty()) return refuse(tr("say which levels are allowed"));
  if (factor == then) return refuse(tr("a factor cannot limit itself; take the level out instead"));
  for (const auto& value : *levels)
    if (std::find(now.factors[then].levels.begin(), now.factors[then].levels.end(), value) ==
        now.factors[then].levels.end())
      return refuse(tr("%1 is not among its levels")
                        .arg(shown_level(now.factors[then].kind, value, angles())));
  edit(tr("a rule"), [&](TrialPlan& p) {
    p.only.push_back({{{p.factors[factor].name, p.factors[factor].levels[level]}},
                      p.factors[then].name,
                      *levels});
  });
  only_->clear();
}

void DesignPanel::remove_rule() {
  int row = rules_->currentRow();
  edit(tr("taking out a rule"), [&](TrialPlan& p) {
    const auto take = [&](auto& list) {
      if (row >= 0 && row < int(list.size())) {
        list.erase(list.begin() + row);
        row = -1;
      } else if (row >= 0)
        row -= int(list.size());
    };
    take(p.only);
    take(p.durable);
    take(p.exclusions);
  });
}

void DesignPanel::take_blade(int row) {
  if (filling()) return;
  const std::string name = blades_->item(row, 0)->text().toStdString(),
                    steel = blades_->item(row, 1)->text().toStdString();
  const bool on = blades_->item(row, 0)->checkState() == Qt::Checked;
  const QString typed = blades_->item(row, 2)->text().trimmed();
  bool good = true;
  const int regrinds = typed.isEmpty() ? 3 : typed.toInt(&good);
  if (!good || regrinds < 0 || regrinds > 1000) {
    emit workbench().refused(tr("\"%1\" is no number of regrinds: 0 to 1000.").arg(typed));
    QMetaObject::invokeMethod(this, [this] { refill(); }, Qt::QueuedConnection);
    return;
  }
  // The table is filled anew while it is still busy with this cell: after it.
  QMetaObject::invokeMethod(
      this,
      [this, name, steel, on, regrinds, typed] {
        edit(tr("the blades of the plan"), [&](TrialPlan& p) {
          const auto found = std::find_if(p.blades.begin(), p.blades.end(),
                                          [&](const PlanBlade& b) { return b.name == name; });
          if (!on && found != p.blades.end())
            p.blades.erase(found);
          else if (on && found != p.blades.end())
            found->resharpenings = regrinds;
          else if (on)
            p.blades.push_back({name, steel, regrinds});
        });
        refill();
      },
      Qt::QueuedConnection);
}

}  // namespace bq::ui
