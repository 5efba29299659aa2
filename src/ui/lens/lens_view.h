#pragma once

#include <QWidget>

#include "pixels/live_source.h"
#include "ui/lens/lens_model.h"

class QLabel;
class QPushButton;
class QStackedWidget;

namespace bq::ui {

class LensCanvas;
class LivePage;
class MeasurePanel;
class PictureChoice;
class PlaceStrip;
class StoneTruthPage;

/// Station Lens: the picture fills; measures, place, comparison and suggestions at its right; the
/// same place over the cuts below. A second page says what the stones really do.
class LensView : public QWidget {
  Q_OBJECT
 public:
  enum class Page { picture, live, stones };
  enum class Panel { measure, place, overlay, damage };
  explicit LensView(Workbench& workbench, QWidget* parent = nullptr);
  [[nodiscard]] LensModel& model() { return *model_; }
  [[nodiscard]] LensCanvas* canvas() const { return canvas_; }
  [[nodiscard]] MeasurePanel* measure() const { return measure_; }
  [[nodiscard]] PlaceStrip* strip() const { return strip_; }
  [[nodiscard]] LivePage* live() const { return live_; }
  [[nodiscard]] StoneTruthPage* stones() const { return stones_; }
  void open_page(Page page);
  void open_panel(Panel panel);
  /// A picture laid over an earlier one of the same place.
  void compare(std::int64_t earlier, std::int64_t later);
  /// Picture with measures and scale bar: .png or .svg by the ending. False when it could not be
  /// written (refused() says so).
  bool export_to(const QString& path);
  /// A button that has the stand-in microscope take a picture into `folder`, which is watched from
  /// then on.
  void offer_stand_in(const QString& folder, const std::function<void()>& take);
  /// The stand-in camera among the cameras of the page Live.
  void offer_stand_in_camera(const std::function<std::unique_ptr<LiveSource>()>& make);

 signals:
  /// The edge-condition key for this blade, with these answers given.
  void key_wanted(const QString& blade, const bq::Observations& seen, std::optional<double> at_mm);

 protected:
  void keyPressEvent(QKeyEvent* event) override;

 private:
  void lay_out();
  void refresh_head();
  void ask_files();
  void ask_folder();
  void ask_export();

  Workbench& workbench_;
  LensModel* model_;
  LensCanvas* canvas_;
  MeasurePanel* measure_;
  PlaceStrip* strip_;
  LivePage* live_;
  StoneTruthPage* stones_;
  QStackedWidget *pages_, *panels_;
  std::vector<QPushButton*> page_tabs_, panel_tabs_;
  PictureChoice* pictures_;
  QPushButton *bring_, *watch_, *export_, *stand_in_, *new_ones_;
  bool has_stand_in_ = false;
  QWidget* head_gap_;  ///< where the list of pictures is, on the other page
};

}  // namespace bq::ui
