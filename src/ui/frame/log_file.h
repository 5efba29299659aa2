#pragma once

#include <QString>

namespace bq::ui {

/// From now on what Qt and the program report goes into a log file too: in `folder`, or where the
/// desktop keeps a program's state ($XDG_STATE_HOME/brave-quarry, ~/.local/state/brave-quarry). At
/// most two files of half a mebibyte each. A folder that cannot be written is no reason not to
/// start.
void begin_log(const QString& folder = {});

/// The log file's path; empty before begin_log or where it could not be made.
QString log_path();

/// The newest lines of this start, for "Copy what happened".
QString log_tail(int lines = 200);

}  // namespace bq::ui
