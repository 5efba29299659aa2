#pragma once

#include <QDialog>
#include <optional>

#include "trial/trial.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QLabel;
class QLineEdit;

namespace bq::ui {

class EdgeGlyph;
class Workbench;

/// Adds a run or edits one: blade, edge on each side, micro-bevel, finish, medium, checkpoints. The
/// glyph follows what is typed; a field that cannot be read says why beside it.
class RunEditor : public QDialog {
  Q_OBJECT
 public:
  RunEditor(Workbench& workbench, std::optional<std::size_t> index, const QString& blade,
            QWidget* parent);

 private:
  /// Blades in use and the run's own, the media there are, the ways of cutting.
  void offer_choices(const std::string& own_blade);
  void lay_out();
  /// The next free number, and the last run's medium and checkpoints: most runs repeat them.
  [[nodiscard]] Run next_run(const std::string& blade) const;
  void read();
  void keep();
  void fill(const Run& run);
  [[nodiscard]] QStringList edge_texts() const;
  std::optional<double> angle(QLineEdit* field, QString& why) const;
  Workbench& workbench_;
  std::optional<std::size_t> index_;
  QLineEdit *name_, *edge_left_, *edge_right_, *micro_left_, *micro_right_, *finish_, *checkpoints_,
      *block_;
  QComboBox *blade_, *medium_, *mode_;
  NumberEntry* each_;
  QLabel* refusal_;
  EdgeGlyph* glyph_;
  std::optional<Run> read_;     ///< what the fields say, when all can be read
  AngleConvention convention_;  ///< the fields' own: as the window showed angles when it was opened
  RunFacts before_;             ///< what the fields were filled from
  QStringList edge_before_;
  QString finish_text_before_;
};

}  // namespace bq::ui
