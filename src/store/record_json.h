#pragma once

#include <concepts>
#include <cstdint>
#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <tuple>
#include <utility>
#include <variant>
#include <vector>

#include "quantity/field.h"
#include "quantity/said.h"
#include "store/json_fields.h"

namespace bq::inline store {

/// What a record keeps otherwise than one member under one key: `read` comes after the declared
/// fields, `write` too.
template <class R>
struct NothingElse {
  static void read(const JsonFields&, R&) {}
  template <class Json>
  static void write(Json&, const R&) {}
};
template <class R>
struct Otherwise : NothingElse<R> {};

/// A value that is neither a record nor one of JSON's own: how it is read and written. The range is
/// the one of its field.
template <class T>
struct JsonValue {};
template <class T>
concept ToldAsValue = requires(const nlohmann::json& json, const std::string& path) {
  { JsonValue<T>::read(json, path, 0.0, 0.0) } -> std::same_as<T>;
};

/// Two numbers of one range: [a, b].
template <class T, double T::* First, double T::* Second>
struct JsonPair {
  static T read(const nlohmann::json& value, const std::string& path, double least, double most) {
    T out;
    std::tie(out.*First, out.*Second) = number_pair(value, path, least, most);
    return out;
  }
  template <class Json>
  static Json json(const T& pair) {
    return Json::array({pair.*First, pair.*Second});
  }
};

/// Texts by name: {"R1": "Ash 3"}.
template <>
struct JsonValue<std::map<std::string, std::string>> {
  using Map = std::map<std::string, std::string>;
  static Map read(const nlohmann::json& object, const std::string& path, double, double) {
    if (!object.is_object())
      throw JsonFault{said("{path}: must be an object: name, then text", {{"path", path}})};
    Map out;
    for (const auto& [key, value] : object.items()) {
      if (!value.is_string())
        throw JsonFault{said("{path}.{key}: must be a text", {{"path", path}, {"key", key}})};
      out[key] = value.get<std::string>();
    }
    return out;
  }
  template <class Json>
  static Json json(const Map& map) {
    return Json(map);
  }
};

/// A record that a person writes, in which a key that nobody asks for is refused, in the records in
/// it too; what a newer version of this program wrote is let be.
template <class R>
inline constexpr bool kWrittenByHand = false;

/// A record in which nothing was said. Specialised where an older file that says nothing means
/// something else than a new record does.
template <class R>
R where_nothing_is_said() {
  return R{};
}

template <Declared R>
void read_fields(const JsonFields& fields, R& out);
template <Declared R>
R read_record(const JsonFields& fields);
template <class Json = nlohmann::json, Declared R>
Json record_json(const R& record);

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
  for (int i = 0; i < one.words; ++i) {
    const std::string_view name = one.name(typename F::Bare(i));
    if (name.empty()) continue;  // said by saying nothing
    known += (known.empty() ? ": " : i + 1 == one.words ? " or " : ", ") + std::string(name);
  }
  f.fault(one.key, said("\"{word}\" is not known here{known}",
                        {{"word", word.substr(0, 40)}, {"known", known}}));
}

template <class T, class F>
T read_value(const JsonFields& f, const F& one) {
  if constexpr (std::is_same_v<T, std::string>) {
    if (one.as_typed && f.raw(one.key).is_number()) return f.raw(one.key).dump();
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
  } else if constexpr (ListOf<T>::is && !ToldAsValue<T>) {
    using Item = typename ListOf<T>::type;
    T out;
    std::size_t index = 0;
    for (const nlohmann::json& item : f.list(one.key)) {
      const std::string path = f.path_of(one.key, index++);
      if constexpr (std::is_same_v<Item, std::string>) {
        if (!item.is_string()) throw JsonFault{said("{path}: must be a text", {{"path", path}})};
        out.push_back(item.template get<std::string>());
      } else if constexpr (std::is_floating_point_v<Item>) {
        out.push_back(number_of(item, path, one.least, one.most));
      } else if constexpr (ToldAsValue<Item>) {
        out.push_back(JsonValue<Item>::read(item, path, one.least, one.most));
      } else {
        out.push_back(read_record<Item>(f.item(item, path)));
      }
    }
    return out;
  } else if constexpr (ToldAsValue<T>) {
    return JsonValue<T>::read(f.raw(one.key), f.path_of(one.key), one.least, one.most);
  } else {
    return read_record<T>(f.object(one.key));
  }
}

template <class Json, class T>
Json item_json(const T& item) {
  if constexpr (Declared<T>)
    return record_json<Json>(item);
  else if constexpr (ToldAsValue<T>)
    return JsonValue<T>::template json<Json>(item);
  else
    return item;
}

template <class Json, class T, class F>
Json value_json(const F& one, const T& value) {
  if constexpr (std::is_enum_v<T>) {
    return one.name(value);
  } else if constexpr (ListOf<T>::is && !ToldAsValue<T>) {
    Json out = Json::array();
    for (const auto& item : value) out.push_back(item_json<Json>(item));
    return out;
  } else {
    return item_json<Json>(value);
  }
}

}  // namespace record_parts

/// The declared fields of a record that are in an object, which may hold more than the record; a
/// fault names the path of its field. Throws JsonFault.
template <Declared R>
void read_fields(const JsonFields& fields, R& out) {
  for_each_field<R>([&](const auto& one) {
    using F = std::decay_t<decltype(one)>;
    if constexpr (Declared<typename F::Value>) {
      if (one.is_flat) return read_fields(fields, F::of(out));
    }
    if (fields.has(one.key))
      F::of(out) = record_parts::read_value<typename F::Bare>(fields, one);
    else if (one.needed)
      fields.fault(one.key, said("is missing"));
  });
  Otherwise<R>::read(fields, out);
}

/// A record from the object of a file, which is the record's own. Throws JsonFault.
template <Declared R>
R read_record(const JsonFields& fields) {
  if constexpr (kWrittenByHand<R>)
    if (!fields.refuses()) return read_record<R>(fields.refusing());
  R out = where_nothing_is_said<R>();
  read_fields(fields, out);
  fields.end();
  return out;
}

/// The object that read_record reads; with nlohmann::ordered_json its keys stand as they are
/// declared. A member that is as in a new record is left out, unless it is always told.
template <class Json, Declared R>
Json record_json(const R& record) {
  [[maybe_unused]] static const R usual{};
  Json out = Json::object();
  for_each_field<R>([&](const auto& one) {
    using F = std::decay_t<decltype(one)>;
    const auto& value = F::of(record);
    if constexpr (Declared<typename F::Value>) {
      if (one.is_flat) return void(out.update(record_json<Json>(value)));
    }
    if (!one.always_told && value == F::of(usual)) return;
    if constexpr (Known<typename F::Value>::optional) {
      if (value) out[one.key] = record_parts::value_json<Json>(one, *value);
    } else {
      out[one.key] = record_parts::value_json<Json>(one, value);
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
