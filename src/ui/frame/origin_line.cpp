#include "ui/frame/origin_line.h"

#include <QLabel>

#include "ui/frame/workbench.h"
#include "ui/parts/words.h"
#include "workflow/learned.h"

namespace bq::ui {

void show_origin(QLabel& label, const Workbench& workbench, const char* key) {
  QString origin =
      workbench.has_project() ? text_of(origin_of_setting(workbench.session(), key)) : QString();
  if (!origin.isEmpty()) origin[0] = origin[0].toUpper();
  label.setText(Workbench::tr("%1; a change makes it this bench's own.").arg(origin));
  label.setVisible(!origin.isEmpty());
}

}  // namespace bq::ui
