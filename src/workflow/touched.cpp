#include "workflow/touched.h"

namespace bq::inline workflow {
namespace {

constexpr unsigned kAll = ~0U;

// Which part a record belongs to. A blade's name stands in its runs too.
unsigned parts_of(const KeptText&) { return 0; }
unsigned parts_of(const RunEvent&) { return unsigned(Part::runs); }
unsigned parts_of(const RunReading&) { return unsigned(Part::runs); }
unsigned parts_of(const ReadingMark&) { return unsigned(Part::runs); }
unsigned parts_of(const RunCuts&) { return unsigned(Part::runs); }
unsigned parts_of(const RunHead&) { return unsigned(Part::runs); }
unsigned parts_of(const RunSteel&) { return unsigned(Part::runs); }
unsigned parts_of(const Run&) { return unsigned(Part::runs); }
unsigned parts_of(const BladeHead&) { return unsigned(Part::blades) | unsigned(Part::runs); }
unsigned parts_of(const BladeLine&) { return unsigned(Part::blades); }
unsigned parts_of(const MicrographFacts&) { return unsigned(Part::pictures); }
unsigned parts_of(const MagnificationScales&) { return unsigned(Part::pictures); }
unsigned parts_of(const StrokeSamples&) { return unsigned(Part::runs); }
unsigned parts_of(const PictureBytes&) { return unsigned(Part::pictures); }
unsigned parts_of(const BenchSession&) { return unsigned(Part::sessions); }
unsigned parts_of(const SteelCard&) { return unsigned(Part::cards); }
unsigned parts_of(const MediumCard&) { return unsigned(Part::cards); }
unsigned parts_of(const Abrasive&) { return unsigned(Part::shelf); }
unsigned parts_of(const Comparison&) { return unsigned(Part::comparisons); }
unsigned parts_of(const ImportedTables&) { return kAll; }

}  // namespace

void Touched::add(const AnyChange& change) {
  std::visit(
      [&](const auto& of) {
        for (const auto& side : {&of.before, &of.after}) {
          if (!*side) continue;
          parts_ |= parts_of(**side);
          if constexpr (std::is_same_v<std::decay_t<decltype(**side)>, KeptText>)
            texts_.insert((*side)->key);
        }
      },
      change);
}

}  // namespace bq::inline workflow
