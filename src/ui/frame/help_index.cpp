#include "ui/frame/help_index.h"

#include <QCoreApplication>
#include <QFile>
#include <QRegularExpression>
#include <algorithm>
#include <map>

namespace bq::ui {
namespace {

QString text_of_resource(const QString& resource) {
  QFile file(resource);
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

/// Takes a line "<!-- also: this, that -->" out of a text.
QStringList take_also(QString& text) {
  static const QRegularExpression kAlso(QStringLiteral("<!-- also: ([^>]*) -->\\n?"));
  const auto found = kAlso.match(text);
  if (!found.hasMatch()) return {};
  text.remove(found.capturedStart(), found.capturedLength());
  return found.captured(1).split(QStringLiteral(", "), Qt::SkipEmptyParts);
}

bool is_letter(const QString& text, qsizetype at) {
  return at >= 0 && at < text.size() && text[at].isLetterOrNumber();
}

}  // namespace

QString HelpTerm::in_short() const {
  static const QRegularExpression kMarks(QStringLiteral("!\\[[^)]*\\)|[*`]"));
  QString out = text.section(QStringLiteral("\n\n"), 0, 0);
  out.remove(kMarks);
  return out.simplified();
}

const HelpIndex& HelpIndex::get() {
  static const HelpIndex kIndex;
  return kIndex;
}

HelpIndex::HelpIndex() {
  read_pages(QStringLiteral(":/guide/user-guide.md"), {}, true);
  read_terms();
  read_pages(QStringLiteral(":/guide/words.md"), {}, false);
  read_pages(QStringLiteral(":/guide/methods.md"), tr("Methods: "), false);
  read_pages(QStringLiteral(":/guide/command-line.md"), tr("Command line: "), false);
}

void HelpIndex::read_pages(const QString& resource, const QString& prefix, bool stations) {
  QString title, station, text;
  const auto end = [&] {
    if (!text.trimmed().isEmpty() && !title.isEmpty()) {
      QStringList also = take_also(text);
      pages_.push_back({prefix + title, QStringLiteral("# %1\n%2").arg(title, text), also});
    }
    text.clear();
  };
  for (const QString& line : text_of_resource(resource).split('\n')) {
    const bool page = line.startsWith(QLatin1String("### "));
    if (page || line.startsWith(QLatin1String("# ")) || line.startsWith(QLatin1String("## "))) {
      end();
      const QString head = line.mid(line.indexOf(' ') + 1);
      if (!page) station = head;
      title = page && stations ? QStringLiteral("%1: %2").arg(station, head) : head;
      continue;
    }
    text += line + '\n';
  }
  end();
}

void HelpIndex::read_terms() {
  QString all = text_of_resource(QStringLiteral(":/guide/glossary.md"));
  for (QString part : all.split(QStringLiteral("\n### ")).mid(1)) {
    const qsizetype line = part.indexOf('\n');
    HelpTerm term{part.left(line).trimmed(), part.mid(line + 1).trimmed() + '\n', {}};
    term.also = take_also(term.text);
    words_.emplace_back(term.word.toLower(), terms_.size());
    for (const auto& word : term.also) words_.emplace_back(word.toLower(), terms_.size());
    terms_.push_back(std::move(term));
  }
  std::stable_sort(words_.begin(), words_.end(),
                   [](const auto& a, const auto& b) { return a.first.size() > b.first.size(); });
}

const HelpPage* HelpIndex::page(const QString& title) const {
  for (const auto& page : pages_)
    if (page.title == title || page.also.contains(title)) return &page;
  // A window is found by its own name under whatever chapter it stands.
  for (const auto& page : pages_)
    if (page.title.endsWith(QStringLiteral(": ") + title)) return &page;
  return nullptr;
}

const HelpTerm* HelpIndex::term(const QString& word) const {
  const QString plain = word.toLower();
  for (const auto& [known, index] : words_)
    if (known == plain) return &terms_[index];
  return nullptr;
}

std::vector<const HelpTerm*> HelpIndex::terms_in(const QString& text, int most) const {
  const QString plain = text.toLower();
  std::map<qsizetype, const HelpTerm*> found;
  std::vector<bool> taken(std::size_t(plain.size()), false);
  for (const auto& [word, index] : words_) {
    const HelpTerm* term = &terms_[index];
    for (qsizetype at = plain.indexOf(word); at >= 0; at = plain.indexOf(word, at + 1)) {
      const qsizetype end = at + word.size();
      if (is_letter(plain, at - 1) || is_letter(plain, end) || taken[std::size_t(at)]) continue;
      std::fill(taken.begin() + at, taken.begin() + end, true);
      const bool known = std::any_of(found.begin(), found.end(),
                                     [&](const auto& one) { return one.second == term; });
      if (!known) found[at] = term;
      break;
    }
  }
  std::vector<const HelpTerm*> out;
  for (const auto& [at, term] : found)
    if (int(out.size()) < most) out.push_back(term);
  return out;
}

}  // namespace bq::ui
