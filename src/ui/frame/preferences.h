#pragma once

namespace bq::ui {

/// How this desk likes it, kept with the program's settings; of no project.
struct Preferences {
  bool tones = false;  ///< a tone for what was taken and one for what was refused
  bool voice = false;  ///< instruction and reading read aloud
  bool still = false;  ///< nothing glides
};
/// As set last; read once from the settings.
const Preferences& preferences();
/// Kept at once.
void set_preferences(const Preferences& preferences);

}  // namespace bq::ui
