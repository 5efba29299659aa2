#pragma once

#include <string>

// Plain C++17: the one source that sees the PDF library is compiled so (CMakeLists.txt says why).
namespace bq {
inline namespace report {

/// A PDF document with a file attached (QPDF). `date`: ISO 8601 day of the file.
std::string with_attachment(const std::string& pdf, const std::string& name,
                            const std::string& bytes, const std::string& date);

}  // namespace report
}  // namespace bq
