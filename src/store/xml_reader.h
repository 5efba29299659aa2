#pragma once

#include <libxml/xmlreader.h>

#include <limits>
#include <memory>
#include <optional>
#include <stdexcept>
#include <string>
#include <string_view>

namespace bq::inline store {

/// A part of an archive that is no well-formed XML.
struct NotWellFormed : std::runtime_error {
  NotWellFormed() : std::runtime_error("not well-formed") {}
};

/// Walks through XML in memory, element by element, with libxml2. No entity of the document's own
/// is resolved, nothing is fetched, depth and text are bounded by the library. Names are compared
/// without their prefix.
class XmlReader {
 public:
  explicit XmlReader(std::string_view xml)
      : reader_(xmlReaderForMemory(
                    xml.data(), int(xml.size()), nullptr, nullptr,
                    XML_PARSE_NONET | XML_PARSE_NOERROR | XML_PARSE_NOWARNING | XML_PARSE_NOCDATA),
                xmlFreeTextReader) {
    if (!reader_ || xml.size() > std::size_t(std::numeric_limits<int>::max()))
      throw NotWellFormed();
  }
  /// The next node; false at the end. Throws NotWellFormed.
  bool next() {
    const int more = xmlTextReaderRead(reader_.get());
    if (more < 0) throw NotWellFormed();
    return more == 1;
  }
  /// An element that begins here and has this name.
  [[nodiscard]] bool begins(const char* name) const {
    return xmlTextReaderNodeType(reader_.get()) == XML_READER_TYPE_ELEMENT && is(name);
  }
  [[nodiscard]] bool ends(const char* name) const {
    const int type = xmlTextReaderNodeType(reader_.get());
    const bool whole = type == XML_READER_TYPE_ELEMENT && empty();
    return is(name) && (type == XML_READER_TYPE_END_ELEMENT || whole);
  }
  [[nodiscard]] bool begins_any() const {
    return xmlTextReaderNodeType(reader_.get()) == XML_READER_TYPE_ELEMENT;
  }
  [[nodiscard]] bool empty() const { return xmlTextReaderIsEmptyElement(reader_.get()) == 1; }
  [[nodiscard]] int depth() const { return xmlTextReaderDepth(reader_.get()); }
  [[nodiscard]] std::string_view prefix() const {
    return view(xmlTextReaderConstPrefix(reader_.get()));
  }
  /// Text here, else "".
  [[nodiscard]] std::string_view text() const {
    const int type = xmlTextReaderNodeType(reader_.get());
    const bool is_text = type == XML_READER_TYPE_TEXT || type == XML_READER_TYPE_CDATA ||
                         type == XML_READER_TYPE_SIGNIFICANT_WHITESPACE ||
                         type == XML_READER_TYPE_WHITESPACE;
    return is_text ? view(xmlTextReaderConstValue(reader_.get())) : std::string_view();
  }
  /// An attribute of the element here, by its name without prefix; `prefixed`: of those with one.
  [[nodiscard]] std::optional<std::string> attribute(const char* name, bool prefixed = false) {
    std::optional<std::string> out;
    for (int more = xmlTextReaderMoveToFirstAttribute(reader_.get()); more == 1 && !out;
         more = xmlTextReaderMoveToNextAttribute(reader_.get()))
      if (is(name) && (!prefixed || !prefix().empty()))
        out = std::string(view(xmlTextReaderConstValue(reader_.get())));
    xmlTextReaderMoveToElement(reader_.get());
    return out;
  }
  /// Hands every attribute of the element here to `take(name, value)`: quicker than one by one.
  template <class Take>
  void each_attribute(const Take& take) {
    for (int more = xmlTextReaderMoveToFirstAttribute(reader_.get()); more == 1;
         more = xmlTextReaderMoveToNextAttribute(reader_.get()))
      take(name(), view(xmlTextReaderConstValue(reader_.get())));
    xmlTextReaderMoveToElement(reader_.get());
  }
  /// Leaves out what is inside the element here.
  void skip() {
    if (empty()) return;
    const int outer = depth();
    while (next() && depth() > outer) {
    }
  }
  /// All text inside the element here, without the elements named `but`.
  std::string inner_text(std::string_view but = {}) {
    std::string out;
    if (empty()) return out;
    const int outer = depth();
    while (next() && depth() > outer)
      if (begins_any() && !but.empty() && name() == but)
        skip();
      else
        out += text();
    return out;
  }
  [[nodiscard]] std::string_view name() const {
    return view(xmlTextReaderConstLocalName(reader_.get()));
  }

 private:
  [[nodiscard]] bool is(const char* name) const { return this->name() == name; }
  static std::string_view view(const xmlChar* text) {
    return text ? reinterpret_cast<const char*>(text) : std::string_view();
  }
  std::unique_ptr<xmlTextReader, void (*)(xmlTextReaderPtr)> reader_;
};

}  // namespace bq::inline store
