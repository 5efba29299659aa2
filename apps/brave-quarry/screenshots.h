#pragma once

#include <QString>

namespace bq::ui {
class MainWindow;
}

/// Writes a picture of every station of the window's project into a folder; false when one could
/// not be written. The window must have its project open.
bool write_screenshots(bq::ui::MainWindow& window, const QString& folder, const QString& only = {});
