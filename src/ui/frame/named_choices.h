#pragma once

namespace bq::ui {

/// Screen readers are told of a choice (combo box) what is asked and what is chosen: "Medium: coir
/// mat 8 mm". Qt itself tells on Linux the second alone, as the name. Once, before the first
/// window.
void name_choices();

}  // namespace bq::ui
