// A name that was changed: whatever speaks of the thing by its name follows, in the same act.
#include <nlohmann/json.hpp>

#include "store/plan_file.h"
#include "workflow/project_session.h"
#include "workflow/stones_study.h"

namespace bq::inline workflow {
namespace {

/// A text that is kept for a blade with its "run" renamed; empty where it names another one.
std::optional<std::string> with_run_renamed(const std::string& text, const std::string& from,
                                            const std::string& to) {
  auto json = nlohmann::ordered_json::parse(text, nullptr, false);
  if (!json.is_object()) return std::nullopt;
  const auto run = json.find("run");
  if (run == json.end() || *run != from) return std::nullopt;
  *run = to;
  return json.dump(-1, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
}

}  // namespace

void ProjectSession::change_plan_book(const std::function<void(PlanBook&)>& change) {
  const std::string text = kept(kPlanBookKey);
  if (text.empty()) return;
  const auto book = parse_plan_book(text);
  if (!book) return;  // what cannot be read is left as it is
  PlanBook changed = *book;
  change(changed);
  if (changed != *book) set_kept(kPlanBookKey, plan_book_json(changed));
}

void ProjectSession::follow_run_name(const std::string& from, const std::string& to) {
  if (from == to || from.empty()) return;
  rename_in_micrographs(&Micrograph::run, from, to);
  for (const auto& blade : trial().blades) {
    for (const auto& record : blade.records) {
      EdgeRecord renamed = record;
      std::string* name = nullptr;
      if (auto* sharpening = std::get_if<SharpeningRecord>(&renamed.data))
        name = &sharpening->sharpening.run;
      else if (auto* condition = std::get_if<ConditionRecord>(&renamed.data))
        name = &condition->run;
      if (!name || *name != from) continue;
      *name = to;
      acts_.replace(BladeLine{blade.id, record}, BladeLine{blade.id, renamed});
    }
    for (const auto& key : {"ladder:" + std::to_string(blade.id), sharpening_key(blade)})
      if (const auto text = with_run_renamed(kept(key), from, to)) set_kept(key, *text);
  }
  change_plan_book([&](PlanBook& book) {
    for (auto& plan : book.plans) {
      const auto names = plan.run_names();
      for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i] != from) continue;
        if (plan.issued[i] == to)
          plan.renamed.erase(plan.issued[i]);
        else
          plan.renamed[plan.issued[i]] = to;
      }
    }
  });
}

void ProjectSession::rename_in_micrographs(std::string Micrograph::* name, const std::string& from,
                                           const std::string& to) {
  for (const auto& micrograph : trial().micrographs) {
    if (micrograph.*name != from) continue;
    Micrograph renamed = micrograph;
    renamed.*name = to;
    acts_.replace(MicrographFacts{micrograph, ""}, MicrographFacts{renamed, ""});
  }
}

void ProjectSession::follow_blade_name(const std::string& from, const std::string& to) {
  if (from == to || from.empty()) return;
  rename_in_micrographs(&Micrograph::blade, from, to);
  for (const auto& session : bench_sessions()) {
    BenchSession renamed = session;
    std::string& name =
        std::visit([](auto& data) -> std::string& { return data.blade; }, renamed.data);
    if (name != from) continue;
    name = to;
    acts_.replace(session, renamed);
  }
  change_plan_book([&](PlanBook& book) {
    for (auto& plan : book.plans)
      for (auto& blade : plan.plan.blades)
        if (blade.name == from) blade.name = to;
  });
}

}  // namespace bq::inline workflow
