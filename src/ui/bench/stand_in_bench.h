#pragma once

#include <QObject>
#include <QTemporaryDir>
#include <memory>
#include <vector>

#include "ui/frame/workbench.h"

class QProcess;

namespace bq::ui {

/// Stand-in instruments for the demo: started as programs of their own on pseudo-terminals, and
/// told what lies before them as the run at the bench goes on. Profiles for them are put into the
/// project where it has none.
class StandInBench : public QObject {
  Q_OBJECT
 public:
  /// `folder` for ports and state; empty: one of its own that goes away. `program`: path of
  /// brave-quarry-instrument.
  StandInBench(Workbench& workbench, const QString& program, const QString& folder, quint64 seed,
               QObject* parent = nullptr);
  ~StandInBench() override;
  /// Starts what has not been started. False with a sentence told when a program does not come up.
  bool start();
  [[nodiscard]] QString port(const char* name) const;
  /// The stand-in microscope saves a picture of the run's edge into `picture_folder`.
  void take_picture();
  [[nodiscard]] QString picture_folder() const;
  /// The camera on that microscope, over the edge of the run at the bench.
  [[nodiscard]] QStringList camera_wishes();
  [[nodiscard]] const QString& program() const { return program_; }
  /// The check weight lies on the gauge instead of the edge.
  void put_weight(double nominal);

 private:
  void write_state();
  void add_edge(QStringList& wishes);
  void put_profiles();
  Workbench& workbench_;
  QString program_;
  std::unique_ptr<QTemporaryDir> own_;
  QString folder_;
  quint64 seed_;
  std::vector<std::unique_ptr<QProcess>> devices_;
  std::optional<double> weight_;
  int pictures_ = 0;
};

}  // namespace bq::ui
