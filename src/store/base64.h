#pragma once

#include <cstddef>
#include <optional>
#include <string>

namespace bq::inline store {

/// RFC 4648, by OpenSSL; of at most 1.5 GiB.
std::string base64_of(const void* bytes, std::size_t size);
/// The bytes; empty where the text is no base64.
std::optional<std::string> from_base64(const std::string& text);

}  // namespace bq::inline store
