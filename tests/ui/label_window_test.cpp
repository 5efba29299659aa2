// A code reader that types like a keyboard opens what a label names, and its letters reach no
// field.
#include <gtest/gtest.h>

#include <QComboBox>
#include <QLineEdit>

#include "edge_window.h"
#include "ui/frame/code_reader.h"
#include "ui/stones/stones_view.h"
#include "workflow/label_codes.h"

using namespace bq;
using namespace bq::ui;

namespace {
class LabelWindow : public test::EdgeWindow {};
}  // namespace

TEST_F(LabelWindow, AReaderOpensWhatItNamesAndTypesIntoNoField) {
  const std::string tag = label_tag(7);
  window_->workbench().edit(
      [&](ProjectSession& session) { session.keep(kLabelTagKey, tag, "letters"); });
  auto* reader = window_->findChild<CodeReader*>();
  ASSERT_NE(reader, nullptr);
  reader->set_pause(60000);  // no test leans on the machine's speed
  const auto labels = labels_of(trial(), tag, {}, AngleConvention::per_side);
  const auto code_of = [&](const char* name) {
    for (const auto& label : labels)
      if (label.name == name) return QString::fromStdString(label.code);
    return QString();
  };
  auto* view = rack("Cairn Hard 2");
  auto* note = named<QLineEdit>(view, "Note on this place");
  window_->activateWindow();
  ASSERT_TRUE(test::wait_for([&] { return QApplication::activeWindow() == window_.get(); }));
  note->setFocus();
  const auto send = [&](const QString& code) {
    QTest::keyClicks(QApplication::focusWidget(), code);
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QTest::qWait(10);
  };
  send(code_of("Marl Tough 3"));
  EXPECT_TRUE(note->text().isEmpty()) << note->text().toStdString();
  EXPECT_TRUE(static_cast<RackView*>(window_->station(Station::rack))
                  ->blade_page()
                  ->spread()
                  .contains("22"))
      << "Marl Tough 3 has a micro-bevel of 22°";
  send(code_of("K03").toLower());  // some readers send small letters
  EXPECT_EQ(trial().runs[std::size_t(window_->workbench().current_run())].facts.name, "K03");
  send(code_of("Pale stone"));
  EXPECT_TRUE(window_->station(Station::stones)->isVisible());
  send("BQAAAAAAB1");
  EXPECT_TRUE(window_->message().contains("another project")) << window_->message().toStdString();
  // What a hand types is typed, the letters of a code too.
  window_->go_to(Station::rack);
  note->setFocus();
  QTest::keyClicks(note, "Bquiet");
  EXPECT_EQ(note->text(), "Bquiet");
  note->clear();
  reader->set_pause(1);
  QTest::keyClicks(note, "B");
  EXPECT_TRUE(test::wait_for([&] { return note->text() == "B"; }));
}
