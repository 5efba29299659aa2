#pragma once

#include <QString>
#include <string_view>

namespace bq::ui {

/// The core's UTF-8 as the window's text.
inline QString text_of(std::string_view text) {
  return QString::fromUtf8(text.data(), qsizetype(text.size()));
}

/// A share as a percentage: 0.953 is "95 %"; what is nearly sure keeps a decimal, never "100 %".
QString percent(double share);

}  // namespace bq::ui
