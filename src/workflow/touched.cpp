#include "workflow/touched.h"

#include <array>

namespace bq::inline workflow {
namespace {

constexpr unsigned kRuns = unsigned(Part::runs), kBlades = unsigned(Part::blades),
                   kCards = unsigned(Part::cards), kPictures = unsigned(Part::pictures);

/// The part of each kind of record, in the order of AnyChange. A blade's name stands in its runs
/// too; an import may bring anything.
constexpr std::array<unsigned, std::variant_size_v<AnyChange>> kPartOf{
    0,                            // KeptText: its key tells
    kRuns,                        // RunEvent
    kRuns,                        // RunReading
    kRuns,                        // ReadingMark
    kRuns,                        // RunCuts
    kRuns,                        // RunHead
    kRuns,                        // RunSteel
    kRuns,                        // Run
    kBlades | kRuns,              // BladeHead
    kBlades,                      // BladeLine
    kPictures,                    // MicrographFacts
    kPictures,                    // MagnificationScales
    kRuns,                        // StrokeSamples
    kPictures,                    // PictureBytes
    unsigned(Part::sessions),     // BenchSession
    kCards,                       // SteelCard
    kCards,                       // MediumCard
    unsigned(Part::shelf),        // Abrasive
    unsigned(Part::comparisons),  // Comparison
    ~0U};                         // ImportedTables

}  // namespace

void Touched::add(const AnyChange& change) {
  parts_ |= kPartOf[change.index()];
  if (const auto* text = std::get_if<Change<KeptText>>(&change)) texts_.insert(text->after->key);
}

}  // namespace bq::inline workflow
