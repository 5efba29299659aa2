#pragma once

#include <variant>

#include "quantity/field.h"
#include "store/project_file.h"
#include "trial/edge_record.h"
#include "trial/shelf_fields.h"

namespace bq::inline store {

/// The record, on its way into the file. Throws StoreError `refused` for one that its own reader
/// would not take again: a project that holds it could not be opened any more.
template <Declared R>
const R& readable(const R& record) {
  if (const auto fault = range_fault(record))
    throw StoreError(StoreProblem::refused, "Not kept: " + fault->reason + ".");
  return record;
}
/// Its object is the sharpening's own.
inline const SharpeningRecord& readable(const SharpeningRecord& record) {
  readable(record.sharpening);
  return record;
}
template <class... R>
const std::variant<R...>& readable(const std::variant<R...>& data) {
  std::visit([](const auto& record) { readable(record); }, data);
  return data;
}

}  // namespace bq::inline store
