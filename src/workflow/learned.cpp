#include "workflow/learned.h"

#include <algorithm>
#include <array>

#include "quantity/said.h"
#include "store/bench_json.h"
#include "store/jig_files.h"
#include "store/json_fields.h"
#include "workflow/section_study.h"

namespace bq::inline workflow {
namespace {

std::string with_origin(const std::string& note, const std::string& origin) {
  return note.empty() ? origin : note + "; " + origin;
}

/// Whether a note already says where its card was taken from; that origin stays.
bool says_origin(const std::string& note) { return note.find("taken from ") != std::string::npos; }

/// Takes what is not here by name; notes what is.
template <class Card>
void take(const std::vector<Card>& here, const std::vector<Card>& other, const std::string& origin,
          std::vector<Card>& out, Learned& learned) {
  for (const Card& card : other) {
    const auto known =
        std::find_if(here.begin(), here.end(), [&](const Card& c) { return c.name == card.name; });
    if (known != here.end()) {
      learned.there.push_back(card.name);
      Card plain = card, own = *known;
      plain.note.clear();
      own.note.clear();
      if (!(plain == own)) learned.unlike.push_back(card.name);
      continue;
    }
    Card taken = card;
    if (!says_origin(taken.note)) taken.note = with_origin(taken.note, origin);
    out.push_back(std::move(taken));
  }
}

struct KnownSetting {
  const char* key;
  const char* words;
};
constexpr std::array kSettings{
    KnownSetting{kClampJigKey, "the clamp jig"},
    KnownSetting{kSectionQuestionsKey, "the side load and what metal costs"},
    KnownSetting{kProtocolKey, "the bench's protocol"},
    KnownSetting{kInstrumentsKey, "the instruments"}};

/// Of a project that keeps none: of its newest setting on record.
std::string jig_on_record(const Trial& trial) {
  const EdgeRecord* newest = nullptr;
  for (const auto& blade : trial.blades)
    for (const auto& record : blade.records)
      if (std::holds_alternative<SettingRecord>(record.data) &&
          (!newest || record.made_at >= newest->made_at))
        newest = &record;
  if (!newest) return "";
  const auto& setting = std::get<SettingRecord>(newest->data);
  return jig_text(
      {setting.pivot_x_mm, setting.pivot_lateral_mm, setting.pivot_height_mm, setting.offset_mm});
}

/// What of a setting is the bench's: a protocol also says which filament and medium lie there now.
std::string of_the_bench(const std::string& key, const std::string& text) {
  if (key != kProtocolKey) return text;
  const auto read = parse_protocol(text);
  if (!read) return "";
  BenchProtocol protocol = *read;
  protocol.filament_lot.clear();
  protocol.medium_batch.clear();
  return protocol_json(protocol);
}

/// The marks of what was taken over; what cannot be read marks nothing.
nlohmann::json marks_in(const std::string& kept) {
  if (kept.empty()) return nlohmann::json::object();
  try {
    auto read = parse_json(kept);
    return read.is_object() ? read : nlohmann::json::object();
  } catch (const JsonFault&) {
    return nlohmann::json::object();
  }
}
std::string origin_in(const std::string& marks, const std::string& key, const std::string& now) {
  const auto all = marks_in(marks);
  const auto mark = all.find(key);
  if (mark == all.end() || !mark->is_object()) return "";
  if (mark->value("text", nlohmann::json()) != nlohmann::json(now)) return "";
  const auto origin = mark->value("origin", nlohmann::json());
  return origin.is_string() ? origin.get<std::string>() : "";
}

}  // namespace

std::string words_of_setting(const std::string& key) {
  for (const auto& known : kSettings)
    if (key == known.key) return known.words;
  return key;
}

Teacher teacher_from(const ProjectFile& project) {
  Teacher out{project.load(), {}};
  const std::string marks = project.setting(kTakenOverKey).value_or("");
  for (const auto& known : kSettings) {
    std::string text = project.setting(known.key).value_or("");
    if (text.empty() && known.key == kClampJigKey) text = jig_on_record(out.trial);
    const std::string origin = origin_in(marks, known.key, text);
    text = of_the_bench(known.key, text);
    if (!text.empty()) out.bench.push_back({known.key, text, origin});
  }
  return out;
}

std::string Learned::count() const {
  std::string out;
  const auto add = [&](const std::string& what) { out += (out.empty() ? "" : ", ") + what; };
  const auto count = [&](std::size_t many, const std::string& one) {
    if (many > 0) add(std::to_string(many) + " " + one + (many == 1 ? "" : "s"));
  };
  count(steels.size(), said("steel card"));
  count(media.size(), said("medium card"));
  count(stones.size(), "abrasive");
  for (const auto& setting : bench) add(words_of_setting(setting.key));
  return out.empty() ? "nothing" : out;
}

Learned learn_from(const ProjectSession& here, const Teacher& other, const LearnChoice& choice,
                   const std::string& day) {
  Learned out;
  const std::string name = other.trial.title.empty() ? said("another project") : other.trial.title;
  const std::string origin = "taken from " + name + " on " + day;
  const Trial& own = here.trial();
  if (choice.steels) take(own.steels, other.trial.steels, origin, out.steels, out);
  if (choice.media) take(own.media, other.trial.media, origin, out.media, out);
  if (choice.stones) take(own.shelf, other.trial.shelf, origin, out.stones, out);
  for (const auto& setting : other.bench) {
    if (!(setting.key == kClampJigKey ? choice.jig : choice.bench)) continue;
    const std::string kept = here.kept(setting.key);
    if (kept.empty()) {
      out.bench.push_back(setting);
      if (setting.origin.empty()) out.bench.back().origin = origin;
      continue;
    }
    out.there.push_back(words_of_setting(setting.key));
    if (of_the_bench(setting.key, kept) != setting.text)
      out.unlike.push_back(words_of_setting(setting.key));
  }
  return out;
}

void take_learned(ProjectSession& session, const Learned& learned) {
  const std::string count = learned.count();
  if (count == "nothing") return;
  session.as_one(said("taking over {count}", {{"count", count}}), [&] {
    for (const auto& steel : learned.steels) session.set_steel_card(steel);
    for (const auto& medium : learned.media) session.set_medium_card(medium);
    for (const auto& stone : learned.stones) session.set_abrasive(stone);
    if (learned.bench.empty()) return;
    auto marks = marks_in(session.kept(kTakenOverKey));
    for (const auto& setting : learned.bench) {
      session.keep(setting.key, setting.text, words_of_setting(setting.key));
      marks[setting.key] = {{"origin", setting.origin}, {"text", setting.text}};
    }
    session.keep(kTakenOverKey, compact_text(marks), said("where it was taken from"));
  });
}

std::string origin_of_setting(const ProjectSession& session, const std::string& key) {
  return origin_in(session.kept(kTakenOverKey), key, session.kept(key));
}

}  // namespace bq::inline workflow
