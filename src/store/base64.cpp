#include "store/base64.h"

#include <openssl/evp.h>

namespace bq::inline store {

std::string base64_of(const void* bytes, std::size_t size) {
  std::string out(4 * ((size + 2) / 3) + 1, '\0');
  out.resize(std::size_t(EVP_EncodeBlock(reinterpret_cast<unsigned char*>(out.data()),
                                         static_cast<const unsigned char*>(bytes), int(size))));
  return out;
}

std::optional<std::string> from_base64(const std::string& text) {
  if (text.size() % 4 != 0) return std::nullopt;
  std::string out(3 * (text.size() / 4) + 1, '\0');
  const int size =
      EVP_DecodeBlock(reinterpret_cast<unsigned char*>(out.data()),
                      reinterpret_cast<const unsigned char*>(text.data()), int(text.size()));
  if (size < 0) return std::nullopt;
  out.resize(std::size_t(size) - std::size_t(text.ends_with("==")  ? 2
                                             : text.ends_with("=") ? 1
                                                                   : 0));
  return out;
}

}  // namespace bq::inline store
