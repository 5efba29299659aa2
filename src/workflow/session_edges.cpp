// What a session does to a blade's history and to the cards of steels and media.
#include <algorithm>

#include "quantity/said.h"
#include "trial/edge_record_fields.h"
#include "workflow/project_session.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {

void ProjectSession::duplicate_blade(std::size_t index, const std::string& name) {
  check_name(name, true, std::nullopt);
  const Blade& source = trial().blades.at(index);
  // The latest of each: what a twin has too.
  const OutlineRecord* outline = nullptr;
  const SectionRecord* section = nullptr;
  for (const auto& record : source.records) {
    if (const auto* o = std::get_if<OutlineRecord>(&record.data)) outline = o;
    if (const auto* s = std::get_if<SectionRecord>(&record.data)) section = s;
  }
  Blade made{0, name, source.steel, source.note, false, {}};
  if (outline) made.records.push_back({0, "", *outline});
  if (section) made.records.push_back({0, "", *section});
  as_one(said("duplicating blade {name}", {{"name", source.name}}), [&] { add_blade(made); });
}

void ProjectSession::set_retired(std::size_t index, bool retired) {
  Blade blade = trial().blades.at(index);
  if (blade.retired == retired) return;
  blade.retired = retired;
  update_blade(index, blade);
}

void ProjectSession::add_records(std::size_t blade, const std::vector<EdgeRecordData>& data,
                                 const std::string& what) {
  const std::int64_t id = trial().blades.at(blade).id;
  as_one(said("{what} of blade {name}", {{"what", what}, {"name", trial().blades[blade].name}}),
         [&] {
           for (const auto& item : data) acts_.add(BladeLine{id, {0, "", item}});
         });
}

void ProjectSession::remove_record(std::size_t blade, std::size_t record) {
  const Blade& of = trial().blades.at(blade);
  as_one(said("taking a line out of the history of blade {name}", {{"name", of.name}}),
         [&] { acts_.remove(BladeLine{of.id, of.records.at(record)}); });
}

template <class Card>
void ProjectSession::set_card(const std::vector<Card>& cards, const Card& card, const char* what) {
  if (card.name.find_first_not_of(' ') == std::string::npos)
    refuse(said("A {what} needs a name.", {{"what", what}}));
  const auto found = std::find_if(cards.begin(), cards.end(),
                                  [&](const Card& other) { return other.name == card.name; });
  const std::optional<Card> before = found == cards.end() ? std::nullopt : std::optional(*found);
  if (before != card) perform("the card of " + card.name, before, card);
}

void ProjectSession::set_steel_card(const SteelCard& card) {
  if (const auto fault = range_fault(card))
    refuse(said("{reason}. Nothing was changed.", {{"reason", fault->reason}}));
  set_card(trial().steels, card, "steel");
}

void ProjectSession::set_medium_card(const MediumCard& card) {
  set_card(trial().media, card, "medium");
}

}  // namespace bq::inline workflow
