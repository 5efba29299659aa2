#include "store/json_fields.h"

#include <cmath>

#include "quantity/field.h"
#include "quantity/nesting.h"
#include "quantity/said.h"

namespace bq::inline store {
namespace {
using Json = nlohmann::json;
constexpr std::size_t kMostJsonBytes = 64U << 20;
}  // namespace

Json parse_json(std::string_view text) {
  if (text.size() > kMostJsonBytes) throw JsonFault{"it is larger than 64 MB"};
  if (too_deep(text)) throw JsonFault{std::string(kTooDeep)};
  try {
    return Json::parse(text);
  } catch (const Json::parse_error& error) {
    const std::size_t at = error.byte > 0 ? std::min(error.byte - 1, text.size()) : 0;
    std::size_t line = 1, column = 1;
    for (std::size_t i = 0; i < at; ++i) {
      if (text[i] == '\n') {
        ++line;
        column = 1;
      } else if ((static_cast<unsigned char>(text[i]) & 0xc0) != 0x80)
        ++column;
    }
    throw JsonFault{said("{line}:{column}: this is not valid JSON",
                         {{"line", std::to_string(line)}, {"column", std::to_string(column)}})};
  } catch (const Json::exception&) {  // 1e999: well written, yet no number
    throw JsonFault{"a number in it is too large to be read"};
  }
}

JsonFields::JsonFields(const Json& object, std::string path)
    : object_(object), path_(std::move(path)) {
  if (!object.is_object())
    throw JsonFault{(path_.empty() ? std::string(said("the file")) : path_) +
                    ": must be an object { … }"};
}

const Json* JsonFields::find(const char* key) const {
  asked_.insert(key);
  const auto found = object_.find(key);
  return found == object_.end() || found->is_null() ? nullptr : &*found;
}

bool JsonFields::has(const char* key) const { return find(key) != nullptr; }

void JsonFields::fault(const std::string& key, const std::string& what) const {
  throw JsonFault{path_of(key) + ": " + what};
}

const Json& JsonFields::raw(const char* key) const {
  const Json* found = find(key);
  if (!found) fault(key, said("is missing"));
  return *found;
}

double JsonFields::number(const char* key, double least, double most) const {
  return number_of(raw(key), path_of(key), least, most);
}

double JsonFields::number_or(const char* key, double least, double most, double otherwise) const {
  return has(key) ? number(key, least, most) : otherwise;
}

std::optional<double> JsonFields::number_if(const char* key, double least, double most) const {
  return has(key) ? std::optional(number(key, least, most)) : std::nullopt;
}

std::string JsonFields::text(const char* key) const {
  const Json& value = raw(key);
  if (!value.is_string()) fault(key, said("must be a text"));
  return value.get<std::string>();
}

std::string JsonFields::text_or(const char* key, const std::string& otherwise) const {
  return has(key) ? text(key) : otherwise;
}

bool JsonFields::flag_or(const char* key, bool otherwise) const {
  if (!has(key)) return otherwise;
  const Json& value = raw(key);
  if (!value.is_boolean()) fault(key, said("must be true or false"));
  return value.get<bool>();
}

JsonFields JsonFields::object(const char* key) const { return item(raw(key), path_of(key)); }

JsonFields JsonFields::item(const Json& object, std::string path) const {
  JsonFields out(object, std::move(path));
  out.notes_ = notes_;
  out.refuses_ = refuses_;
  return out;
}

JsonFields JsonFields::noting(std::vector<std::string>& notes) const {
  JsonFields out = *this;
  out.notes_ = &notes;
  return out;
}

JsonFields JsonFields::refusing() const {
  JsonFields out = *this;
  out.refuses_ = true;
  return out;
}

void JsonFields::end() const {
  auto unasked = unknown();
  if (refuses_ && !unasked.empty())
    throw JsonFault{said("{unknown}: this key is not known", {{"unknown", unasked.front()}})};
  if (notes_)
    for (auto& key : unasked) notes_->push_back(std::move(key));
}

const std::vector<Json>& JsonFields::list(const char* key) const {
  static const std::vector<Json> none;
  const Json* value = find(key);
  if (!value) return none;
  if (!value->is_array()) fault(key, said("must be a list"));
  return value->get_ref<const Json::array_t&>();
}

std::vector<std::string> JsonFields::unknown() const {
  std::vector<std::string> out;
  for (const auto& [key, value] : object_.items())
    if (!asked_.contains(key)) out.push_back(path_of(key));
  return out;
}

void put_given(Json& out, const char* key, const std::string& text) {
  if (!text.empty()) out[key] = text;
}
void put_given(Json& out, const char* key, const std::optional<double>& number) {
  if (number) out[key] = *number;
}
void put_given(Json& out, const char* key, bool flag) {
  if (flag) out[key] = true;
}

std::string compact_text(const Json& json) {
  return json.dump(-1, ' ', false, Json::error_handler_t::replace);
}

double number_of(const Json& value, const std::string& path, double least, double most) {
  if (!value.is_number()) throw JsonFault{said("{path}: must be a number", {{"path", path}})};
  const double number = value.get<double>();
  if (!std::isfinite(number) || number < least || number > most)
    throw JsonFault{path + ": " + must_lie_between(least, most)};
  return number;
}

std::int64_t whole_of(const Json& value, const std::string& path, std::int64_t least,
                      std::int64_t most) {
  const double number = number_of(value, path, double(least), double(most));
  if (number != std::floor(number))
    throw JsonFault{said("{path}: must be a whole number", {{"path", path}})};
  return std::int64_t(number);
}

std::pair<double, double> number_pair(const Json& value, const std::string& path, double least,
                                      double most) {
  if (!value.is_array() || value.size() != 2 || !value[0].is_number() || !value[1].is_number())
    throw JsonFault{said("{path}: must be two numbers [a, b]", {{"path", path}})};
  return {number_of(value[0], path, least, most), number_of(value[1], path, least, most)};
}

}  // namespace bq::inline store
