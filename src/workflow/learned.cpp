#include "workflow/learned.h"

#include <algorithm>

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

}  // namespace

std::string Learned::count() const {
  std::string out;
  const auto add = [&](std::size_t count, const std::string& one) {
    if (count == 0) return;
    out += (out.empty() ? "" : ", ") + std::to_string(count) + " " + one + (count == 1 ? "" : "s");
  };
  add(steels.size(), "steel card");
  add(media.size(), "medium card");
  add(stones.size(), "abrasive");
  return out.empty() ? "nothing" : out;
}

Learned learn_from(const Trial& here, const Trial& other, const LearnChoice& choice,
                   const std::string& day) {
  Learned out;
  const std::string origin = "taken from " + other.title + " on " + day;
  if (choice.steels) take(here.steels, other.steels, origin, out.steels, out);
  if (choice.media) take(here.media, other.media, origin, out.media, out);
  if (choice.stones) take(here.shelf, other.shelf, origin, out.stones, out);
  return out;
}

void take_learned(ProjectSession& session, const Learned& learned) {
  const std::string count = learned.count();
  if (count == "nothing") return;
  session.as_one("taking over " + count, [&] {
    for (const auto& steel : learned.steels) session.set_steel_card(steel);
    for (const auto& medium : learned.media) session.set_medium_card(medium);
    for (const auto& stone : learned.stones) session.set_abrasive(stone);
  });
}

LifeTable lives_together(const std::vector<TrialLives>& trials) {
  LifeTable out;
  if (trials.empty()) return out;
  const auto work = media_of(trials.front().table);
  const std::string wanted = work.empty() ? std::string() : work.front().first;
  for (const auto& trial : trials) {
    for (const auto& row : trial.table.rows) {
      const std::string name = trial.name + ": " + row.facts.name;
      if (row.work != wanted) {
        out.left_out.push_back({name, "is other work (" +
                                          (row.work.empty() ? "not said" : row.work) +
                                          "), and is not put together with " +
                                          (wanted.empty() ? "runs that say none" : wanted)});
        continue;
      }
      LifeRow taken = row;
      taken.facts.name = name;
      taken.facts.blade = trial.name;
      // Factors of one trial's own are not asked of the others.
      taken.facts.factors.clear();
      out.rows.push_back(std::move(taken));
    }
    for (const auto& left : trial.table.left_out)
      out.left_out.push_back({trial.name + ": " + left.run, left.reason});
  }
  return out;
}

}  // namespace bq::inline workflow
