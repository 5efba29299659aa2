#pragma once

#include <QDialog>
#include <vector>

class QLineEdit;
class QListWidget;
class QUrl;

namespace bq::ui {

class GuidePage;

/// The guide inside the program: its pages, the words of the field, what the words mean here, how
/// figures are computed. Opened at a page; searched by any word; each page names the words of the
/// field in it.
class HelpWindow : public QDialog {
  Q_OBJECT
 public:
  explicit HelpWindow(QWidget* parent);
  /// Opens the page of this title or window, or the word of the field; the first one where there is
  /// none.
  void open_at(const QString& title);
  [[nodiscard]] QString shown() const;  ///< the page's title

 private:
  struct Chapter {
    QString title, text;  ///< Markdown
    bool is_word = false;
  };
  void filter(const QString& words);
  void show_chapter();
  void follow(const QUrl& link);

  std::vector<Chapter> chapters_;
  QLineEdit* search_;
  QListWidget* list_;
  GuidePage* page_;
};

}  // namespace bq::ui
