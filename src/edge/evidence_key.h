#pragma once

#include <cstddef>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "quantity/checked.h"

namespace bq::inline edge {

/// How often an answer is given when an outcome is true. In words in the rule file; as shares:
/// always 0.95, often 0.65, sometimes 0.25, seldom 0.07, never 0.01 (people misread, so never is
/// not 0). A row of answers is brought to a sum of 1. The shares are this program's, not measured.
enum class Often { never, seldom, sometimes, often, always };
std::string_view name_of(Often often);
std::optional<Often> parse_often(std::string_view text);
double share_of(Often often);

/// What an answer costs the tester: a look, a touch, or a test of its own.
enum class Effort { look, touch, test };
std::string_view name_of(Effort effort);
std::optional<Effort> parse_effort(std::string_view text);

/// Drawings a rule file may name; the window draws each of them.
inline constexpr std::string_view kDrawings[] = {
    "burr-one",   "burr-both",    "clean",        "glint-line",     "glint-spots",
    "feather",    "rolled",       "chips",        "wire",           "foil",
    "flat",       "ink-whole",    "ink-apex",     "ink-places",     "ink-ends",
    "stone-flat", "stone-dished", "stone-loaded", "blade-straight", "blade-bent",
    "slim",       "thick",        "micro-narrow", "micro-wide",     "strop-soft"};
bool is_drawing(std::string_view name);

struct EvidenceAnswer {
  std::string id;
  std::string text;
  std::string draw;  ///< name of a drawing; "" without one
};
struct EvidenceQuestion {
  std::string id;
  std::string ask;  ///< the question
  std::string how;  ///< how to find out, and the caution that belongs to it
  Effort effort = Effort::look;
  std::string known;  ///< a fact the project may know instead of the tester; "" for none
  std::vector<EvidenceAnswer> answers;
  /// How often each answer is given where an outcome says nothing of this question (a loaded stone
  /// is rare whatever else is wrong). Empty: all answers alike.
  std::map<std::string, Often> otherwise;
};
/// What to expect of one answer, and why.
struct Expectation {
  Often often = Often::sometimes;
  std::string because;
};
struct EvidenceOutcome {
  std::string id;
  std::string name;
  std::string draw;
  Often usual = Often::sometimes;  ///< before anything is known
  std::vector<std::string> act;    ///< what to do, in order
  std::vector<std::string> avoid;  ///< what not to do
  std::string confirm;             ///< the check that confirms it; "" without one
  /// By question, then answer. Without an entry for a question its `otherwise` holds; an
  /// answer without one is seldom given where another one is named.
  std::map<std::string, std::map<std::string, Expectation>> expect;
};

/// Questions and outcomes of one key: the rule base, as read from its file and validated.
struct EvidenceKey {
  std::string id;  ///< "edge-condition"
  std::string title;
  double sure = 0.8;  ///< an outcome is named from this probability on
  int least_answers = 2;
  std::vector<EvidenceQuestion> questions;
  std::vector<EvidenceOutcome> outcomes;
};
/// Whole sentences, each with the place ("outcomes[2] \"foil\": …"); empty when the key is sound:
/// ids are unique and known, every question has two answers or more, every outcome can be told from
/// every other one by some question, and texts are there.
std::vector<std::string> faults_of(const EvidenceKey& key);
/// A key with more of the same id added: outcomes and questions of the same id are replaced.
EvidenceKey extended(EvidenceKey key, const EvidenceKey& more);

/// Answer by question.
using Observations = std::map<std::string, std::string>;

struct RankedOutcome {
  std::size_t outcome = 0;
  double probability = 0;
};
/// One answer's part in the result.
struct EvidenceStep {
  std::string question, answer;  ///< ids
  std::string sentence;  ///< "Felt: on one side. That is always so with a primary burr, because …;
                         ///< never with a clean edge."
  std::size_t leader = 0;  ///< outcome in front after this answer
  double probability = 0;  ///< its probability
};
struct EvidenceResult {
  std::vector<RankedOutcome> ranked;  ///< most probable first
  std::vector<EvidenceStep> steps;    ///< in the order of the questions
  std::optional<std::size_t> found;   ///< the outcome named; empty: cannot tell
  std::optional<std::size_t> next;    ///< question that would tell most for its effort; empty: none
                                      ///< is left that tells anything
  std::string sentence;               ///< "Wire edge (91 %)." or "Cannot tell: look at …"
  int answered = 0;
};

/// Bayes' rule over the outcomes, each answer independent given the outcome. `next` is the open
/// question with the largest expected fall of entropy over its effort (look 1, touch 1.3, test 2);
/// one that promises less than 0.02 bit is not proposed. Refused: an unknown question or answer.
Checked<EvidenceResult> weigh(const EvidenceKey& key, const Observations& evidence);

}  // namespace bq::inline edge
