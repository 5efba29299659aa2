#include "edge/evidence_key.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

#include "quantity/number.h"
#include "quantity/said.h"
#include "quantity/wording.h"

namespace bq::inline edge {
namespace {

constexpr std::array<std::string_view, 5> kOften{"never", "seldom", "sometimes", "often", "always"};
constexpr std::array<std::string_view, 3> kEfforts{"look", "touch", "test"};
constexpr double kLeastGain_bit = 0.02;

const EvidenceQuestion* find_question(const EvidenceKey& key, const std::string& id) {
  const auto found = std::find_if(key.questions.begin(), key.questions.end(),
                                  [&](const auto& q) { return q.id == id; });
  return found == key.questions.end() ? nullptr : &*found;
}

const EvidenceAnswer* find_answer(const EvidenceQuestion& question, const std::string& id) {
  const auto found = std::find_if(question.answers.begin(), question.answers.end(),
                                  [&](const auto& a) { return a.id == id; });
  return found == question.answers.end() ? nullptr : &*found;
}

/// Shares of a question's answers under an outcome, in their order; they add up to 1.
std::vector<double> shares(const EvidenceQuestion& question, const EvidenceOutcome& outcome) {
  std::vector<double> out(question.answers.size(), 1.0 / double(question.answers.size()));
  const auto row = outcome.expect.find(question.id);
  const bool named = row != outcome.expect.end();
  if (!named && question.otherwise.empty()) return out;
  double sum = 0;
  for (std::size_t i = 0; i < out.size(); ++i) {
    Often often = Often::seldom;
    if (named) {
      if (const auto cell = row->second.find(question.answers[i].id); cell != row->second.end())
        often = cell->second.often;
    } else if (const auto cell = question.otherwise.find(question.answers[i].id);
               cell != question.otherwise.end()) {
      often = cell->second;
    }
    out[i] = share_of(often);
    sum += out[i];
  }
  for (double& share : out) share /= sum;
  return out;
}

std::size_t index_of(const EvidenceQuestion& question, const std::string& answer) {
  return std::size_t(find_answer(question, answer) - question.answers.data());
}

void normalise(std::vector<double>& p) {
  double sum = 0;
  for (const double x : p) sum += x;
  for (double& x : p) x /= sum;
}

double entropy_bit(const std::vector<double>& p) {
  double out = 0;
  for (const double x : p)
    if (x > 0) out -= x * std::log2(x);
  return out;
}

double effort_of(Effort effort) {
  return std::array<double, 3>{1.0, 1.3, 2.0}[std::size_t(effort)];
}

/// Expected fall of entropy when a question is answered.
double gain_bit(const EvidenceKey& key, const EvidenceQuestion& question,
                const std::vector<double>& p) {
  std::vector<std::vector<double>> table;
  for (const auto& outcome : key.outcomes) table.push_back(shares(question, outcome));
  double left = 0;
  for (std::size_t a = 0; a < question.answers.size(); ++a) {
    std::vector<double> after(p.size());
    double chance = 0;
    for (std::size_t o = 0; o < p.size(); ++o) chance += after[o] = p[o] * table[o][a];
    if (chance <= 0) continue;
    normalise(after);
    left += chance * entropy_bit(after);
  }
  return entropy_bit(p) - left;
}

/// Why an answer speaks for and against the outcomes.
std::string explain(const EvidenceKey& key, const EvidenceQuestion& question,
                    const std::string& answer, const std::vector<double>& before) {
  std::map<Often, std::vector<std::string>, std::greater<>> by_often;
  std::string because;
  double strongest = -1;
  const std::size_t place = index_of(question, answer);
  for (std::size_t o = 0; o < key.outcomes.size(); ++o) {
    const auto row = key.outcomes[o].expect.find(question.id);
    if (row == key.outcomes[o].expect.end() || before[o] < 0.005) continue;
    const auto cell = row->second.find(answer);
    by_often[cell == row->second.end() ? Often::seldom : cell->second.often].push_back(
        key.outcomes[o].name);
    const double weight = before[o] * shares(question, key.outcomes[o])[place];
    if (cell != row->second.end() && !cell->second.because.empty() && weight > strongest) {
      strongest = weight;
      because = cell->second.because;
    }
  }
  std::string out;
  for (const auto& [often, names] : by_often)
    if (often != Often::sometimes)
      out += said("{separator}{often} with {names}", {{"separator", out.empty() ? "" : "; "},
                                                      {"often", std::string(name_of(often))},
                                                      {"names", either_of(names)}});
  if (!because.empty())
    out += said("{separator}because {because}",
                {{"separator", out.empty() ? "" : " — "}, {"because", because}});
  return out.empty() ? said("it does not tell the ones that are left apart") : out;
}

}  // namespace

std::string_view name_of(Often often) { return kOften[std::size_t(often)]; }
std::optional<Often> parse_often(std::string_view text) {
  const auto found = std::find(kOften.begin(), kOften.end(), text);
  if (found == kOften.end()) return std::nullopt;
  return Often(found - kOften.begin());
}
double share_of(Often often) {
  return std::array<double, 5>{0.01, 0.07, 0.25, 0.65, 0.95}[std::size_t(often)];
}
std::string_view name_of(Effort effort) { return kEfforts[std::size_t(effort)]; }
std::optional<Effort> parse_effort(std::string_view text) {
  const auto found = std::find(kEfforts.begin(), kEfforts.end(), text);
  if (found == kEfforts.end()) return std::nullopt;
  return Effort(found - kEfforts.begin());
}

bool is_drawing(std::string_view name) {
  return std::find(std::begin(kDrawings), std::end(kDrawings), name) != std::end(kDrawings);
}

std::vector<std::string> faults_of(const EvidenceKey& key) {
  std::vector<std::string> out;
  if (key.questions.empty()) out.emplace_back(said("there is no question"));
  if (key.outcomes.size() < 2) out.emplace_back(said("a key needs two outcomes at least"));
  if (!(key.sure > 0.5 && key.sure < 1)) out.emplace_back(said("\"sure\" lies between 0.5 and 1"));
  std::set<std::string> ids;
  for (std::size_t i = 0; i < key.questions.size(); ++i) {
    const auto& q = key.questions[i];
    const std::string where = "questions[" + std::to_string(i) + "] \"" + q.id + "\": ";
    if (q.id.empty() || !ids.insert(q.id).second)
      out.push_back(
          said("{where}an id must be there and be the only one of its name", {{"where", where}}));
    if (q.ask.empty()) out.push_back(said("{where}\"ask\" is empty", {{"where", where}}));
    if (q.answers.size() < 2)
      out.push_back(said("{where}a question needs two answers at least", {{"where", where}}));
    for (const auto& cell : q.otherwise)
      if (!find_answer(q, cell.first))
        out.push_back(said("{where}\"otherwise\" names \"{cell}\", which is no answer",
                           {{"where", where}, {"cell", cell.first}}));
    std::set<std::string> answers;
    for (const auto& answer : q.answers)
      if (answer.id.empty() || answer.text.empty() || !answers.insert(answer.id).second)
        out.push_back(said("{where}answer \"{id}\" needs an id of its own and a text",
                           {{"where", where}, {"id", answer.id}}));
      else if (!answer.draw.empty() && !is_drawing(answer.draw))
        out.push_back(said("{where}\"{draw}\" is no drawing this program has",
                           {{"where", where}, {"draw", answer.draw}}));
  }
  ids.clear();
  for (std::size_t i = 0; i < key.outcomes.size(); ++i) {
    const auto& o = key.outcomes[i];
    const std::string where = "outcomes[" + std::to_string(i) + "] \"" + o.id + "\": ";
    if (o.id.empty() || !ids.insert(o.id).second)
      out.push_back(
          said("{where}an id must be there and be the only one of its name", {{"where", where}}));
    if (o.name.empty()) out.push_back(said("{where}\"name\" is empty", {{"where", where}}));
    if (!o.draw.empty() && !is_drawing(o.draw))
      out.push_back(said("{where}\"{draw}\" is no drawing this program has",
                         {{"where", where}, {"draw", o.draw}}));
    if (o.act.empty())
      out.push_back(said("{where}\"do\" is empty: an outcome says what to do", {{"where", where}}));
    for (const auto& [question, row] : o.expect) {
      const auto* q = find_question(key, question);
      if (!q) {
        out.push_back(said("{where}expects an answer to \"{question}\", which is no question",
                           {{"where", where}, {"question", question}}));
        continue;
      }
      for (const auto& cell : row)
        if (!find_answer(*q, cell.first))
          out.push_back(said("{where}expects \"{cell}\", which is no answer to \"{question}\"",
                             {{"where", where}, {"cell", cell.first}, {"question", question}}));
    }
  }
  if (!out.empty()) return out;
  for (std::size_t a = 0; a < key.outcomes.size(); ++a)
    for (std::size_t b = a + 1; b < key.outcomes.size(); ++b) {
      const bool told = std::any_of(key.questions.begin(), key.questions.end(), [&](const auto& q) {
        const auto p = shares(q, key.outcomes[a]), r = shares(q, key.outcomes[b]);
        for (std::size_t i = 0; i < p.size(); ++i)
          if (std::max(p[i], r[i]) > 2 * std::min(p[i], r[i])) return true;
        return false;
      });
      if (!told)
        out.push_back(said("no question tells \"{name}\" from \"{name_2}\"",
                           {{"name", key.outcomes[a].name}, {"name_2", key.outcomes[b].name}}));
    }
  return out;
}

EvidenceKey extended(EvidenceKey key, const EvidenceKey& more) {
  const auto merge = [](auto& into, const auto& from) {
    for (const auto& item : from) {
      const auto found = std::find_if(into.begin(), into.end(),
                                      [&](const auto& other) { return other.id == item.id; });
      if (found == into.end())
        into.push_back(item);
      else
        *found = item;
    }
  };
  merge(key.questions, more.questions);
  merge(key.outcomes, more.outcomes);
  return key;
}

Checked<EvidenceResult> weigh(const EvidenceKey& key, const Observations& evidence) {
  for (const auto& [question, answer] : evidence) {
    const auto* q = find_question(key, question);
    if (!q)
      return Refusal{said("\"{question}\" is no question of this key", {{"question", question}})};
    if (!find_answer(*q, answer))
      return Refusal{
          said("\"{answer}\" is no answer to \"{ask}\"", {{"answer", answer}, {"ask", q->ask}})};
  }
  EvidenceResult out;
  std::vector<double> p;
  for (const auto& outcome : key.outcomes) p.push_back(share_of(outcome.usual));
  normalise(p);
  const auto leader = [&] { return std::size_t(std::max_element(p.begin(), p.end()) - p.begin()); };
  for (const auto& question : key.questions) {
    const auto given = evidence.find(question.id);
    if (given == evidence.end()) continue;
    EvidenceStep step{question.id, given->second, explain(key, question, given->second, p), 0, 0};
    const std::size_t place = index_of(question, given->second);
    for (std::size_t o = 0; o < p.size(); ++o) p[o] *= shares(question, key.outcomes[o])[place];
    normalise(p);
    step.leader = leader();
    step.probability = p[step.leader];
    out.steps.push_back(std::move(step));
    ++out.answered;
  }
  for (std::size_t o = 0; o < p.size(); ++o) out.ranked.push_back({o, p[o]});
  std::stable_sort(out.ranked.begin(), out.ranked.end(),
                   [](const auto& a, const auto& b) { return a.probability > b.probability; });

  double best = 0;
  for (std::size_t i = 0; i < key.questions.size(); ++i) {
    if (evidence.contains(key.questions[i].id)) continue;
    const double gain = gain_bit(key, key.questions[i], p);
    const double worth = gain / effort_of(key.questions[i].effort);
    if (gain >= kLeastGain_bit && worth > best) {
      best = worth;
      out.next = i;
    }
  }
  const auto& first = out.ranked.front();
  const std::string share = print_number(100 * first.probability, 2) + " %";
  if (first.probability >= key.sure && out.answered >= key.least_answers) {
    out.found = first.outcome;
    const std::string& name = key.outcomes[first.outcome].name;
    out.sentence = std::string(1, char(std::toupper(static_cast<unsigned char>(name[0])))) +
                   name.substr(1) + " (" + (first.probability > 0.995 ? "over 99 %" : share) + ").";
    return out;
  }
  const std::string rivals =
      out.ranked.size() > 1
          ? said("{name} ({share}) or {name_2} ({probability} %)",
                 {{"name", key.outcomes[first.outcome].name},
                  {"share", share},
                  {"name_2", key.outcomes[out.ranked[1].outcome].name},
                  {"probability", print_number(100 * out.ranked[1].probability, 2)}})
          : key.outcomes[first.outcome].name;
  if (out.next)
    out.sentence = said("{nothing_is_known}. Look at this next: {ask}",
                        {{"nothing_is_known", out.answered == 0 ? said("Nothing is known yet")
                                                                : said("Cannot tell yet: {rivals}",
                                                                       {{"rivals", rivals}})},
                         {"ask", key.questions[*out.next].ask}});
  else
    out.sentence = said(
        "Cannot tell: {rivals}. Nothing that is asked here would decide it; look at the apex under "
        "a microscope, or ask a trained person.",
        {{"rivals", rivals}});
  return out;
}

}  // namespace bq::inline edge
