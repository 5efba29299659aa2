#pragma once

#include <QDialog>
#include <vector>

class QLineEdit;
class QListWidget;

namespace bq::ui {

class GuidePage;

/// The guide inside the program: its chapters, what the words mean, how figures are computed.
/// Opened at a chapter; searched by any word.
class HelpWindow : public QDialog {
  Q_OBJECT
 public:
  explicit HelpWindow(QWidget* parent);
  /// Opens the chapter of this title; the first one where there is none.
  void open_at(const QString& title);
  [[nodiscard]] QString shown() const;  ///< the chapter's title

 private:
  struct Chapter {
    QString title, text;  ///< Markdown
  };
  void read(const QString& resource, const QString& prefix);
  void filter(const QString& words);
  void show_chapter();

  std::vector<Chapter> chapters_;
  QLineEdit* search_;
  QListWidget* list_;
  GuidePage* page_;
};

}  // namespace bq::ui
