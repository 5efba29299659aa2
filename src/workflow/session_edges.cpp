// What a session does to a blade's history and to the cards of steels and media.
#include <algorithm>
#include <memory>

#include "workflow/project_session.h"
#include "workflow/put_in_order.h"
#include "workflow/session_refusal.h"

namespace bq::inline workflow {
std::string ProjectSession::kept(const std::string& key) const {
  return file_.setting(key).value_or("");
}

void ProjectSession::keep(const std::string& key, const std::string& value,
                          const std::string& what) {
  const std::string before = kept(key);
  if (before == value) return;
  const auto put = [this, key](const std::string& text) { file_.set_setting(key, text); };
  perform({what, [put, value] { put(value); }, [put, before] { put(before); }});
}

void ProjectSession::duplicate_blade(std::size_t index, const std::string& name) {
  check_name(name, true, std::nullopt);
  const Blade& source = trial_.blades.at(index);
  auto made = std::make_shared<Blade>();
  made->name = name;
  made->steel = source.steel;
  made->note = source.note;
  // The latest of each: what a twin has too.
  const OutlineRecord* outline = nullptr;
  const SectionRecord* section = nullptr;
  for (const auto& record : source.records) {
    if (const auto* o = std::get_if<OutlineRecord>(&record.data)) outline = o;
    if (const auto* s = std::get_if<SectionRecord>(&record.data)) section = s;
  }
  if (outline) made->records.push_back({0, "", *outline});
  if (section) made->records.push_back({0, "", *section});
  perform({"duplicating blade " + source.name,
           [this, made] {
             *made = file_.add_blade(*made);
             trial_.blades.push_back(*made);
           },
           [this, made] {
             file_.remove_blade(made->id);
             std::erase_if(trial_.blades, [&](const Blade& other) { return other.id == made->id; });
           }});
}

void ProjectSession::set_retired(std::size_t index, bool retired) {
  Blade blade = trial_.blades.at(index);
  if (blade.retired == retired) return;
  blade.retired = retired;
  update_blade(index, blade);
}

void ProjectSession::add_records(std::size_t blade, const std::vector<EdgeRecordData>& data,
                                 const std::string& what) {
  if (data.empty()) return;
  const std::int64_t blade_id = trial_.blades.at(blade).id;
  auto records = std::make_shared<std::vector<EdgeRecord>>();
  for (const auto& item : data) records->push_back({0, "", item});
  perform({what + " of blade " + trial_.blades[blade].name,
           [this, records, blade_id] {
             *records = file_.add_edge_records(blade_id, *records);
             auto& target = trial_.blades[blade_index(blade_id)].records;
             target.insert(target.end(), records->begin(), records->end());
           },
           [this, records, blade_id] {
             file_.remove_edge_records(*records);
             auto& target = trial_.blades[blade_index(blade_id)].records;
             for (const auto& record : *records)
               std::erase_if(target,
                             [&](const EdgeRecord& other) { return other.id == record.id; });
           }});
}

void ProjectSession::remove_record(std::size_t blade, std::size_t record) {
  const std::int64_t blade_id = trial_.blades.at(blade).id;
  const EdgeRecord gone = trial_.blades[blade].records.at(record);
  perform({"taking a line out of the history of blade " + trial_.blades[blade].name,
           [this, blade_id, gone] {
             file_.remove_edge_records({gone});
             std::erase_if(trial_.blades[blade_index(blade_id)].records,
                           [&](const EdgeRecord& other) { return other.id == gone.id; });
           },
           [this, blade_id, gone, record] {
             file_.add_edge_records(blade_id, {gone});
             auto& target = trial_.blades[blade_index(blade_id)].records;
             target.insert(target.begin() + std::ptrdiff_t(std::min(record, target.size())), gone);
           }});
}

template <class Card>
void ProjectSession::set_card(std::vector<Card> Trial::* cards, const Card& card, const char* what,
                              void (ProjectFile::*put)(const Card&),
                              void (ProjectFile::*remove)(const std::string&)) {
  if (card.name.find_first_not_of(' ') == std::string::npos)
    refuse(std::string("A ") + what + " needs a name.");
  const auto& all = trial_.*cards;
  const auto found = std::find_if(all.begin(), all.end(),
                                  [&](const Card& other) { return other.name == card.name; });
  const std::optional<Card> before = found == all.end() ? std::nullopt : std::optional(*found);
  if (before == card) return;
  perform({"the card of " + card.name,
           [this, cards, card, put] {
             (file_.*put)(card);
             put_in_order(trial_.*cards, card);
           },
           [this, cards, card, before, put, remove] {
             if (before) {
               (file_.*put)(*before);
               put_in_order(trial_.*cards, *before);
             } else {
               (file_.*remove)(card.name);
               std::erase_if(trial_.*cards,
                             [&](const Card& other) { return other.name == card.name; });
             }
           }});
}

void ProjectSession::set_steel_card(const SteelCard& card) {
  if (card.hardness_hrc && !(*card.hardness_hrc >= 20 && *card.hardness_hrc <= 68))
    refuse("A hardness lies between 20 and 68 HRC. Nothing was changed.");
  if (card.hard_phase_percent &&
      !(*card.hard_phase_percent >= 0 && *card.hard_phase_percent <= 100))
    refuse("A hard-phase share lies between 0 and 100 %. Nothing was changed.");
  if (card.bend_strength_MPa && !(*card.bend_strength_MPa > 0 && *card.bend_strength_MPa < 1e5))
    refuse("A bend strength must be above 0 MPa. Nothing was changed.");
  set_card(&Trial::steels, card, "steel", &ProjectFile::set_steel_card,
           &ProjectFile::remove_steel_card);
}

void ProjectSession::set_medium_card(const MediumCard& card) {
  set_card(&Trial::media, card, "medium", &ProjectFile::set_medium_card,
           &ProjectFile::remove_medium_card);
}

}  // namespace bq::inline workflow
