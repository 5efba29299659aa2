#include "ui/parts/words.h"

#include <QCoreApplication>
#include <algorithm>

#include "quantity/said.h"

namespace bq::ui {

void say_as_the_window_does() {
  say_by([](const char* sentence) {
    return QCoreApplication::translate("said", sentence).toStdString();
  });
}

QString runs_with_readings(qint64 runs, qint64 readings) {
  const auto words = [](const char* text) {
    return QCoreApplication::translate("bq::ui::words", text);
  };
  return words("%1 with %2")
      .arg(runs == 1 ? words("1 run") : words("%1 runs").arg(runs),
           readings == 1 ? words("1 reading") : words("%1 readings").arg(readings));
}

QString project_files() {
  return QCoreApplication::translate("bq::ui::words", "Brave Quarry projects (*.bquarry)");
}

QString percent(double share) {
  if (share > 0.9995 && share < 1) return QStringLiteral("> 99.9\u00a0%");
  return QString::number(100 * share, 'f', share > 0.995 && share < 1 ? 1 : 0) +
         QStringLiteral("\u00a0%");
}

QStringList texts_of(const std::vector<std::string>& texts) {
  QStringList out;
  for (const auto& text : texts) out << text_of(text);
  return out;
}

bool holds_words(const QString& text, const QStringList& words) {
  return std::all_of(words.begin(), words.end(),
                     [&](const QString& word) { return text.contains(word, Qt::CaseInsensitive); });
}

int compare_names(const QString& a, const QString& b) {
  // Runs of digits by their number, the rest by letters. (Qt's collator does so in no locale that
  // is set to "C".)
  const auto part_end = [](const QString& text, qsizetype from) {
    const bool digits = text[from].isDigit();
    qsizetype to = from;
    while (to < text.size() && text[to].isDigit() == digits) ++to;
    return to;
  };
  qsizetype i = 0, j = 0;
  while (i < a.size() && j < b.size()) {
    const qsizetype a_end = part_end(a, i), b_end = part_end(b, j);
    const QStringView first = QStringView(a).mid(i, a_end - i),
                      second = QStringView(b).mid(j, b_end - j);
    int order = 0;
    if (first[0].isDigit() && second[0].isDigit()) {
      const auto bare = [](QStringView digits) {
        while (digits.size() > 1 && digits[0] == QLatin1Char('0')) digits = digits.mid(1);
        return digits;
      };
      const QStringView p = bare(first), q = bare(second);
      order = p.size() != q.size() ? (p.size() < q.size() ? -1 : 1) : p.compare(q);
    } else {
      order = QString::localeAwareCompare(first.toString().toLower(), second.toString().toLower());
    }
    if (order != 0) return order;
    i = a_end;
    j = b_end;
  }
  return int((a.size() - i) - (b.size() - j));
}

}  // namespace bq::ui
