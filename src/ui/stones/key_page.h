#pragma once

#include "ui/stones/stones_page.h"

class QComboBox;
class QLabel;
class QPushButton;

namespace bq::ui {

class KnockPanel;
class NumberEntry;
class StandingBars;

/// One key of the rule base as one question at a time, a drawing for each answer, and what follows
/// from the answers, step by step.
class KeyPage : public StonesPage {
  Q_OBJECT
 public:
  enum class Which { condition, causes };
  KeyPage(Workbench& workbench, StonesModel& model, Which which, QWidget* parent = nullptr);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] QString question() const;
  /// The place that is looked at, and answers that a picture of it gives. At another place than
  /// before it starts anew; at the same one what the tester has answered stays.
  void take_over(const Observations& seen, std::optional<double> at_mm);

 signals:
  /// Two pictures of this blade, before and after the knock, laid side by side in Lens.
  void pictures_wanted(std::int64_t before, std::int64_t after);
  void lens_wanted();  ///< to take or bring in one

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void lay_out();
  void listen();
  void reload() override;
  void show_state();
  void ask(std::size_t question);
  void answer(const std::string& id);
  void take_back();
  void keep_result();
  void forget();
  void set_place(std::optional<double> at_mm);
  [[nodiscard]] QWidget* place_row();
  void refresh_knock();
  void load_answers();  ///< as kept for this blade
  void keep_answers();  ///< every answer is in the project before the next question
  [[nodiscard]] std::string kept_key() const;  ///< of the answers at the place that is looked at
  [[nodiscard]] std::string kept_place_key() const;
  [[nodiscard]] const EvidenceKey& key() const {
    return which_ == Which::condition ? model().rules().condition : model().rules().causes;
  }

  Which which_;
  std::int64_t blade_id_ = 0;
  Observations given_;              ///< by the tester; wins over what is known
  std::vector<std::string> order_;  ///< of the questions answered by the tester
  std::map<std::string, KnownFact> facts_;
  EvidenceResult result_;
  std::optional<std::size_t> asked_;
  std::optional<double> at_mm_;  ///< the place that is looked at; empty: not said
  NumberEntry* place_;           ///< of the edge-condition key; null: causes belong to no place
  KnockPanel* knock_;            ///< shown while the knock test is asked for
  QLabel *ask_, *how_, *sentence_, *act_, *because_, *problems_;
  QWidget* answers_;
  QComboBox* other_;
  QPushButton *back_, *again_, *keep_;
  QComboBox* run_;
  StandingBars* standing_;
};

}  // namespace bq::ui
