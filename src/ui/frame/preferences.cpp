#include "ui/frame/preferences.h"

#include <optional>

#include "ui/frame/remembered.h"

namespace bq::ui {
namespace {

std::optional<Preferences>& kept() {
  static std::optional<Preferences> value;
  return value;
}

}  // namespace

const Preferences& preferences() {
  auto& value = kept();
  if (!value) {
    const QSettings settings = program_settings();
    value = Preferences{settings.value("aloud/tones", false).toBool(),
                        settings.value("aloud/voice", false).toBool(),
                        settings.value("show/still", false).toBool()};
  }
  return *value;
}

void set_preferences(const Preferences& preferences) {
  kept() = preferences;
  QSettings settings = program_settings();
  settings.setValue("aloud/tones", preferences.tones);
  settings.setValue("aloud/voice", preferences.voice);
  settings.setValue("show/still", preferences.still);
}

}  // namespace bq::ui
