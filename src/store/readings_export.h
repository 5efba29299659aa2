#pragma once

#include <ostream>
#include <string>
#include <string_view>

#include "store/project_file.h"
#include "trial/trial.h"

namespace bq::inline store {

/// Writes the tidy readings table (comma, point, \n). Only columns that hold something appear, the
/// four required ones always. Numbers in their shortest exact form: reading the table back gives
/// the same trial, except for runs without readings, which a readings table cannot hold.
void write_readings_csv(const Trial& trial, std::ostream& out);

/// The trial as JSON text for whoever analyses it elsewhere: title, unit, blades, runs with facts,
/// plan, state and readings. `plan_book`, where not empty, is the project's plans and claims
/// (plan_book_json), put in as `plans` and `claims`.
std::string trial_json(const Trial& trial, std::string_view plan_book = {});
void write_trial_json(const Trial& trial, std::string_view plan_book, std::ostream& out);

/// The same, and with it the whole project (ProjectFile::write_record) under "record", from which
/// ProjectFile::create_from_record makes it again.
void write_project_json(const ProjectFile& project, const Trial& trial, std::ostream& out);

}  // namespace bq::inline store
