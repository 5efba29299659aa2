#pragma once

#include <memory>
#include <vector>

#include "pixels/live_source.h"

namespace bq::ui {

/// One that can be chosen.
struct LiveChoice {
  QString name;
  std::function<std::unique_ptr<LiveSource>()> make;
};

/// Cameras of this computer; empty where there are none. `why` says so where they cannot even be
/// looked for.
std::vector<LiveChoice> cameras(QString& why);

/// The stand-in camera: `program` (brave-quarry-instrument) started as `wishes` say.
std::unique_ptr<LiveSource> stand_in_camera(const QString& program, const QStringList& wishes);

}  // namespace bq::ui
