#pragma once

#include <QWidget>

#include "ui/findings/findings_model.h"

class QComboBox;
class QListWidget;
class QStackedWidget;

namespace bq::ui {

class AnswerPage;
class CurvesPage;
class LifePage;
class MatchingPage;
class StudyPage;

/// Station Findings: questions on the left, each with what became of it; the answer on the right.
/// The question asked is answered first, then the others.
class FindingsView : public QWidget {
  Q_OBJECT
 public:
  explicit FindingsView(Workbench& workbench, QWidget* parent = nullptr);
  void ask(Question question);
  [[nodiscard]] AnswerPage* page(Question question) const;
  [[nodiscard]] StudyPage* study() const { return study_; }
  [[nodiscard]] bool settled() const { return model_->settled(); }
  [[nodiscard]] const Answer* answer_of(Question question) const {
    return model_->answer_of(question);
  }

 protected:
  void showEvent(QShowEvent* event) override;
  void hideEvent(QHideEvent* event) override;

 private:
  void lay_out();
  void listen();
  void listen_to_pages();
  void show_lives();
  void show_media(const LifeFindings& lives);
  void show_question(int index);
  void mark(Question question);
  [[nodiscard]] Question asked() const;

  Workbench& workbench_;
  FindingsModel* model_;
  QListWidget* questions_;
  QComboBox* medium_;
  QStackedWidget* pages_;
  CurvesPage* curves_;
  LifePage* life_;
  MatchingPage* matching_;
  StudyPage* study_;
};

}  // namespace bq::ui
