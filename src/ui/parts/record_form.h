#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QCoreApplication>
#include <functional>
#include <vector>

#include "quantity/field.h"
#include "ui/parts/number_field.h"
#include "ui/parts/text_field.h"
#include "ui/parts/words.h"

namespace bq::ui {

/// What the declaration calls a member, in this desk's language.
template <auto Member>
QString label_of() {
  static constexpr auto one = field_of<Member>();
  return QCoreApplication::translate("field", std::string(one.called()).c_str());
}

/// "20 to 68 HRC", as it is declared.
template <auto Member>
QString range_of() {
  static constexpr auto one = field_of<Member>();
  return QCoreApplication::translate("field", "%1 to %2 %3")
      .arg(text_of(print_number(one.least, 6)), text_of(print_number(one.most, 6)),
           text_of(one.unit));
}

/// " µm", "°", "" : what stands after a number, as it is declared.
template <auto Member>
QString unit_after() {
  static constexpr auto one = field_of<Member>();
  if (one.unit.empty()) return {};
  return (one.unit == "°" ? QString() : QStringLiteral(" ")) + text_of(one.unit);
}

/// The entries of a record's fields: each is made from what is declared of its member (range, unit,
/// words, label as its accessible name), shows what a record holds and gives back what was typed.
/// Where the entries stand is the page's.
template <Declared R>
class RecordForm {
 public:
  /// `done`: a person is done with an entry (left it, chose, ticked); with Tells::typing besides at
  /// every change of a number or a text, those of show() too.
  enum class Tells { when_left, typing };
  explicit RecordForm(std::function<void()> done, Tells tells = Tells::when_left)
      : done_(std::move(done)), tells_(tells) {}

  /// For a number that may be unknown the least that can be typed is 0, and stands for that.
  /// `beside`: what stands after the number; empty: the declared unit.
  template <auto M>
  NumberEntry* number(int decimals, double step = 1, const QString& beside = {}) {
    using F = Field<M>;
    static constexpr F one = field_of<M>();
    auto* box = new NumberEntry;
    if constexpr (std::is_integral_v<typename F::Bare>) box->set_whole();
    constexpr bool may_lack = Known<typename F::Value>::optional;
    set_up_number(box, may_lack ? 0 : one.least, one.most, decimals, step,
                  beside.isEmpty() ? unit_after<M>() : beside, label_of<M>());
    if constexpr (may_lack) {
      box->set_least_known(one.least);
      box->setSpecialValueText(QCoreApplication::translate("field", "not known"));
    }
    QObject::connect(box, &NumberEntry::editingFinished, box, done_);
    if (tells_ == Tells::typing) QObject::connect(box, &NumberEntry::valueChanged, box, done_);
    bind(
        [box](const R& record) {
          if constexpr (may_lack)
            show_if_known(box, F::of(record));
          else
            show_value(box, double(F::of(record)));
        },
        [box](R& record) {
          auto& value = F::of(record);
          if constexpr (may_lack)
            value = if_known(box, value);
          else
            value = typename F::Bare(value_of(box, double(value)));
        });
    return box;
  }

  template <auto M>
  QLineEdit* text(const QString& hint = {}) {
    auto* edit = text_field(label_of<M>(), hint);
    QObject::connect(edit, &QLineEdit::editingFinished, edit, done_);
    if (tells_ == Tells::typing) QObject::connect(edit, &QLineEdit::textEdited, edit, done_);
    bind(
        [edit](const R& record) {
          const QString text = text_of(record.*M);
          // What is being typed is left alone, blanks at its ends too.
          if (edit->text().trimmed() != text) edit->setText(text);
        },
        [edit](R& record) { record.*M = edit->text().trimmed().toStdString(); });
    return edit;
  }

  template <auto M>
  QCheckBox* flag() {
    auto* box = new QCheckBox(label_of<M>());
    QObject::connect(box, &QCheckBox::clicked, box, done_);
    bind([box](const R& record) { box->setChecked(record.*M); },
         [box](R& record) { record.*M = box->isChecked(); });
    return box;
  }

  /// `shown`: the words where the declared ones are not for people; in their order.
  template <auto M>
  QComboBox* word(QStringList shown = {}) {
    using F = Field<M>;
    static constexpr F one = field_of<M>();
    auto* box = new QComboBox;
    for (int i = 0; shown.size() < one.words; ++i) shown << text_of(one.name(typename F::Bare(i)));
    box->addItems(shown);
    box->setAccessibleName(label_of<M>());
    QObject::connect(box, &QComboBox::activated, box, done_);
    bind([box](const R& record) { box->setCurrentIndex(int(record.*M)); },
         [box](R& record) { record.*M = typename F::Bare(box->currentIndex()); });
    return box;
  }

  /// For what one entry does not tell by itself.
  void bind(std::function<void(const R&)> show, std::function<void(R&)> take) {
    shows_.push_back(std::move(show));
    takes_.push_back(std::move(take));
  }

  /// Nothing is `done` by it.
  void show(const R& record) const {
    for (const auto& each : shows_) each(record);
  }
  /// The record as it stands in the entries; what they do not show stays as it was `before`.
  [[nodiscard]] R taken(R before) const {
    for (const auto& each : takes_) each(before);
    return before;
  }

 private:
  std::function<void()> done_;
  Tells tells_;
  std::vector<std::function<void(const R&)>> shows_;
  std::vector<std::function<void(R&)>> takes_;
};

}  // namespace bq::ui
