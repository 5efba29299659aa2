#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <string_view>

#include "store/project_file.h"

namespace bq::inline store {

/// Bytes of a project's pictures, to be used on any thread; the project is held up for one mebibyte
/// at a time. It does not keep the project open: once that is closed nothing more comes or goes.
class PictureStore {
 public:
  explicit PictureStore(std::weak_ptr<ProjectFile::Database> database)
      : database_(std::move(database)) {}
  /// Puts a file's bytes into the project and returns their row. `go_on` hears the share done and
  /// may say no: then 0 is returned and nothing is left. The row counts only once a micrograph was
  /// added with its id; what never was is dropped at the next opening. Throws StoreError.
  std::int64_t add(const std::string& name, const std::string& kind, std::string_view bytes,
                   const std::function<bool(double)>& go_on = {});
  /// Empty when there is none, the project was closed, or `stop` said so. Throws StoreError.
  [[nodiscard]] std::optional<std::string> bytes(std::int64_t id,
                                                 const std::function<bool()>& stop = {}) const;

 private:
  std::weak_ptr<ProjectFile::Database> database_;
};

/// SHA-256, hexadecimal (OpenSSL).
std::string sha256_of(std::string_view bytes);
/// What a picture file says of itself; nothing of where it was taken.
Micrograph micrograph_of(const PictureFile& picture);

}  // namespace bq::inline store
