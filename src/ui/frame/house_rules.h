#pragma once

namespace bq::ui {

/// Rules for every widget of the program, kept by one filter on the application (set once; further
/// calls do nothing):
/// - what a label or tooltip shows is plain text, names above all; markup only where a label was
/// told
///   so (Qt::RichText);
/// - the wheel changes no number, choice or slider that has not the focus: it scrolls what is
/// around.
void set_house_rules();

}  // namespace bq::ui
