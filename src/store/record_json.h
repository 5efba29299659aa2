#pragma once

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <variant>
#include <vector>

#include "quantity/field.h"
#include "store/json_fields.h"

namespace bq::inline store {

/// What a record keeps otherwise than one member under one key: `read` comes after the declared
/// fields, `write` too.
template <class R>
struct Otherwise {
  static void read(const JsonFields&, R&) {}
  static void write(nlohmann::json&, const R&) {}
};

/// A record in which nothing was said. Specialised where an older file that says nothing means
/// something else than a new record does.
template <class R>
R where_nothing_is_said() {
  return R{};
}

template <Declared R>
R read_record(const JsonFields& fields);
template <Declared R>
nlohmann::json record_json(const R& record);

namespace record_parts {

template <class T>
struct ListOf {
  static constexpr bool is = false;
};
template <class T>
struct ListOf<std::vector<T>> {
  static constexpr bool is = true;
  using type = T;
};

/// `"round" is not known here: block or each`.
template <class F>
[[noreturn]] void unknown_word(const JsonFields& f, const F& one, const std::string& word) {
  std::string known;
  for (int i = 0; i < one.words; ++i)
    known += (i == 0               ? ": "
              : i + 1 == one.words ? " or "
                                   : ", ") +
             std::string(one.name(typename F::Bare(i)));
  f.fault(one.key, "\"" + word.substr(0, 40) + "\" is not known here" + known);
}

template <class T, class F>
T read_value(const JsonFields& f, const F& one) {
  if constexpr (std::is_same_v<T, std::string>) {
    return f.text(one.key);
  } else if constexpr (std::is_same_v<T, bool>) {
    return f.flag_or(one.key, false);
  } else if constexpr (std::is_enum_v<T>) {
    const std::string word = f.text(one.key);
    const auto found = one.parse(word);
    if (!found) unknown_word(f, one, word);
    return *found;
  } else if constexpr (std::is_integral_v<T>) {
    return T(whole_of(f.raw(one.key), f.path_of(one.key), std::int64_t(one.least),
                      std::int64_t(one.most)));
  } else if constexpr (std::is_floating_point_v<T>) {
    return T(f.number(one.key, one.least, one.most));
  } else if constexpr (ListOf<T>::is) {
    using Item = typename ListOf<T>::type;
    T out;
    std::size_t index = 0;
    for (const nlohmann::json& item : f.list(one.key)) {
      const std::string path = f.path_of(one.key, index++);
      if constexpr (std::is_same_v<Item, std::string>) {
        if (!item.is_string()) throw JsonFault{path + ": must be a text"};
        out.push_back(item.template get<std::string>());
      } else {
        out.push_back(read_record<Item>(JsonFields(item, path)));
      }
    }
    return out;
  } else {
    return read_record<T>(f.object(one.key));
  }
}

template <class T, class F>
nlohmann::json value_json(const F& one, const T& value) {
  if constexpr (std::is_enum_v<T>) {
    return one.name(value);
  } else if constexpr (ListOf<T>::is) {
    nlohmann::json out = nlohmann::json::array();
    for (const auto& item : value) {
      if constexpr (Declared<std::decay_t<decltype(item)>>)
        out.push_back(record_json(item));
      else
        out.push_back(item);
    }
    return out;
  } else if constexpr (Declared<T>) {
    return record_json(value);
  } else {
    return value;
  }
}

}  // namespace record_parts

/// A record from the object of a file, by its declared fields; a fault names the path of its field.
/// Throws JsonFault.
template <Declared R>
R read_record(const JsonFields& fields) {
  R out = where_nothing_is_said<R>();
  for_each_field<R>([&](const auto& one) {
    using F = std::decay_t<decltype(one)>;
    if (fields.has(one.key))
      F::of(out) = record_parts::read_value<typename F::Bare>(fields, one);
    else if (one.needed)
      fields.fault(one.key, "is missing");
  });
  Otherwise<R>::read(fields, out);
  return out;
}

/// The object that read_record reads. A member that is as in a new record is left out, unless it is
/// always told.
template <Declared R>
nlohmann::json record_json(const R& record) {
  [[maybe_unused]] static const R usual{};
  nlohmann::json out = nlohmann::json::object();
  for_each_field<R>([&](const auto& one) {
    using F = std::decay_t<decltype(one)>;
    const auto& value = F::of(record);
    if (!one.always_told && value == F::of(usual)) return;
    if constexpr (Known<typename F::Value>::optional) {
      if (value) out[one.key] = record_parts::value_json(one, *value);
    } else {
      out[one.key] = record_parts::value_json(one, value);
    }
  });
  Otherwise<R>::write(out, record);
  return out;
}

/// The record whose name is `kind`, of a variant whose alternatives have these names in their
/// order; empty for a kind that is none of them. Throws JsonFault.
template <class Variant>
std::optional<Variant> read_one_of(std::span<const std::string_view> names, std::string_view kind,
                                   const JsonFields& fields) {
  std::optional<Variant> out;
  const auto one = [&]<std::size_t I>() {
    if (names[I] == kind)
      out = Variant(std::in_place_index<I>,
                    read_record<std::variant_alternative_t<I, Variant>>(fields));
  };
  [&]<std::size_t... I>(std::index_sequence<I...>) {
    (one.template operator()<I>(), ...);
  }(std::make_index_sequence<std::variant_size_v<Variant>>());
  return out;
}

}  // namespace bq::inline store
