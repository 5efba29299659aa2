// What the panel says of each question that a plan can be asked.
#include <QLabel>
#include <cmath>

#include "quantity/number.h"
#include "ui/parts/words.h"
#include "ui/plan/power_panel.h"

namespace bq::ui {
namespace {

QString times(double ratio) {
  return QString::fromStdString(print_number(ratio, 3)) + QStringLiteral("×");
}

}  // namespace

QString PowerPanel::chance_words() const {
  const PlanStudy& study = *model_.study();
  const PlanQuestion asked = study.plan.asked();
  const auto* factor = study.plan.factor(asked.factor);
  const AngleConvention angles = workbench_.display().angles;
  const QString what = factor ? tr("%1 instead of %2")
                                    .arg(shown_level(factor->kind, asked.to, angles),
                                         shown_level(factor->kind, asked.from, angles))
                              : QString();
  if (std::fabs(std::log(study.true_ratio)) < 1e-6)
    return tr("As stated, %1 changes nothing (1×): this is the share of false alarms, not a chance "
              "to see something.")
        .arg(what);
  const QString effect = study.true_ratio >= 1
                             ? tr("lasts %1 as long").arg(times(study.true_ratio))
                             : tr("lasts only %1 as long").arg(times(study.true_ratio));
  return tr("chance to see that %1 %2, if that is so.").arg(what, effect);
}

void PowerPanel::show_match(const Rehearsal* rehearsal) {
  const PlanStudy& study = *model_.study();
  const auto& match = study.match;
  if (!match) {
    figure_->hide();
    sentence_->setText(
        tr("This plan compares no two steels over angles or finishes: it cannot tell where they "
           "last alike. It can with the steel and an angle or a finish among its factors."));
    return;
  }
  const bool angle = match->kind == MatchKind::angle;
  const QString what = angle ? tr("angle") : tr("finish");
  if (!rehearsal || rehearsal->match_plays == 0) {
    figure_->hide();
    sentence_->setText(tr("How closely the %1 would be known at which %2 lasts as long as %3, the "
                          "rehearsal tells.")
                           .arg(what, text_of(match->to), text_of(match->from)));
    return;
  }
  const AngleConvention angles = workbench_.display().angles;
  const auto& width = rehearsal->median_match_width;
  figure_->setVisible(width.has_value());
  if (width) {
    const double shown = *width * (angle && angles == AngleConvention::inclusive ? 2 : 1);
    figure_->setText(text_of(print_number(shown, 2)) +
                     (angle ? QString(QChar(0xb0)) : QStringLiteral(" µm")));
  }
  const QString bounded =
      percent(double(rehearsal->match_bounded) / double(rehearsal->match_plays));
  sentence_->setText(
      (width ? tr("is the usual width of the interval%1 for the %2 at which %3 lasts as long as "
                  "%4. It comes out with both ends in %5 of %6 plays.")
             : tr("No play of %6 gave an interval with both ends%1 for the %2 at which %3 lasts as "
                  "long as %4 (%5)."))
          .arg(angle ? QStringLiteral(", ") + text_of(words_of(angles)) + QLatin1Char(',')
                     : QString(),
               what, text_of(match->to), text_of(match->from), bounded,
               QString::number(rehearsal->match_plays)));
}

void PowerPanel::show_best(const Rehearsal* rehearsal) {
  const std::size_t edges = model_.study()->edges;
  if (edges < 2) {
    figure_->hide();
    sentence_->setText(tr("This plan runs one edge only: there is nothing to choose from."));
    return;
  }
  if (!rehearsal || rehearsal->best_plays == 0) {
    figure_->hide();
    sentence_->setText(tr("How often the longest-lived of its %1 edges would be known, or one "
                          "within a tenth of it, the rehearsal tells.")
                           .arg(edges));
    return;
  }
  const stats::Share share = stats::share_of(rehearsal->best_right, rehearsal->best_plays);
  figure_->setText(percent(share.value));
  sentence_->setText(
      tr("chance to name the longest-lived of its %1 edges, or one within a tenth of "
         "it, if their lives are as stated. Rehearsed %2 times: %3 to %4.")
          .arg(edges)
          .arg(rehearsal->best_plays)
          .arg(percent(share.low), percent(share.high)));
}

QString PowerPanel::details() const {
  const PlanStudy& study = *model_.study();
  QStringList lines;
  const bool difference = study.plan.asked().ask == PlanAsk::difference;
  if (difference)
    lines << tr("Seen with %1: a ratio of %2 or more (formula). SD of ln life %3; %4 runs left for "
                "the spread.")
                 .arg(percent(study.plan.asked().wished_power), times(study.power->smallest_ratio),
                      QString::number(study.sd, 'f', 2))
                 .arg(study.power->degrees_of_freedom);
  if (study.any_level_power && difference)
    lines << tr("Any difference among all its levels: %1 (formula).")
                 .arg(percent(*study.any_level_power));
  if (const auto& r = model_.rehearsal(); r && !r->plays.empty()) {
    if (r->median_interval_factor > 0 && difference)
      lines << tr("The ratio will usually be known to within a factor of %1.")
                   .arg(QString::fromStdString(print_number(r->median_interval_factor, 3)));
    lines
        << tr("%1 of the runs will end before the threshold%2.")
               .arg(percent(r->right_censored_share),
                    r->left_censored_share > 0.0005
                        ? tr(", %1 are past it from the start").arg(percent(r->left_censored_share))
                        : QString());
    if (r->best_plays > 0 && study.plan.asked().ask == PlanAsk::best)
      lines << (r->median_enough_after
                    ? tr("Looked at after every run, enough were made before the sheet's end in %1 "
                         "of %2 plays, usually after %3 runs of %4; wrongly in %5.")
                          .arg(r->enough_plays)
                          .arg(r->best_plays)
                          .arg(int(std::lround(*r->median_enough_after)))
                          .arg(study.sheet.runs.size())
                          .arg(r->enough_wrong)
                    : tr("Looked at after every run, enough were made before the sheet's end in "
                         "none of %1 plays: it takes more runs than these.")
                          .arg(r->best_plays));
    if (r->best_plays > 0 && study.plan.asked().ask != PlanAsk::best)
      lines << tr("Which edge lasts longest: right, or within a tenth of it, in %1 of %2 plays.")
                   .arg(r->best_right)
                   .arg(r->best_plays);
    if (r->match_plays > 0 && study.plan.asked().ask != PlanAsk::match) {
      const bool angle = study.plan.factor("apex_angle");
      const double width =
          r->median_match_width.value_or(0) *
          (angle && workbench_.display().angles == AngleConvention::inclusive ? 2 : 1);
      lines << tr("The matching %1 between the steels comes out bounded in %2 of the plays%3.")
                   .arg(angle ? tr("angle") : tr("finish"),
                        percent(double(r->match_bounded) / double(r->match_plays)),
                        r->median_match_width
                            ? tr(", its interval usually %1%2 wide")
                                  .arg(QString::fromStdString(print_number(width, 2)),
                                       angle ? tr("° %1").arg(QString::fromUtf8(
                                                   name_of(workbench_.display().angles).data()))
                                             : tr(" µm"))
                            : QString());
    }
    if (r->wrong_way && difference)
      lines << tr("The opposite would be said in %1.")
                   .arg(percent(double(r->wrong_way) / double(r->plays.size())));
    if (r->undetermined)
      lines << tr("No answer could be worked out in %1.")
                   .arg(percent(double(r->undetermined) / double(r->plays.size())));
  }
  return lines.join(QLatin1Char(' '));
}

}  // namespace bq::ui
