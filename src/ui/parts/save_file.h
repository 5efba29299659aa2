#pragma once

#include <QString>
#include <string>

namespace bq::ui {

/// One file, whole or not at all. `why`: what the system said when it was not.
bool write_whole(const QString& path, const std::string& bytes, QString* why = nullptr);

}  // namespace bq::ui
