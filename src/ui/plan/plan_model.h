#pragma once

#include <QObject>
#include <QTimer>
#include <atomic>
#include <memory>
#include <optional>
#include <vector>

#include "rehearsal/plan_rehearsal.h"
#include "ui/frame/latest_job.h"
#include "ui/frame/workbench.h"
#include "workflow/plan_study.h"
#include "workflow/trials_together.h"

namespace bq::ui {

/// What the Plan station works on: the project's plans and claims, the design and sheet of the
/// chosen plan, and its rehearsal. Everything slow runs on a worker; every change is in the project
/// within half a second, and at once on leaving.
class PlanModel : public QObject {
  Q_OBJECT
 public:
  explicit PlanModel(Workbench& workbench, QObject* parent = nullptr);
  ~PlanModel() override;

  [[nodiscard]] const PlanBook& book() const { return book_; }
  [[nodiscard]] int current() const { return current_; }
  /// nullptr where the project has no plan.
  [[nodiscard]] const PlanEntry* entry() const;
  [[nodiscard]] const TrialPlan* plan() const { return entry() ? &entry()->plan : nullptr; }
  /// Runs of it are on the bench: its factors stand, it can only be extended.
  [[nodiscard]] bool issued() const { return entry() && !entry()->issued.empty(); }
  [[nodiscard]] bool can_edit() const;
  void choose(int index);
  void add_plan();
  void copy_plan();
  void remove_plan();
  /// `what`: for undo, "the levels of the finish".
  void change(const TrialPlan& plan, const QString& what);
  void take_evidence();
  /// What another project's runs show, read and fitted on a worker; the plan keeps where it is
  /// from.
  void take_evidence_from(const QString& project);
  [[nodiscard]] bool reading_evidence() const { return evidence_job_.busy(); }
  void take_durable();
  /// Names what evidence was taken, until the plan changes.
  [[nodiscard]] const QString& evidence_note() const { return evidence_note_; }

  /// The newest finished study of the current plan; may be one change behind while busy().
  [[nodiscard]] const PlanStudy* study() const { return study_.get(); }
  [[nodiscard]] bool studying() const { return study_job_.busy(); }
  /// The study is of the plan as it stands.
  [[nodiscard]] bool up_to_date() const { return study_ && plan() && study_->plan == *plan(); }

  /// Puts the sheet's runs that are not there yet on the bench.
  void issue();
  void extend(int runs);

  void rehearse();  ///< from the start, or on from where it was stopped
  void ask_help();
  void stop();
  [[nodiscard]] bool rehearsing() const { return rehearsal_job_.busy(); }
  [[nodiscard]] const std::optional<Rehearsal>& rehearsal() const { return rehearsal_; }
  [[nodiscard]] const std::vector<RehearsedPoint>& curve() const { return curve_; }
  [[nodiscard]] const std::vector<Help>& helps() const { return helps_; }
  [[nodiscard]] const QString& rehearsal_refusal() const { return rehearsal_refusal_; }
  [[nodiscard]] long progress_done() const { return long(done_.load()); }
  [[nodiscard]] long progress_total() const { return total_; }
  [[nodiscard]] const QString& doing() const { return doing_; }
  static constexpr long kPlays = 2000, kCurvePlays = 300, kHelpPlays = 400;

  void set_claim(int index, const ClaimTest& test, const QString& what);
  int add_claim(const Claim& claim);
  void remove_claim(int index);

  void keep_now();

 signals:
  void book_changed();  ///< another plan, or a change of it
  void study_changed();
  void rehearsal_changed();
  void progressed();

 private:
  struct Played {
    std::optional<Rehearsal> rehearsal;
    std::vector<RehearsedPoint> curve;
    std::vector<Help> helps;
    bool is_help = false;
    QString refusal;
  };
  void reload();
  void study_now();
  void forget_rehearsal();
  void keep_soon(const QString& what);
  /// The book has one plan more or less: kept at once, another one in hand.
  void another_plan(const QString& what);
  void start_job(const QString& doing, long total, std::function<Played(const stats::Work&)> work);

  Workbench& workbench_;
  PlanBook book_;
  std::string known_text_;
  int current_ = -1;
  std::shared_ptr<const PlanStudy> study_;
  std::optional<Rehearsal> rehearsal_;
  std::vector<RehearsedPoint> curve_;
  std::vector<Help> helps_;
  QString rehearsal_refusal_, doing_, unkept_what_, evidence_note_;
  bool unkept_ = false;
  std::uint64_t generation_ = 0;  ///< counts changes that make a rehearsal stale
  std::atomic<std::size_t> done_{0};
  long total_ = 0;
  QTimer pause_, ticker_;
  LatestJob<std::shared_ptr<const PlanStudy>> study_job_;
  LatestJob<std::shared_ptr<Played>> rehearsal_job_;
  LatestJob<std::shared_ptr<Checked<FittedTrial>>> evidence_job_;
};

/// A level as the window's convention has it: "12°", "6 µm", "Marl Tough".
QString shown_level(FactorKind kind, const FactorValue& value, AngleConvention angles);
/// A combination, factor by factor: "finish 6 µm".
QStringList words_of_levels(const TrialPlan& plan, const Combination& levels,
                            AngleConvention angles);
/// A factor's name in words: "apex angle, ° inclusive".
QString shown_factor(const PlanFactor& factor, AngleConvention angles);

}  // namespace bq::ui
