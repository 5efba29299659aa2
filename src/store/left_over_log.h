#pragma once

#include <SQLiteCpp/SQLiteCpp.h>

#include <filesystem>
#include <string>

namespace bq::inline store {

/// SQLite applies any log (`-wal`, `-journal`) that lies beside a file of that name, whoever wrote
/// it: after a restored copy, a replaced file, a new project of an old name it would bring in
/// foreign pages. So a project knows its log: the setting kLogKey holds an identity and a count,
/// and the first thing in every log is that setting, counted up. A log belongs to a file whose
/// count is its own, or one less.
inline constexpr const char* kLogKey = "log";

/// The file by an address under which SQLite takes it for one that nobody changes, and does not
/// look for a log.
std::string uri_without_log(const std::filesystem::path& path);

/// Writes that setting, counted up; made where there is none. For the beginning of a log only.
void begin_log(SQLite::Database& db);
/// Another identity: for a copy, which goes its own way from here on. The file must not be in use.
void give_new_identity(const std::filesystem::path& path);

/// `stem` + `end`, or with a number between, the first that is no file yet:
/// "trial.damaged.bquarry", "trial.damaged-2.bquarry".
std::filesystem::path free_name(const std::string& stem, const std::string& end = "");
/// Removes a database of one's own making with whatever SQLite laid beside it.
void remove_with_logs(const std::filesystem::path& file);

/// Moves logs out of the way of a file that is about to be made. Returns the names they have now,
/// for a sentence; "" where there were none. Nothing is destroyed.
std::string set_aside_logs(const std::filesystem::path& path);

struct LeftOverLog {
  bool belongs = true;    ///< there is none, it is the file's own, or that cannot be known
  std::string set_aside;  ///< where it is now, when it was moved out of the way
};
/// Looks at the log beside a project file that nobody uses. A log that does not belong is moved out
/// of the way (`may_move`) and never applied; the file is not touched. The look reads a link of the
/// file and a copy of the log, made beside it for the moment.
LeftOverLog look_at_log(const std::filesystem::path& path, bool may_move);

}  // namespace bq::inline store
