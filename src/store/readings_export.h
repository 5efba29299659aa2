#pragma once

#include <ostream>
#include <string>
#include <string_view>

#include "trial/trial.h"

namespace bq::inline store {

/// Writes the tidy readings table (comma, point, \n). Only columns that hold something appear, the
/// four required ones always. Numbers in their shortest exact form: reading the table back gives
/// the same trial, except for runs without readings, which a readings table cannot hold.
void write_readings_csv(const Trial& trial, std::ostream& out);

/// The whole trial as JSON text: title, unit, blades, runs with facts, plan, state and readings.
/// `plan_book`, where not empty, is the project's plans and claims (plan_book_json), put in as
/// `plans` and `claims`.
std::string trial_json(const Trial& trial, std::string_view plan_book = {});

}  // namespace bq::inline store
