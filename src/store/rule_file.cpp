#include "store/rule_file.h"

#include "store/json_fields.h"

namespace bq::inline store {
namespace {

using Json = nlohmann::json;

std::string at(const std::string& path, std::size_t index) {
  return path + "[" + std::to_string(index) + "]";
}

std::vector<std::string> sentences(const JsonFields& f, const char* key) {
  std::vector<std::string> out;
  for (const Json& item : f.list(key)) {
    if (!item.is_string()) f.fault(key, "must be a list of sentences");
    out.push_back(item.get<std::string>());
  }
  return out;
}

Often often_of(const Json& value, const std::string& path) {
  const auto often = value.is_string() ? parse_often(value.get<std::string>()) : std::nullopt;
  if (!often) throw JsonFault{path + ": must be never, seldom, sometimes, often or always"};
  return *often;
}

EvidenceQuestion question_of(const JsonFields& f) {
  EvidenceQuestion out;
  out.id = f.text("id");
  out.ask = f.text("ask");
  out.how = f.text_or("how", "");
  const auto effort = parse_effort(f.text_or("effort", "look"));
  if (!effort) f.fault("effort", "must be look, touch or test");
  out.effort = *effort;
  out.known = f.text_or("known", "");
  std::size_t index = 0;
  for (const Json& item : f.list("answers")) {
    const JsonFields answer(item, at(f.path_of("answers"), index++));
    out.answers.push_back({answer.text("id"), answer.text("text"), answer.text_or("draw", "")});
    refuse_unknown(answer);
  }
  if (f.has("otherwise")) {
    const Json& row = f.raw("otherwise");
    if (!row.is_object()) f.fault("otherwise", "must be an object: answer, then how often");
    for (const auto& [answer, cell] : row.items())
      out.otherwise[answer] = often_of(cell, f.path_of("otherwise") + "." + answer);
  }
  refuse_unknown(f);
  return out;
}

EvidenceOutcome outcome_of(const JsonFields& f) {
  EvidenceOutcome out;
  out.id = f.text("id");
  out.name = f.text("name");
  out.draw = f.text_or("draw", "");
  if (f.has("usual")) out.usual = often_of(f.raw("usual"), f.path_of("usual"));
  out.act = sentences(f, "do");
  out.avoid = sentences(f, "avoid");
  out.confirm = f.text_or("confirm", "");
  const Json& expect = f.raw("expect");
  if (!expect.is_object()) f.fault("expect", "must be an object: question, then answer");
  for (const auto& [question, row] : expect.items()) {
    const std::string path = f.path_of("expect") + "." + question;
    if (!row.is_object()) throw JsonFault{path + ": must be an object: answer, then how often"};
    for (const auto& [answer, cell] : row.items()) {
      const std::string place = path + "." + answer;
      Expectation expectation;
      if (cell.is_array()) {
        if (cell.size() != 2 || !cell[1].is_string())
          throw JsonFault{place + ": must be [how often, because]"};
        expectation = {often_of(cell[0], place), cell[1].get<std::string>()};
      } else {
        expectation.often = often_of(cell, place);
      }
      out.expect[question][answer] = expectation;
    }
  }
  refuse_unknown(f);
  return out;
}

EvidenceKey key_of(const JsonFields& f) {
  EvidenceKey out;
  out.id = f.text("key");
  out.title = f.text_or("title", "");
  out.sure = f.number_or("sure", 0.5, 1, 0.8);
  out.least_answers = int(f.number_or("least_answers", 0, 20, 2));
  std::size_t index = 0;
  for (const Json& item : f.list("questions"))
    out.questions.push_back(question_of(JsonFields(item, at("questions", index++))));
  index = 0;
  for (const Json& item : f.list("outcomes"))
    out.outcomes.push_back(outcome_of(JsonFields(item, at("outcomes", index++))));
  refuse_unknown(f);
  return out;
}

}  // namespace

Checked<EvidenceKey> parse_rule_file(std::string_view json) {
  return read_json<EvidenceKey>(json, [](const JsonFields& fields) { return key_of(fields); });
}

}  // namespace bq::inline store
