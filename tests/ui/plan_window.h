#pragma once

#include <QLineEdit>

#include "edge_window.h"
#include "ui/plan/plan_view.h"

namespace bq::test {

/// The demo's window, for the station Plan.
class PlanWindow : public EdgeWindow {
 protected:
  ui::PlanView* plan_view() {
    window_->go_to(Station::plan);
    auto* view = static_cast<ui::PlanView*>(window_->station(Station::plan));
    EXPECT_TRUE(settled(view));
    return view;
  }
  static bool settled(ui::PlanView* view) {
    return wait_for([&] {
      return !view->model().studying() && (!view->model().plan() || view->model().up_to_date());
    });
  }
  template <class Field>
  static Field* named(QWidget* in, const QString& name) {
    for (auto* field : in->findChildren<Field*>())
      if (field->accessibleName() == name) return field;
    ADD_FAILURE() << "no field " << name.toStdString();
    return nullptr;
  }
  static void type(QLineEdit* field, const QString& text) {
    field->setFocus();
    field->selectAll();
    if (text.isEmpty()) QTest::keyClick(field, Qt::Key_Delete);
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
  }
  /// As the project file has it.
  PlanBook stored() { return *parse_plan_book(window_->workbench().session().kept(kPlanBookKey)); }
};

}  // namespace bq::test
