#include <gtest/gtest.h>

#include <QApplication>
#include <cstdlib>

#include "support.h"
#include "ui/frame/application.h"
#include "ui/theme/theme.h"

int main(int argc, char** argv) {
  setenv("QT_QPA_PLATFORM", "offscreen", 0);  // discovery runs this program right after linking
  // Tests run beside each other: what one window remembers, another must not find or take away.
  const bq::test::Folder desk;
  setenv("XDG_CONFIG_HOME", (desk / "config").c_str(), 1);
  setenv("XDG_STATE_HOME", (desk / "state").c_str(), 1);
  bq::ui::Application app(argc, argv);
  QApplication::setStyle(QStringLiteral("Fusion"));
  bq::ui::load_fonts();
  bq::ui::apply_theme(app, bq::ui::ThemeName::chalk);
  testing::InitGoogleTest(&argc, argv);
  return RUN_ALL_TESTS();
}
