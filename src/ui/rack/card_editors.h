#pragma once

#include <QDialog>

#include "trial/edge_record.h"
#include "ui/parts/number_entry.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QPlainTextEdit;

namespace bq::ui {

class Workbench;
struct Edited;

/// What the small dialogs of the Rack share: a heading, fields, a refusal line, keep and cancel.
class CardDialog : public QDialog {
  Q_OBJECT
 public:
  CardDialog(Workbench& workbench, const QString& title, QWidget* parent);

 protected:
  virtual void keep() = 0;
  void finish_form();
  void refuse(const QString& sentence);
  void finish(const Edited& edited);  ///< closes, or says why not
  Workbench& workbench_;
  QFormLayout* form_;
  QLabel* refusal_;
};

/// Hardness, hard phase, behaviour and strength of one steel.
class SteelCardEditor : public CardDialog {
  Q_OBJECT
 public:
  SteelCardEditor(Workbench& workbench, const QString& steel, QWidget* parent);

 private:
  void keep() override;
  QString steel_;
  QLineEdit *hardness_, *phase_, *bend_, *note_;
  QComboBox *behaviour_, *toughness_;
};

/// Form and notes of one medium.
class MediumCardEditor : public CardDialog {
  Q_OBJECT
 public:
  MediumCardEditor(Workbench& workbench, const QString& medium, QWidget* parent);

 private:
  void keep() override;
  QString medium_;
  QLineEdit *form_text_, *note_;
};

/// One intake check: good or trouble, with place and size.
class FindingEditor : public CardDialog {
  Q_OBJECT
 public:
  FindingEditor(Workbench& workbench, int blade, IntakeCheck check, QWidget* parent);

 private:
  void keep() override;
  int blade_;
  IntakeCheck check_;
  QComboBox* result_;
  QLineEdit *at_, *size_, *note_;
};

/// The edge's outline: a preset over a length, or points from a table or a drawing.
class OutlineEditor : public CardDialog {
  Q_OBJECT
 public:
  OutlineEditor(Workbench& workbench, int blade, QWidget* parent);

 private:
  void keep() override;
  void read_file();
  int blade_;
  QComboBox* preset_;
  NumberEntry* length_;
  QLabel* read_;
  QPlainTextEdit* pasted_;
  OutlineRecord from_file_;
};

}  // namespace bq::ui
