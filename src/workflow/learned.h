#pragma once

#include <string>
#include <vector>

#include "store/project_file.h"
#include "trial/trial.h"
#include "workflow/project_session.h"

namespace bq::inline workflow {

/// What is taken from another project.
struct LearnChoice {
  bool steels = true, media = true, stones = true;
  bool jig = true;    ///< the clamp jig's own measures
  bool bench = true;  ///< the load and rates of Section, the protocol, the instruments
};

/// The clamp jig that blades without a setting of their own begin with; kept under this key.
inline constexpr const char* kClampJigKey = "clamp-jig";
/// Where settings of this bench were taken from; kept under this key.
inline constexpr const char* kTakenOverKey = "taken-over";

/// Something a project keeps of its bench, beside cards and stones.
struct BenchSetting {
  std::string key, text;  ///< as kept
  std::string origin;     ///< of its own: "taken from …", where it was taken and is unchanged
};
/// "the clamp jig", "the side load and what metal costs", …
std::string words_of_setting(const std::string& key);

/// A project that is learnt from.
struct Teacher {
  Trial trial;
  std::vector<BenchSetting> bench;  ///< what it keeps; one without a jig of its own gives that of
                                    ///< its newest setting on record
};
/// Throws StoreError.
Teacher teacher_from(const ProjectFile& project);

/// What one project can take from another: what it has not by name already, each with its origin
/// in its note ("taken from Fernmoor trial on 2026-11-30"). Stones come with their measured sizes,
/// rates, flatness and wear; steels with hardness, behaviour and strength; of the bench what this
/// project keeps nothing of.
struct Learned {
  std::vector<SteelCard> steels;
  std::vector<MediumCard> media;
  std::vector<Abrasive> stones;
  std::vector<BenchSetting> bench;
  std::vector<std::string> there;  ///< names that are here already, and are left as they are
  std::vector<std::string>
      unlike;  ///< of those, the ones of which the other project says otherwise
  /// "3 steel cards, 1 medium card, 8 abrasives, the clamp jig"; "nothing".
  [[nodiscard]] std::string count() const;
};
/// `day`: ISO 8601, when it is taken.
Learned learn_from(const ProjectSession& here, const Teacher& other, const LearnChoice& choice,
                   const std::string& day);
/// As one step of undo. Throws StoreError.
void take_learned(ProjectSession& session, const Learned& learned);

/// Where a setting was taken from ("taken from Fernmoor trial on 2026-11-30") while it is as it was
/// taken; "" where it is this bench's own.
std::string origin_of_setting(const ProjectSession& session, const std::string& key);

}  // namespace bq::inline workflow
