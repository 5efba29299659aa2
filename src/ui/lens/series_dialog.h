#pragma once

#include <QDialog>

#include "ui/lens/lens_model.h"
#include "workflow/measure_series.h"

class QLabel;
class QProgressBar;
class QPushButton;
class QTableWidget;

namespace bq::ui {

class PictureList;

/// Measures many pictures as one of them was measured. The pictures are read and measured one
/// after another on a worker; nothing is kept before it is looked at, and then as one step.
class SeriesDialog : public QDialog {
  Q_OBJECT
 public:
  explicit SeriesDialog(LensModel& model, QWidget* parent = nullptr);

 private:
  void lay_out();
  /// What a worker gives back of one picture.
  struct Step {
    SeriesPicture found;
    Checked<MeasureTemplate> wanted = Refusal{"not made"};
    QString fault;
  };
  void start();
  void next();
  void take(std::int64_t id, const Step& step);
  void show_state();
  void keep();

  LensModel& model_;
  std::int64_t like_ = 0;
  PictureList* list_;
  QTableWidget* table_;
  QProgressBar* progress_;
  QLabel* says_;
  QPushButton *run_, *keep_;
  std::optional<MeasureTemplate> template_;
  std::shared_ptr<const Trial> trial_;  ///< as it was when the series began
  std::vector<std::int64_t> waiting_;
  std::vector<SeriesPicture> found_;
  int asked_ = 0, taken_ = 0, refused_ = 0, known_ = 0;
  LatestJob<std::shared_ptr<Step>> job_;
};

}  // namespace bq::ui
