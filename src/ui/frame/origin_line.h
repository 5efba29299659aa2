#pragma once

class QLabel;

namespace bq::ui {

class Workbench;

/// Says on a label where a setting of the bench was taken from ("Taken from Fernmoor trial on
/// 2026-11-30; a change makes it this bench's own."), and hides it where it is this bench's own.
void show_origin(QLabel& label, const Workbench& workbench, const char* key);

}  // namespace bq::ui
