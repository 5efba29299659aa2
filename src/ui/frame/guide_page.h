#pragma once

#include <QTextBrowser>

namespace bq::ui {

/// A chapter of the guide: Markdown, its formulas set in the theme's ink at the screen's fineness.
class GuidePage : public QTextBrowser {
  Q_OBJECT
 public:
  explicit GuidePage(QWidget* parent = nullptr);
  /// Lays a chapter out for reading: room between paragraphs, lines and cells.
  void show_chapter(const QString& markdown);

 protected:
  QVariant loadResource(int type, const QUrl& name) override;
};

}  // namespace bq::ui
