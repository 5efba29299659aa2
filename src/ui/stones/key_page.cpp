#include "ui/stones/key_page.h"

#include <QAbstractButton>
#include <QComboBox>
#include <QGridLayout>
#include <QJsonArray>
#include <QJsonDocument>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "quantity/number.h"
#include "ui/parts/number_field.h"
#include "ui/parts/words.h"
#include "ui/stones/key_parts.h"
#include "ui/stones/knock_panel.h"
#include "ui/theme/theme.h"

namespace bq::ui {
namespace {
QString text(const std::string& s) { return QString::fromStdString(s); }
QString listed(const std::vector<std::string>& items, const QString& sign) {
  QStringList out;
  for (const auto& item : items) out << sign + text(item);
  return out.join(QStringLiteral("\n"));
}
}  // namespace

KeyPage::KeyPage(Workbench& workbench, StonesModel& model, Which which, QWidget* parent)
    : StonesPage(
          workbench, model,
          which == Which::condition ? tr("What is on the edge?") : tr("Why is it not sharp?"),
          parent),
      which_(which),
      place_(which == Which::condition ? new NumberEntry : nullptr),
      knock_(new KnockPanel),
      ask_(new QLabel),
      how_(quiet_label({})),
      sentence_(new QLabel),
      act_(new QLabel),
      because_(quiet_label({})),
      problems_(new QLabel),
      answers_(new QWidget),
      other_(new QComboBox),
      back_(new QPushButton(tr("Back  ⌫"))),
      again_(new QPushButton(tr("Start again"))),
      keep_(new QPushButton(tr("Keep in the history"))),
      run_(new QComboBox),
      standing_(new StandingBars) {
  setFocusPolicy(Qt::StrongFocus);
  ask_->setWordWrap(true);
  ask_->setFont(font_of(kHeading, true));
  sentence_->setWordWrap(true);
  sentence_->setFont(font_of(kBody, true));
  act_->setWordWrap(true);
  problems_->setWordWrap(true);
  problems_->setObjectName(QStringLiteral("caution"));
  other_->setAccessibleName(tr("Answer another question"));
  run_->setAccessibleName(tr("Looked at in which run"));
  other_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  column_->addWidget(problems_);
  if (place_) column_->addWidget(place_row());
  column_->addWidget(sentence_);
  column_->addWidget(standing_);
  lay_out();
  listen();
}

void KeyPage::lay_out() {
  column_->addWidget(ask_);
  column_->addWidget(how_);
  column_->addWidget(knock_);
  column_->addWidget(answers_);
  auto* row = new QHBoxLayout;
  row->setSpacing(6);
  row->addWidget(back_);
  row->addWidget(again_);
  row->addWidget(other_, 1);
  column_->addLayout(row);
  column_->addWidget(act_);
  auto* keep = new QHBoxLayout;
  keep->addWidget(keep_);
  keep->addWidget(run_, 1);
  column_->addLayout(keep);
  column_->addWidget(because_);
  column_->addStretch(1);
  knock_->hide();
  connect(knock_, &KnockPanel::pictures_wanted, this, &KeyPage::pictures_wanted);
  connect(knock_, &KnockPanel::lens_wanted, this, &KeyPage::lens_wanted);
  keep_->setVisible(which_ == Which::condition);
  run_->setVisible(which_ == Which::condition);
  run_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
  for (QPushButton* button : {back_, again_, keep_}) button->setFocusPolicy(Qt::TabFocus);
}

void KeyPage::listen() {
  connect(back_, &QPushButton::clicked, this, &KeyPage::take_back);
  connect(again_, &QPushButton::clicked, this, [this] {
    forget();
    keep_answers();
  });
  connect(keep_, &QPushButton::clicked, this, &KeyPage::keep_result);
  connect(other_, &QComboBox::activated, this, [this](int index) {
    if (index > 0) ask(std::size_t(other_->itemData(index).toInt()));
  });
}

void KeyPage::forget() {
  given_.clear();
  order_.clear();
  asked_.reset();
}

QWidget* KeyPage::place_row() {
  auto* row = new QWidget;
  auto* line = new QHBoxLayout(row);
  line->setContentsMargins(0, 0, 0, 0);
  auto* where = quiet_label(tr("where you look, from the heel"));
  where->setWordWrap(false);
  line->addWidget(where);
  set_up_number(place_, -1, 2000, 0, 5, tr(" mm"), tr("Place that is looked at, from the heel"));
  place_->setSpecialValueText(tr("not said"));
  place_->setKeyboardTracking(false);
  place_->setFixedWidth(116);
  line->addWidget(place_);
  line->addStretch(1);
  connect(place_, &NumberEntry::valueChanged, this,
          [this](double at_mm) { set_place(at_mm < 0 ? std::nullopt : std::optional(at_mm)); });
  return row;
}

void KeyPage::refresh_knock() {
  const Blade* blade = model().blade_facts();
  const bool asked = asked_ && key().questions[*asked_].id == "knock";
  knock_->setVisible(asked && blade);
  if (asked && blade) knock_->offer(trial().micrographs, blade->name, at_mm_);
}

void KeyPage::set_place(std::optional<double> at_mm) {
  if (at_mm == at_mm_) return;
  // Another place is another look, with answers of its own.
  forget();
  at_mm_ = at_mm;
  if (blade_id_ == 0 || !workbench().writable()) return reload();
  const std::string where = at_mm ? print_number(*at_mm, 6) : "", place_key = kept_place_key();
  workbench().edit(
      [&](ProjectSession& session) { session.keep(place_key, where, "the place looked at"); });
}

QString KeyPage::sentence() const { return sentence_->text(); }
QString KeyPage::question() const { return ask_->text(); }

void KeyPage::reload() {
  const Blade* blade = model().blade_facts();
  if ((blade ? blade->id : 0) != blade_id_) {
    blade_id_ = blade ? blade->id : 0;
    at_mm_.reset();
    forget();
  }
  load_answers();
  facts_ = blade ? known_facts(trial(), std::size_t(model().blade()), *workbench().fits(), at_mm_)
                 : std::map<std::string, KnownFact>{};
  // What was on the edge in an earlier run says nothing of the edge now; the steel does, and what
  // was found there since it was made.
  if (which_ == Which::condition)
    std::erase_if(facts_, [](const auto& fact) {
      return fact.first != "behaviour" && fact.first != "seen there";
    });
  if (place_) {
    show_value(place_, at_mm_.value_or(-1));
    place_->setEnabled(blade != nullptr);
  }
  QStringList problems;
  for (const auto& problem : model().rules().problems) problems << text(problem);
  problems_->setText(
      tr("Some of your own rules were left out: %1").arg(problems.join(QStringLiteral("; "))));
  problems_->setVisible(!problems.isEmpty());
  run_->clear();
  run_->addItem(tr("not in a run"), QString());
  if (blade)
    for (const auto& run : trial().runs)
      if (run.facts.blade == blade->name)
        run_->addItem(tr("in run %1").arg(text(run.facts.name)), text(run.facts.name));
  show_state();
}

void KeyPage::show_state() {
  Observations all = answered_by(key(), facts_);
  for (const auto& [question, answer] : given_) all[question] = answer;
  const auto result = weigh(key(), all);
  if (!result) return sentence_->setText(text(result.refusal().reason));
  result_ = *result;
  // The complaint comes first: everything else hangs on it.
  std::optional<std::size_t> next = result_.next;
  if (which_ == Which::causes && !given_.contains("complaint")) next = 0;
  if (which_ == Which::condition && given_.empty() && !key().questions.empty()) next = 0;
  standing_->show_result(&key(), result_);
  standing_->setVisible(!given_.empty());
  sentence_->setText(given_.empty()
                         ? (which_ == Which::condition
                                ? tr("Answer what you can see; it says when it is sure.")
                                : tr("Tell it what troubles you; it looks up the rest itself."))
                         : text(result_.sentence));
  act_->clear();
  QString act;
  for (std::size_t i = 0; i < result_.ranked.size() && !given_.empty(); ++i) {
    const auto& ranked = result_.ranked[i];
    const auto& outcome = key().outcomes[ranked.outcome];
    if (which_ == Which::causes && i < 3 && ranked.probability > 0.05 && !outcome.confirm.empty())
      act += tr("%1: confirm it by this. %2\n").arg(text(outcome.name), text(outcome.confirm));
    if (result_.found == ranked.outcome)
      act += tr("Do\n%1\nDo not\n%2")
                 .arg(listed(outcome.act, QStringLiteral("• ")),
                      listed(outcome.avoid, QStringLiteral("• ")));
  }
  act_->setText(act.trimmed());
  act_->setVisible(!act.isEmpty());
  keep_->setEnabled(!given_.empty() && workbench().writable());
  keep_->setText(result_.found ? tr("Keep in the history") : tr("Keep as undecided"));
  QStringList because;
  for (const auto& step : result_.steps) {
    const auto q = std::find_if(key().questions.begin(), key().questions.end(),
                                [&](const auto& item) { return item.id == step.question; });
    const auto a = std::find_if(q->answers.begin(), q->answers.end(),
                                [&](const auto& item) { return item.id == step.answer; });
    const auto fact = given_.contains(step.question) ? facts_.end() : facts_.find(q->known);
    because << tr("%1 %2: %3. In front now: %4, %5.%6")
                   .arg(text(q->ask), text(a->text), text(step.sentence),
                        text(key().outcomes[step.leader].name), percent(step.probability),
                        fact == facts_.end()
                            ? QString()
                            : tr(" (Known from the %1; answer it yourself to overrule.)")
                                  .arg(text(fact->second.source)));
  }
  if (given_.empty()) {
    // Before the first answer: only what the project knows.
    because.clear();
    for (const auto& step : result_.steps) {
      const auto q = std::find_if(key().questions.begin(), key().questions.end(),
                                  [&](const auto& item) { return item.id == step.question; });
      if (const auto fact = facts_.find(q->known); fact != facts_.end())
        because << QStringLiteral("• ") + text(fact->second.source);
    }
    because_->setText(because.isEmpty()
                          ? QString()
                          : tr("Known already, to be overruled by your own answer:\n") +
                                because.join(QStringLiteral("\n")));
  } else {
    because_->setText(because.join(QStringLiteral("\n\n")));
  }
  back_->setEnabled(!order_.empty());
  again_->setEnabled(!order_.empty());
  other_->clear();
  other_->addItem(tr("Answer another …"));
  for (std::size_t i = 0; i < key().questions.size(); ++i) {
    const auto& q = key().questions[i];
    other_->addItem((all.contains(q.id) ? tr("✓ ") : QString()) + text(q.ask), int(i));
  }
  if (asked_ && !given_.contains(key().questions[*asked_].id))
    ask(*asked_);
  else if (next && !(result_.found && which_ == Which::condition))
    ask(*next);
  else {
    asked_.reset();
    ask_->clear();
    how_->clear();
    ask_->hide();
    how_->hide();
    answers_->hide();
    refresh_knock();
  }
}

void KeyPage::ask(std::size_t index) {
  asked_ = index;
  const EvidenceQuestion& q = key().questions[index];
  ask_->setText(text(q.ask));
  how_->setText(text(q.how));
  ask_->show();
  how_->setVisible(!q.how.empty());
  refresh_knock();
  answers_->show();
  qDeleteAll(answers_->findChildren<QWidget*>(Qt::FindDirectChildrenOnly));
  delete answers_->layout();
  auto* grid = new QGridLayout(answers_);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(6);
  const bool drawn = std::any_of(q.answers.begin(), q.answers.end(),
                                 [](const EvidenceAnswer& a) { return !a.draw.empty(); });
  const int columns = drawn ? 3 : 2;
  for (int i = 0; i < int(q.answers.size()); ++i) {
    const EvidenceAnswer& a = q.answers[std::size_t(i)];
    auto* button = new AnswerButton(a, i + 1);
    connect(button, &QAbstractButton::clicked, this, [this, id = a.id] { answer(id); });
    grid->addWidget(button, i / columns, i % columns);
  }
}

void KeyPage::answer(const std::string& id) {
  if (!asked_) return;
  const std::string question = key().questions[*asked_].id;
  given_[question] = id;
  std::erase(order_, question);
  order_.push_back(question);
  asked_.reset();
  // The buttons go while one of them is being handled: after it.
  QMetaObject::invokeMethod(this, [this] { keep_answers(); }, Qt::QueuedConnection);
  setFocus();
}

void KeyPage::take_over(const Observations& seen, std::optional<double> at_mm) {
  set_place(at_mm);
  for (const auto& [question, answer] : seen) {
    const auto q = std::find_if(key().questions.begin(), key().questions.end(),
                                [&, id = question](const auto& item) { return item.id == id; });
    if (q == key().questions.end() || given_.contains(question)) continue;
    if (std::none_of(q->answers.begin(), q->answers.end(),
                     [&, id = answer](const auto& item) { return item.id == id; }))
      continue;
    given_[question] = answer;
    order_.push_back(question);
  }
  asked_.reset();
  keep_answers();
}

void KeyPage::take_back() {
  if (order_.empty()) return;
  given_.erase(order_.back());
  order_.pop_back();
  asked_.reset();
  keep_answers();
}

std::string KeyPage::kept_key() const {
  return (which_ == Which::condition ? "edge-key:" : "cause-key:") + std::to_string(blade_id_) +
         (at_mm_ ? "@" + print_number(*at_mm_, 6) : "");
}

std::string KeyPage::kept_place_key() const { return "edge-place:" + std::to_string(blade_id_); }

void KeyPage::load_answers() {
  // Without a blade, or in a project that cannot be written, they live as long as the page.
  if (blade_id_ == 0 || !workbench().writable()) return;
  given_.clear();
  order_.clear();
  at_mm_.reset();
  if (which_ == Which::condition)
    if (const auto place = parse_number(workbench().session().kept(kept_place_key())))
      at_mm_ = *place;
  for (const auto& pair :
       QJsonDocument::fromJson(QByteArray::fromStdString(workbench().session().kept(kept_key())))
           .array()) {
    const std::string question = pair.toArray().at(0).toString().toStdString(),
                      answer = pair.toArray().at(1).toString().toStdString();
    if (!weigh(key(), {{question, answer}})) continue;  // of rules that are no longer there
    given_[question] = answer;
    order_.push_back(question);
  }
}

void KeyPage::keep_answers() {
  if (blade_id_ == 0 || !workbench().writable()) return show_state();
  QJsonArray pairs;
  for (const auto& question : order_)
    pairs.append(QJsonArray{text(question), text(given_[question])});
  const std::string json = order_.empty()
                               ? std::string()
                               : QJsonDocument(pairs).toJson(QJsonDocument::Compact).toStdString();
  const std::string key = kept_key();
  // The project's change brings the page up to date.
  workbench().edit([&](ProjectSession& session) { session.keep(key, json, "an answer to a key"); });
}

void KeyPage::keep_result() {
  const Blade* blade = model().blade_facts();
  if (!blade || given_.empty()) return;
  ConditionRecord record;
  if (result_.found) {
    record.condition = key().outcomes[*result_.found].id;
    record.name = key().outcomes[*result_.found].name;
    record.probability = result_.ranked.front().probability;
  } else {
    record.note = result_.sentence;
  }
  record.evidence = given_;
  record.at_mm = at_mm_;
  if (given_.contains("knock"))
    record.note += (record.note.empty() ? "" : " ") + knock_->note().toStdString();
  record.run = run_->currentData().toString().toStdString();
  workbench().edit([&](ProjectSession& session) {
    session.add_records(std::size_t(model().blade()), {record}, "a look at the edge");
  });
}

void KeyPage::keyPressEvent(QKeyEvent* event) {
  const int number = event->key() - Qt::Key_1;
  if (event->isAutoRepeat()) return;
  if (event->key() == Qt::Key_Backspace)
    take_back();
  else if (asked_ && number >= 0 && number < int(key().questions[*asked_].answers.size()))
    answer(key().questions[*asked_].answers[std::size_t(number)].id);
  else
    QWidget::keyPressEvent(event);
}

}  // namespace bq::ui
