#pragma once

#include <cassert>
#include <cstddef>
#include <string>
#include <utility>
#include <variant>

namespace bq::inline quantity {

/// Why something a person typed or a file held was not taken, in plain words.
struct Refusal {
  std::string reason;
  /// Byte offset into the text that was read (0 when the whole is meant).
  std::size_t place = 0;
};

/// A value, or the reason why there is none. Callers ask ok() before value().
template <class T>
class Checked {
 public:
  Checked(T value) : content_(std::move(value)) {}            // NOLINT: conversion is the point
  Checked(Refusal refusal) : content_(std::move(refusal)) {}  // NOLINT

  [[nodiscard]] bool ok() const { return content_.index() == 0; }
  explicit operator bool() const { return ok(); }
  [[nodiscard]] const T& value() const {
    assert(ok());
    return std::get<0>(content_);
  }
  /// The value, moved out.
  [[nodiscard]] T take() {
    assert(ok());
    return std::get<0>(std::move(content_));
  }
  [[nodiscard]] const Refusal& refusal() const { return std::get<1>(content_); }
  const T& operator*() const { return value(); }
  const T* operator->() const { return &value(); }

 private:
  std::variant<T, Refusal> content_;
};

}  // namespace bq::inline quantity
