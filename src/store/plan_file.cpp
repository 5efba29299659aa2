#include "store/plan_file.h"

#include "quantity/said.h"
#include "store/plan_values.h"

namespace bq::inline store {

constexpr auto fields_of(quantity::Told<PlanEntry>) {
  using R = PlanEntry;
  return std::tuple(field<&R::plan>("plan").must(), field<&R::issued>("issued").always(),
                    field<&R::renamed>("renamed"));
}
constexpr auto fields_of(quantity::Told<PlanBook>) {
  using R = PlanBook;
  return std::tuple(field<&R::plans>("plans").always(), field<&R::claims>("claims").always());
}

template <>
inline constexpr bool kWrittenByHand<TrialPlan> = true;

/// The kind follows from the name.
template <>
struct Otherwise<PlanFactor> : NothingElse<PlanFactor> {
  static void read(const JsonFields&, PlanFactor& factor) {
    factor.kind = kind_of_factor(factor.name);
  }
};

/// `checkpoints`: the list itself, or an object with the ladder and the list beside it, so that one
/// can go back to the ladder.
template <>
struct Otherwise<CheckpointChoice> {
  static void read(const JsonFields& f, CheckpointChoice& out) {
    if (!f.has("checkpoints")) return;
    if (f.raw("checkpoints").is_array()) return read_list(f.raw("checkpoints"), "checkpoints", out);
    const JsonFields c = f.object("checkpoints");
    if (c.has("given")) {
      if (!c.raw("given").is_array()) c.fault("given", said("must be a list of cuts"));
      read_list(c.raw("given"), c.path_of("given"), out);
    }
    out.to_threshold = c.has("last") && c.raw("last") == "threshold";
    if (c.has("last") && !out.to_threshold) out.last = std::int64_t(c.number("last", 2, 1e8));
    if (c.has("steps")) out.steps = int(whole_of(c.raw("steps"), c.path_of("steps"), 2, 60));
    out.burr_suspected = c.flag_or("burr_suspected", false);
    c.end();
  }
  template <class Json>
  static void write(Json& out, const CheckpointChoice& choice) {
    Json ladder{
        {"last", choice.to_threshold ? Json("threshold") : Json(choice.last)},
        {"steps", choice.steps},
        {"burr_suspected", choice.burr_suspected},
    };
    if (!choice.given.empty()) ladder["given"] = choice.given;
    Json all{{"checkpoints", std::move(ladder)}};
    all.update(out);
    out = std::move(all);
  }

 private:
  static void read_list(const nlohmann::json& list, const std::string& name,
                        CheckpointChoice& out) {
    std::size_t index = 0;
    for (const auto& item : list) {
      const std::string path = name + "[" + std::to_string(index++) + "]";
      if (!item.is_number() || item.get<double>() != double(std::int64_t(item.get<double>())) ||
          item.get<double>() < 0 || item.get<double>() > 1e9)
        throw JsonFault{
            said("{path}: must be a whole number of cuts, 0 to 1000 million", {{"path", path}})};
      out.given.push_back(std::int64_t(item.get<double>()));
      if (out.given.size() > 1 && out.given.back() <= out.given[out.given.size() - 2])
        throw JsonFault{said("{path}: the checkpoints must rise, and {given} comes after {given_2}",
                             {{"path", path},
                              {"given", std::to_string(out.given.back())},
                              {"given_2", std::to_string(out.given[out.given.size() - 2])}})};
    }
    if (out.given.empty()) throw JsonFault{said("{name}: the list is empty", {{"name", name}})};
  }
};

namespace {

/// In the order in which a person reads a plan.
template <class R>
std::string text_of(const R& record, int indent) {
  using Json = nlohmann::ordered_json;
  return record_json<Json>(record).dump(indent, ' ', false, Json::error_handler_t::replace);
}

}  // namespace

Checked<TrialPlan> parse_plan(std::string_view json) {
  return read_json<TrialPlan>(json, read_record<TrialPlan>);
}
bool is_plan_file(std::string_view json) {
  const auto root = nlohmann::json::parse(json, nullptr, false);
  return root.is_object() && root.contains("factors");
}
std::string plan_json(const TrialPlan& plan) { return text_of(plan, 2) + "\n"; }

std::vector<std::string> PlanEntry::run_names() const {
  std::vector<std::string> names = issued;
  for (auto& name : names)
    if (const auto now = renamed.find(name); now != renamed.end()) name = now->second;
  return names;
}

Checked<PlanBook> parse_plan_book(std::string_view json) {
  return read_json<PlanBook>(json, read_record<PlanBook>);
}
std::string plan_book_json(const PlanBook& book) { return text_of(book, -1); }

}  // namespace bq::inline store
