#pragma once

#include "store/taken_in.h"

/// One trial as people keep it: with what each table asks, and the answers.
namespace bq::test {

std::vector<Kept> long_tables();
std::vector<Kept> geometry_tables();
std::vector<Kept> other_shapes();
std::vector<Kept> languages();
std::vector<Kept> spreadsheets();

}  // namespace bq::test
