#pragma once

#include <QWidget>
#include <map>

#include "ui/lens/lens_model.h"
#include "ui/parts/number_entry.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace bq::ui {

class PictureChoice;

/// The column that a panel beside the picture is laid out in.
QVBoxLayout* panel_column(QWidget* panel);

/// Scale, tools, what was measured with its uncertainty, and the bevel's angle against the log.
class MeasurePanel : public QWidget {
  Q_OBJECT
 public:
  explicit MeasurePanel(LensModel& model, QWidget* parent = nullptr);
  void pick(LensTool tool);
  void ask_length();
  [[nodiscard]] QListWidget* list() const { return list_; }

 signals:
  void key_wanted();  ///< open the edge-condition key from this picture

 private:
  void lay_out_scale(QVBoxLayout& layout);
  void lay_out_tools(QVBoxLayout& layout);
  void lay_out_measures(QVBoxLayout& layout);
  void lay_out_angle(QVBoxLayout& layout);
  void show_state();
  void show_scale_row();
  void show_scale_words();
  void show_angle();
  LensModel& model_;
  QLabel *scale_, *hint_, *angle_, *points_, *makes_;
  QWidget* length_row_;
  NumberEntry *length_, *thickness_;
  QCheckBox *shared_, *earlier_, *snap_, *box_;
  QComboBox* seen_;
  QPushButton *keep_scale_, *another_, *repeat_, *remove_, *key_, *series_;
  std::map<LensTool, QPushButton*> tools_;
  QListWidget* list_;
};

/// What the picture shows: blade, run, cuts, side, place, reference mark, magnification, or the
/// stone of a sample piece.
class PlacePanel : public QWidget {
  Q_OBJECT
 public:
  explicit PlacePanel(LensModel& model, QWidget* parent = nullptr);

 private:
  void lay_out();
  void listen_to_choices();
  void listen_to_entries();
  void listen_to_optics();  ///< instrument and magnification
  void show_state();
  LensModel& model_;
  QLabel *file_, *checked_;
  QComboBox *blade_, *run_, *side_, *magnification_, *stone_;
  NumberEntry *cuts_, *place_;
  QLineEdit *mark_, *note_;
  QComboBox* instrument_;
  QPushButton *several_, *take_out_;
  bool showing_ = false;
};

/// Two pictures of one place: which, laid over each other, and how they are looked at.
class OverlayPanel : public QWidget {
  Q_OBJECT
 public:
  explicit OverlayPanel(LensModel& model, QWidget* parent = nullptr);

 private:
  void listen();
  void show_state();
  LensModel& model_;
  PictureChoice* other_;
  QLabel* state_;
  QPushButton* receded_;
  QLabel *fell_back_, *legend_;
  QPushButton *marks_, *lay_;
  std::map<CompareMode, QPushButton*> modes_;
  bool showing_ = false;
};

/// Depth of the apex along its length, as a small drawing: what is gone hangs down.
class AlongStrip : public QWidget {
  Q_OBJECT
 public:
  explicit AlongStrip(QWidget* parent = nullptr);
  void show_stretch(const std::vector<double>& depth_px, double um_per_px, double length_um,
                    double deepest_um);

 protected:
  void paintEvent(QPaintEvent* event) override;

 private:
  std::vector<double> depth_um_;
  double length_um_ = 0, deepest_um_ = 0;
};

/// What the program points at along the apex, to be accepted or rejected, and what the apex shows
/// along its length.
class DamagePanel : public QWidget {
  Q_OBJECT
 public:
  explicit DamagePanel(LensModel& model, QWidget* parent = nullptr);

 private:
  void lay_out();
  void listen();
  void show_state();
  LensModel& model_;
  QListWidget* list_;
  QLabel *answered_, *side_;  ///< side_: which side was taken for the blade
  QPushButton *turn_, *measure_;
  AlongStrip* strip_;
  QLabel* along_;
  QPushButton *find_, *accept_, *reject_;
  bool showing_ = false;
};

}  // namespace bq::ui
