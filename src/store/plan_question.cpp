#include "store/plan_question.h"

#include "store/plan_values.h"

namespace bq::inline store {
namespace {

HoldSearch hold_of(const JsonFields& f) {
  HoldSearch out;
  out.start_deg = f.number_or("start_deg", 1, 45, out.start_deg);
  out.step_deg = f.number_or("step_deg", 0.1, 15, out.step_deg);
  out.rough_cuts = whole_of(f, "rough_cuts", 1, 1e6, int(out.rough_cuts));
  out.confirm_cuts = whole_of(f, "confirm_cuts", 0, 1e6, int(out.confirm_cuts));
  out.wanted_cuts = whole_of(f, "wanted_cuts", 2, 1e6, int(out.wanted_cuts));
  out.expected_deg = f.number_or("expected_deg", 1, 45, out.expected_deg);
  out.load_sd = f.number_or("load_sd", 0.01, 5, out.load_sd);
  refuse_unknown(f);
  return out;
}

}  // namespace

PlanQuestion question_of(const JsonFields& f) {
  PlanQuestion out;
  out.factor = f.text("factor");
  out.from = level_of(f.raw("from"), f.path_of("from"));
  out.to = level_of(f.raw("to"), f.path_of("to"));
  out.level = f.number_or("level", 0.5, 0.9999, out.level);
  out.wished_power = f.number_or("chance", 0.06, 0.9999, out.wished_power);
  const auto ask = parse_plan_ask(f.text_or("ask", "difference"));
  if (!ask) f.fault("ask", "must be difference, match, best or hold");
  out.ask = *ask;
  if (f.has("hold")) out.hold = hold_of(f.object("hold"));
  refuse_unknown(f);
  return out;
}

nlohmann::ordered_json question_json(const PlanQuestion& q) {
  // What a file of the first round had stands as it was; the rest only where it says something.
  nlohmann::ordered_json out{{"factor", q.factor},
                             {"from", level_json(q.from)},
                             {"to", level_json(q.to)},
                             {"level", q.level},
                             {"chance", q.wished_power}};
  if (q.ask != PlanAsk::difference) out["ask"] = std::string(name_of(q.ask));
  if (!(q.hold == HoldSearch{}))
    out["hold"] = nlohmann::ordered_json{
        {"start_deg", q.hold.start_deg},     {"step_deg", q.hold.step_deg},
        {"rough_cuts", q.hold.rough_cuts},   {"confirm_cuts", q.hold.confirm_cuts},
        {"wanted_cuts", q.hold.wanted_cuts}, {"expected_deg", q.hold.expected_deg},
        {"load_sd", q.hold.load_sd}};
  return out;
}

}  // namespace bq::inline store
