#pragma once

#include <QObject>
#include <QString>
#include <optional>

class QTimer;

#include "trial/edge_map.h"
#include "ui/frame/workbench.h"
#include "workflow/section_study.h"

namespace bq::ui {

/// What the section on the bench is compared with.
enum class CompareWith { as_it_is, blank, other_blade };

/// The section being worked on for one blade: the plan as typed, the last section that could be
/// made from it, and every outcome. Computes at once (a section takes some 30 µs).
class SectionModel : public QObject {
  Q_OBJECT
 public:
  explicit SectionModel(Workbench& workbench, QObject* parent = nullptr);

  void choose_blade(int index);
  [[nodiscard]] int blade() const { return blade_; }
  [[nodiscard]] const EdgeNow& edge() const { return edge_; }
  [[nodiscard]] const SectionPlan& plan() const { return plan_; }
  /// The last study that could be made; empty when none could yet.
  [[nodiscard]] const SectionStudy* study() const { return study_ ? &*study_ : nullptr; }
  /// Why the plan as typed cannot be made; empty when it can. The grind meant, or -1.
  [[nodiscard]] const QString& refusal() const { return refusal_; }
  [[nodiscard]] int refused_grind() const { return refused_grind_; }
  [[nodiscard]] const SectionQuestions& questions() const { return questions_; }
  [[nodiscard]] const SteelCard* steel() const;
  /// The study of what it is compared with, on its own; empty when that cannot be made.
  [[nodiscard]] const SectionStudy* before_study() const { return before_ ? &*before_ : nullptr; }
  [[nodiscard]] CompareWith compare() const { return compare_; }
  [[nodiscard]] int other_blade() const { return other_blade_; }
  [[nodiscard]] QString before_name() const;
  /// True when the plan is not the blade's section as it is.
  [[nodiscard]] bool changed() const;

  /// Shows a plan; with `keep` it is also kept in the project (one step of undo).
  void set_plan(const SectionPlan& plan, bool keep);
  void set_questions(const SectionQuestions& questions);
  void set_compare(CompareWith with, int other_blade = -1);
  /// The plan becomes the blade's section: a dated line of its history.
  void adopt();
  /// Keeps at once what is in the hand.
  void keep_now();
  /// Back to the section as it is.
  void revert();

 signals:
  void blade_changed();
  void plan_changed();  ///< other grinds, order or numbers
  void study_changed();

 private:
  void reload();
  void study_now();
  [[nodiscard]] SectionPlan start_plan() const;
  [[nodiscard]] std::optional<SectionPlan> before_plan() const;
  [[nodiscard]] std::string draft_key() const;

  Workbench& workbench_;
  int blade_ = -1;
  std::int64_t blade_id_ = 0;
  EdgeNow edge_;
  SectionPlan plan_;
  SectionQuestions questions_;
  CompareWith compare_ = CompareWith::as_it_is;
  int other_blade_ = -1;
  std::optional<SectionStudy> study_, before_;
  QString refusal_;
  int refused_grind_ = -1;
  QTimer* pause_;  ///< what was typed or dragged is kept when the hand pauses, whatever comes after
};

}  // namespace bq::ui
