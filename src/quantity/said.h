#pragma once

#include <initializer_list>
#include <string>
#include <string_view>

namespace bq::inline quantity {

/// What stands at a named place of a sentence.
struct InPlace {
  std::string_view name;
  std::string text;
};

/// A sentence of the rooms below the window, in the language that was set: each "{name}" becomes
/// the text of that place, whatever that text holds; a place that is not given stays as it is
/// written. Sentences are written whole here, in English, and are the keys of the catalogue
/// (docs/decisions/0040): scripts/translation finds them as literals in said("…").
std::string said(const char* sentence, std::initializer_list<InPlace> places = {});

/// Marks words of a table that are said where they are used: said(entry).
constexpr const char* to_be_said(const char* words) { return words; }

/// The sentence in the desk's language; the same text where the catalogue has none.
using Catalogue = std::string (*)(const char* sentence);

/// What looks sentences up from now on, in every thread; null: they are said as they are written.
/// The one thing about the desk that the rooms below are told: answers, refusals and the names of
/// acts are made in them, and passing a language to each would put it into every signature.
void say_by(Catalogue catalogue);

}  // namespace bq::inline quantity
