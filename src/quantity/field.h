#pragma once

#include <cmath>
#include <cstddef>
#include <limits>
#include <optional>
#include <string>
#include <string_view>
#include <tuple>
#include <type_traits>
#include <utility>

#include "quantity/checked.h"
#include "quantity/number.h"
#include "quantity/said.h"

namespace bq::inline quantity {

/// "must lie between 0.01 and 5000 µm".
inline std::string must_lie_between(double least, double most, std::string_view unit = {}) {
  std::string out = said("must lie between {least} and {most}",
                         {{"least", print_number(least, 6)}, {"most", print_number(most, 6)}});
  if (!unit.empty()) out += (unit == "°" ? "" : " ") + std::string(unit);
  return out;
}

/// T of an optional<T>, else T.
template <class T>
struct Known {
  using type = T;
  static constexpr bool optional = false;
};
template <class T>
struct Known<std::optional<T>> {
  using type = T;
  static constexpr bool optional = true;
};

/// What is said once of a member of a record: its key in files, the range of a number (both ends
/// are taken), its unit, the words of an enumeration and how a person reads it. Files, refusals,
/// forms and docs/records.md are made from it.
template <auto Member>
struct Field;
template <class R, class V, V R::* Member>
struct Field<Member> {
  using Record = R;
  using Value = V;
  using Bare = typename Known<V>::type;
  static constexpr bool is_word = std::is_enum_v<Bare>;
  static constexpr bool is_number = std::is_arithmetic_v<Bare> && !std::is_same_v<Bare, bool>;

  const char* key;
  double least = std::numeric_limits<double>::lowest();
  double most = std::numeric_limits<double>::max();
  std::string_view unit{};
  std::string_view label{};  ///< what a form and a refusal call it; "" the key
  std::string_view note{};   ///< for docs/records.md
  bool always_told = false;  ///< in files, even where it is as usual
  bool needed = false;       ///< a file without it is refused
  bool is_flat = false;      ///< a record whose keys stand beside those of the record it is in
  bool as_typed = false;     ///< a text for which a file may hold a number
  std::optional<Bare> (*parse)(std::string_view) = nullptr;
  std::string_view (*name)(Bare) = nullptr;
  int words = 0;  ///< how many values an enumeration has, from 0 on

  [[nodiscard]] static const V& of(const R& record) { return record.*Member; }
  [[nodiscard]] static V& of(R& record) { return record.*Member; }

  [[nodiscard]] constexpr Field within(double low, double high, std::string_view in = {}) const {
    Field out = *this;
    out.least = low;
    out.most = high;
    out.unit = in;
    return out;
  }
  [[nodiscard]] constexpr Field word(std::optional<Bare> (*by)(std::string_view), int count) const {
    Field out = word(by, [](Bare value) { return name_of(value); });
    out.words = count;
    return out;
  }
  [[nodiscard]] constexpr Field word(std::optional<Bare> (*by)(std::string_view),
                                     std::string_view (*named)(Bare)) const {
    Field out = *this;
    out.parse = by;
    out.name = named;
    return out;
  }
  [[nodiscard]] constexpr Field says(std::string_view text, std::string_view more = {}) const {
    Field out = *this;
    out.label = text;
    out.note = more;
    return out;
  }
  [[nodiscard]] constexpr Field always() const {
    Field out = *this;
    out.always_told = true;
    return out;
  }
  /// A file without it is refused; so it is always told.
  [[nodiscard]] constexpr Field must() const {
    Field out = always();
    out.needed = true;
    return out;
  }
  [[nodiscard]] constexpr Field flat() const {
    Field out = *this;
    out.is_flat = true;
    return out;
  }
  [[nodiscard]] constexpr Field typed() const {
    Field out = *this;
    out.as_typed = true;
    return out;
  }
  [[nodiscard]] std::string called() const { return std::string(label.empty() ? key : label); }
  [[nodiscard]] bool takes(double number) const { return number >= least && number <= most; }
  /// "must lie between 0.01 and 5000 µm".
  [[nodiscard]] std::string must_lie() const { return must_lie_between(least, most, unit); }
};

template <auto Member>
[[nodiscard]] constexpr Field<Member> field(const char* key) {
  return {key};
}

/// Names a record for `fields_of(Told<Record>)`, which returns the tuple of its fields and stands
/// in the room of the record.
template <class R>
struct Told {};

/// A record whose fields are declared.
template <class R>
concept Declared = requires { fields_of(Told<R>()); };

template <Declared R>
inline constexpr auto kFieldsOf = fields_of(Told<R>());

/// Calls `each` with every declared field.
template <Declared R, class Each>
constexpr void for_each_field(const Each& each) {
  std::apply([&](const auto&... one) { (each(one), ...); }, kFieldsOf<R>);
}

/// The declaration of a member.
template <auto Member>
[[nodiscard]] constexpr Field<Member> field_of() {
  Field<Member> out{nullptr};
  for_each_field<typename Field<Member>::Record>([&](const auto& one) {
    if constexpr (std::is_same_v<std::decay_t<decltype(one)>, Field<Member>>) out = one;
  });
  return out;
}

template <class List>
concept ListOfDeclared =
    requires { typename List::value_type; } && Declared<typename List::value_type>;

template <Declared R, class Each>
void for_each_range_fault(const R& record, const Each& each);

namespace field_parts {

template <class F, class V, class Each>
void faults_in(const F& one, const V& value, const Each& each) {
  const auto within = [&](const std::string& inner) {
    each(one.is_flat ? inner : one.called() + ", " + inner);
  };
  if constexpr (F::is_number) {
    if (!one.takes(double(value))) each(one.called() + ": " + one.must_lie());
  } else if constexpr (Declared<V>) {
    for_each_range_fault(value, within);
  } else if constexpr (ListOfDeclared<V>) {
    for (const auto& item : value) for_each_range_fault(item, within);
  }
}

}  // namespace field_parts

/// Calls `each` for every number of a record, or of a record in it, that lies outside what is
/// declared for it (NaN does): "particle size, measured: must lie between 0.01 and 5000 µm".
template <Declared R, class Each>
void for_each_range_fault(const R& record, const Each& each) {
  for_each_field<R>([&](const auto& one) {
    using F = std::decay_t<decltype(one)>;
    const auto& value = F::of(record);
    if constexpr (!Known<typename F::Value>::optional) {
      field_parts::faults_in(one, value, each);
    } else {
      if (value) field_parts::faults_in(one, *value, each);
    }
  });
}

/// The first of them.
template <Declared R>
std::optional<Refusal> range_fault(const R& record) {
  std::optional<Refusal> out;
  for_each_range_fault(record, [&](const std::string& fault) {
    if (!out) out = Refusal{fault};
  });
  return out;
}

}  // namespace bq::inline quantity
