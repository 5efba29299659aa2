#include <cstdio>

#include "commands.h"
#include "output.h"
#include "quantity/number.h"
#include "store/jig_files.h"
#include "workflow/source.h"

int run_marker(const EdgeFileOptions& options) {
  const auto question = bq::parse_marker_file(bq::read_text_file(options.file));
  if (!question) throw CommandEnd(kRefused, options.file + ":" + question.refusal().reason);
  for (const auto& note : question->notes)
    say(options.file + ": \"" + note + "\" is not known here and was not used");
  const auto answer = bq::assess_marker(question->settings, question->touches);
  if (!answer) throw CommandEnd(kRefused, options.file + ": " + answer.refusal().reason);
  Json out;
  if (answer->done) {
    out["angle_deg"] = answer->angle_deg;
    out["low"] = answer->low_deg;
    out["high"] = answer->high_deg;
  } else {
    out["next_deg"] = answer->next_deg;
    out["ask_again"] = answer->ask_again;
    out["so_far"] = {
        {"angle_deg", answer->angle_deg}, {"low", answer->low_deg}, {"high", answer->high_deg}};
  }
  out["contradictions"] = Json::array();
  for (const std::size_t i : answer->contradictions)
    out["contradictions"].push_back({{"touch", i + 1},
                                     {"angle_deg", question->touches[i].trial_deg},
                                     {"ink", name_of(question->touches[i].seen)}});
  out["looks_convex"] = answer->looks_convex;
  if (options.json) {
    print_json(out);
    return kDone;
  }
  const auto deg = [](double value) { return bq::print_fixed(value, 2); };
  if (answer->done)
    std::printf("%s° per side (95 %%: %s° to %s°) after %zu touches\n",
                deg(answer->angle_deg).c_str(), deg(answer->low_deg).c_str(),
                deg(answer->high_deg).c_str(), question->touches.size());
  else
    std::printf("%s %s° per side (so far %s°, 95 %%: %s° to %s°)\n",
                answer->ask_again ? "ink again, touch again at" : "ink again, touch next at",
                deg(answer->next_deg).c_str(), deg(answer->angle_deg).c_str(),
                deg(answer->low_deg).c_str(), deg(answer->high_deg).c_str());
  for (const std::size_t i : answer->contradictions)
    std::printf("touch %zu (\"%s\" at %s°) clashes with the others\n", i + 1,
                std::string(name_of(question->touches[i].seen)).c_str(),
                deg(question->touches[i].trial_deg).c_str());
  if (answer->looks_convex)
    std::printf(
        "\"middle only\" at two angles: the bevel may be convex, or lie between edge and "
        "micro-bevel\n");
  return kDone;
}
