#pragma once

#include <QCoreApplication>
#include <QString>
#include <QStringList>
#include <vector>

namespace bq::ui {

/// A page of the guide.
struct HelpPage {
  QString title;     ///< "Stones: Ladder"; "Rack" for what a station is for
  QString text;      ///< Markdown, its heading first
  QStringList also;  ///< titles of windows that it is about, too
};

/// A word of the field.
struct HelpTerm {
  QString word, text;  ///< text: Markdown, a drawing in it where words are not enough
  QStringList also;    ///< how else it is said
  /// The first paragraph as plain text.
  [[nodiscard]] QString in_short() const;
};

/// The guide, read once from what the program carries: short pages, the words of the field, what
/// the words of the program mean, methods, command line.
class HelpIndex {
  Q_DECLARE_TR_FUNCTIONS(bq::ui::HelpIndex)

 public:
  static const HelpIndex& get();
  [[nodiscard]] const std::vector<HelpPage>& pages() const { return pages_; }
  [[nodiscard]] const std::vector<HelpTerm>& terms() const { return terms_; }
  /// The page of this title or window; empty: none.
  [[nodiscard]] const HelpPage* page(const QString& title) const;
  [[nodiscard]] const HelpTerm* term(const QString& word) const;
  /// The words of the field in a text, in the order they come in; the longer one where two begin at
  /// one place. `most`: no more than that many.
  [[nodiscard]] std::vector<const HelpTerm*> terms_in(const QString& text, int most) const;

 private:
  HelpIndex();
  void read_pages(const QString& resource, const QString& prefix, bool stations);
  void read_terms();
  std::vector<HelpPage> pages_;
  std::vector<HelpTerm> terms_;
  std::vector<std::pair<QString, std::size_t>> words_;  ///< lower case, longest first
};

}  // namespace bq::ui
