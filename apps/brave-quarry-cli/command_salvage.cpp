#include "commands.h"
#include "output.h"
#include "store/project_salvage.h"

int run_salvage(const SalvageOptions& options) {
  const bq::Salvage out = bq::salvage_project(options.from, options.made);
  if (options.json) {
    Json lost = Json::array();
    for (const auto& loss : out.lost) lost.push_back({{"what", loss.what}, {"why", loss.why}});
    print_json(
        {{"runs", out.runs}, {"readings", out.readings}, {"lost", lost}, {"remarks", out.remarks}});
    return kDone;
  }
  std::printf("%s: %lld readings in %lld runs\n", options.made.c_str(),
              static_cast<long long>(out.readings), static_cast<long long>(out.runs));
  if (out.lost.empty()) std::printf("nothing was found lost\n");
  for (const auto& loss : out.lost)
    std::printf("lost: %s (%s)\n", loss.what.c_str(), loss.why.c_str());
  for (const auto& remark : out.remarks) std::printf("look at: %s\n", remark.c_str());
  return kDone;
}
