#include "ui/frame/enough_line.h"

#include <algorithm>

#include "ui/parts/words.h"
#include "workflow/answers.h"
#include "workflow/limits.h"
#include "workflow/section_study.h"
#include "workflow/verdict.h"

namespace bq::ui {

EnoughLine::EnoughLine(Workbench& workbench, QWidget* parent)
    : QLabel(parent), workbench_(workbench) {
  setWordWrap(true);
  setTextFormat(Qt::PlainText);
  setTextInteractionFlags(Qt::TextSelectableByMouse);
  setAccessibleName(tr("How sure the choice of an edge is"));
  job_.belongs_to(workbench_.of_this_project());
  for (auto signal : {&Workbench::opened, &Workbench::fits_changed, &Workbench::threshold_changed,
                      &Workbench::display_changed})
    connect(&workbench_, signal, this, &EnoughLine::refresh);
  connect(&workbench_, &Workbench::changed, this, &EnoughLine::refresh);
}

bool EnoughLine::all_settled(const QWidget& in) {
  const auto lines = in.findChildren<EnoughLine*>();
  return std::all_of(lines.begin(), lines.end(), [](auto* line) { return line->settled(); });
}

void EnoughLine::set_wanted(bool wanted) {
  if (wanted == wanted_) return;
  wanted_ = wanted;
  setVisible(wanted);  // an empty line takes room from the others
  refresh();
}

void EnoughLine::showEvent(QShowEvent* event) {
  QLabel::showEvent(event);
  if (stale_) refresh();
}

void EnoughLine::refresh() {
  if (!wanted_) {
    stale_ = true;
    clear();
    return;
  }
  stale_ = !isVisible();
  const auto threshold = workbench_.threshold();
  if (stale_ || workbench_.fitting()) return;
  if (!threshold || !workbench_.has_project()) {
    clear();
    return;
  }
  const auto& session = workbench_.session();
  const auto kept = parse_limits(session.kept(kVerdictKey));
  const LimitsFile wanted = kept ? *kept : LimitsFile{};
  const VerdictQuestion question{*threshold, wanted.limits, wanted.wishes, wanted.stones,
                                 workbench_.display().angles};
  job_.ask(
      [facts = std::make_shared<Trial>(for_answers(workbench_.trial())), fits = workbench_.fits(),
       question, sessions = session.bench_sessions(),
       section = session.kept(kSectionQuestionsKey)](const std::stop_token&) {
        const Verdict found = find_verdict({facts.get(), fits.get(), sessions, section}, question);
        const auto& answer = found.recommendation;
        return std::make_shared<QString>(
            answer && answer->enough ? text_of(answer->enough->sentence) : QString());
      },
      [this](const std::shared_ptr<QString>& sentence) { setText(*sentence); });
}

}  // namespace bq::ui
