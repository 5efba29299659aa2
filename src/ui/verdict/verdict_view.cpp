#include "ui/verdict/verdict_view.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QListView>
#include <QPushButton>
#include <QStackedWidget>
#include <QTableWidget>
#include <QVBoxLayout>

#include "quantity/number.h"
#include "ui/frame/begin_search.h"
#include "ui/glyph/edge_glyph.h"
#include "ui/parts/words.h"
#include "ui/verdict/chance_band.h"
#include "ui/verdict/compare_panel.h"
#include "ui/verdict/half_hour_panel.h"
#include "ui/verdict/limits_bar.h"
#include "ui/verdict/limits_panel.h"
#include "ui/verdict/ranked_edge_delegate.h"
#include "workflow/sentences.h"

namespace bq::ui {
namespace {

constexpr char kBeginSearch[] = "begin-search";

QLabel* large_sentence() {
  auto* label = new QLabel;
  label->setFont(font_of(20));
  label->setWordWrap(true);
  label->setAlignment(Qt::AlignTop);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  return label;
}

}  // namespace

VerdictView::VerdictView(Workbench& workbench, QWidget* parent)
    : QWidget(parent),
      workbench_(workbench),
      limits_(new LimitsPanel(workbench)),
      model_(new VerdictModel(
          workbench, [this] { return limits_->wanted(); }, this)),
      edges_(new RankedEdgeModel(workbench, this)),
      bar_(new LimitsBar),
      band_(new ChanceBand(workbench)),
      glyph_(new EdgeGlyph),
      compare_(new ComparePanel(workbench)),
      half_hour_(new HalfHourPanel(workbench)),
      pages_(new QStackedWidget),
      beside_(new QStackedWidget),
      why_(new QPushButton(tr("Why?"))),
      against_(new QPushButton(tr("Compare"))),
      list_(new QListView),
      ranking_(new QWidget),
      sentence_(large_sentence()),
      marks_(new QLabel),
      reasons_(new QLabel),
      next_(new QLabel),
      rule_(quiet_label({})),
      schools_(new QLabel),
      starting_(new QTableWidget(0, 5)),
      card_(new QPushButton(tr("Edge card …"))),
      report_(new QPushButton(tr("Report …"))),
      print_(new QPushButton(tr("Print …"))),
      plan_(new QPushButton(tr("Plan this run"))) {
  limits_->setFixedWidth(276);
  sentence_->setText(tr("The verdict is being worked out …"));  // a stop of the keys has words
  setMinimumWidth(800);                                         // a window of 960 × 600 holds it
  lay_out();
  listen();
}

void VerdictView::lay_out() {
  auto* tabs = new QHBoxLayout;
  tabs->setSpacing(3);
  tabs_ = make_tabs({tr("Which edge?"), tr("Schools and customs"), tr("Best next half hour")},
                    [this](int i) { open_page(Page(i)); });
  for (auto* tab : tabs_) tabs->addWidget(tab);
  tabs->addStretch();
  tabs->setSpacing(8);
  tabs->addWidget(why_);
  tabs->addWidget(against_);
  tabs->addWidget(card_);
  tabs->addWidget(report_);
  tabs->addWidget(print_);
  card_->setToolTip(
      tr("How the chosen edge's evidence run was made: geometry, set-up, sharpening, checks, "
         "touch-up interval."));
  report_->setToolTip(
      tr("The verdict and every answered question as PDF, web page or workbook, with the readings "
         "attached."));
  pages_->addWidget(make_edge_page());
  pages_->addWidget(make_schools_page());
  pages_->addWidget(half_hour_);
  auto* beneath = new QHBoxLayout;
  beneath->setSpacing(18);
  beneath->addWidget(limits_);
  beneath->addWidget(pages_, 1);
  limits_->hide();
  glyph_->setFixedSize(64, 84);
  auto* said = new QVBoxLayout;
  said->setSpacing(6);
  said->addWidget(sentence_);
  said->addWidget(band_);
  said->addWidget(marks_);
  auto* answer = new QHBoxLayout;
  answer->setSpacing(14);
  answer->addWidget(glyph_, 0, Qt::AlignTop);
  answer->addLayout(said, 1);
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(16, 10, 16, 10);
  layout->setSpacing(8);
  // The answer stands over everything, whichever page is open.
  layout->addLayout(answer);
  layout->addLayout(tabs);
  layout->addLayout(beneath, 1);
}

void VerdictView::listen() {
  connect(bar_->open_button(), &QPushButton::toggled, limits_, &QWidget::setVisible);
  connect(bar_, &LimitsBar::taken_back, this, [this](LimitKind kind) {
    limits_->change([kind](LimitsFile& wanted) { take_back(wanted, kind); });
  });
  connect(list_->selectionModel(), &QItemSelectionModel::currentChanged, this,
          [this](const QModelIndex& now) { show_reasons(now.row()); });
  connect(compare_, &ComparePanel::edge_picked, this,
          [this](int row) { list_->setCurrentIndex(edges_->index(row)); });
  connect(limits_, &LimitsPanel::changed, model_, &VerdictModel::refresh);
  connect(model_, &VerdictModel::found, this, &VerdictView::show_verdict);
  connect(card_, &QPushButton::clicked, this, &VerdictView::save_card);
  connect(report_, &QPushButton::clicked, this, &VerdictView::save_report);
  connect(print_, &QPushButton::clicked, this, &VerdictView::print_report);
  connect(plan_, &QPushButton::clicked, this,
          [this] { emit workbench_.station_wanted(Station::plan); });
  open_page(Page::edge);
}

QWidget* VerdictView::make_edge_page() {
  list_->setModel(edges_);
  list_->setItemDelegate(new RankedEdgeDelegate(list_));
  list_->setAccessibleName(tr("Ranked edges"));
  list_->setResizeMode(QListView::Adjust);  // rows are taller where they are narrow
  list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  reasons_->setWordWrap(true);
  reasons_->setAlignment(Qt::AlignTop);
  reasons_->setTextInteractionFlags(Qt::TextSelectableByMouse);
  next_->setWordWrap(true);
  marks_->setWordWrap(true);
  marks_->setTextFormat(Qt::RichText);
  marks_->setTextInteractionFlags(Qt::TextBrowserInteraction);
  marks_->setAccessibleName(tr("How sure this is, and what speaks against it"));
  connect(marks_, &QLabel::linkActivated, this, [this](const QString& which) {
    if (which == kBeginSearch) return begin_search();
    const auto at = which.toULong();
    const auto& objections = model_->verdict().objections;
    if (at < objections.size()) emit workbench_.station_wanted(objections[at].station);
  });
  name_look(plan_, "");
  auto* centre = new QVBoxLayout;
  centre->setSpacing(6);
  centre->addWidget(rule_);
  centre->addWidget(list_, 1);
  auto* both = new QHBoxLayout(ranking_);
  both->setContentsMargins(0, 0, 0, 0);
  both->setSpacing(16);
  both->addLayout(centre, 1);
  both->addWidget(make_beside());
  auto* foot = new QHBoxLayout;
  foot->setSpacing(12);
  foot->addWidget(next_, 1);
  foot->addWidget(plan_);
  next_->hide();
  auto* page = new QWidget;
  auto* layout = new QVBoxLayout(page);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(8);
  layout->addWidget(bar_, 0, Qt::AlignTop);  // also where no edge passes and nothing is below it
  layout->addWidget(ranking_, 1);
  layout->addLayout(foot);
  return page;
}

/// What opens beside the ranking when it is asked for.
QWidget* VerdictView::make_beside() {
  auto* why = new QWidget;
  auto* layout = new QVBoxLayout(why);
  layout->setContentsMargins(0, 0, 8, 0);
  layout->addWidget(reasons_);
  layout->addStretch();
  beside_->addWidget(scrolled(why));
  beside_->addWidget(compare_);
  beside_->setFixedWidth(390);
  beside_->hide();
  why_->setToolTip(tr("Why the chosen edge stands where it does, and what would change it."));
  against_->setToolTip(tr("Two edges side by side, and what is traded off."));
  for (const auto& [button, what] :
       {std::pair(why_, Beside::why), std::pair(against_, Beside::compare)}) {
    button->setCheckable(true);
    connect(button, &QPushButton::clicked, this,
            [this, what](bool open) { open_beside(open ? what : Beside::none); });
  }
  return beside_;
}

void VerdictView::open_beside(Beside what) {
  why_->setChecked(what == Beside::why);
  against_->setChecked(what == Beside::compare);
  beside_->setVisible(what != Beside::none);
  if (what != Beside::none) beside_->setCurrentIndex(what == Beside::compare ? 1 : 0);
}

void VerdictView::open_page(Page page) {
  pages_->setCurrentIndex(int(page));
  tabs_[std::size_t(page)]->setChecked(true);
  for (auto* button : {why_, against_}) button->setVisible(page == Page::edge);
  const auto& answer = model_->verdict().recommendation;
  if (page == Page::half_hour)
    half_hour_->refresh(limits_->wanted(), answer ? answer->medium() : "");
}

QString VerdictView::count_line() const { return limits_->count_line(); }
QString VerdictView::sentence() const { return sentence_->text(); }
bool VerdictView::settled() const { return model_->settled() && half_hour_->settled(); }

void VerdictView::showEvent(QShowEvent* event) {
  QWidget::showEvent(event);
  model_->set_watched(true);
}

void VerdictView::hideEvent(QHideEvent* event) {
  QWidget::hideEvent(event);
  model_->set_watched(isVisible());
}

void VerdictView::show_verdict() {
  const Verdict& verdict = model_->verdict();
  limits_->show_verdict(verdict);
  bar_->show_limits(limits_->wanted(), limits_->count_line());
  const auto& answer = verdict.recommendation;
  const std::vector<RankedEdge> ranked = answer ? answer->ranked : std::vector<RankedEdge>{};
  edges_->show_edges(ranked);
  band_->show_edges(ranked);
  glyph_->setVisible(!ranked.empty());
  if (!ranked.empty()) glyph_->show_edge(geometry_of(ranked.front()), finish_of(ranked.front()));
  compare_->show_verdict(verdict);
  show_schools();
  show_marks();
  next_->clear();
  rule_->clear();
  reasons_->clear();
  const bool next = answer && answer->next_best && answer->next_best->helps();
  plan_->setVisible(next);
  next_->setVisible(next);
  ranking_->setVisible(!ranked.empty());
  card_->setEnabled(!ranked.empty());
  report_->setEnabled(workbench_.has_project() && workbench_.trial().reading_count() > 0);
  print_->setEnabled(report_->isEnabled());
  if (pages_->currentIndex() == int(Page::half_hour)) open_page(Page::half_hour);
  if (!answer) {
    sentence_->setText(tr("No verdict yet: %1. Customary starting ranges are on the next page.")
                           .arg(text_of(verdict.why_not)));
    return;
  }
  if (ranked.empty()) {
    sentence_->setText(tr("No edge passes these limits. Take one back below, or loosen it."));
    QStringList why;
    for (const auto& remark : answer->remarks)
      why << QStringLiteral("· ") + text_of(remark).toHtmlEscaped();
    marks_->setText(why.join(QStringLiteral("<br/>")));
    marks_->setVisible(!why.isEmpty());
    return;
  }
  show_first(*answer);
  if (next) show_next(*answer);
}

/// The sentence, how the ranking is to be read, and the reasons of the first place.
void VerdictView::show_first(const Recommendation& answer) {
  const Verdict& verdict = model_->verdict();
  sentence_->setText(text_of(
      verdict_sentence(verdict, workbench_.print_value(verdict.question.threshold).toStdString(),
                       workbench_.display().angles, false)));
  rule_->setText(tr("%1 (the stroke). Bar: 95 % interval of the usual edge, whose life is the "
                    "figure; pale: between tested angles.")
                     .arg(text_of(answer.rule).chopped(1)));
  rule_->setToolTip(
      tr("The bars share one axis, %1 to %2 cuts, logarithmic.")
          .arg(text_of(print_cuts(edges_->axis_low())), text_of(print_cuts(edges_->axis_high()))));
  list_->setCurrentIndex(edges_->index(0));
  show_reasons(0);
}

void VerdictView::show_next(const Recommendation& answer) {
  const auto& run = *answer.next_best;
  QString edge = tr("%1 at %2")
                     .arg(text_of(run.steel).toHtmlEscaped(),
                          text_of(print_angle(run.angle_deg, workbench_.display().angles)));
  if (run.finish_um) edge += tr(", %1 µm").arg(text_of(print_number(*run.finish_um, 3)));
  next_->setText(
      tr("<b>Next best run:</b> %1, %2.").arg(edge, text_of(run.reason).toHtmlEscaped()));
}

/// How sure the first place is, and each objection to it; a click leads to the page that shows it.
void VerdictView::show_marks() {
  const Verdict& verdict = model_->verdict();
  const auto& answer = verdict.recommendation;
  marks_->setVisible(answer && !answer->ranked.empty());
  if (!marks_->isVisibleTo(this)) return;
  QStringList parts;
  if (answer->enough)
    parts << QStringLiteral("<b>%1</b> %2")
                 .arg(tr("How sure:"), text_of(answer->enough->sentence).toHtmlEscaped());
  QStringList marks;
  const QString ink = theme().ink.name();
  for (std::size_t i = 0; i < verdict.objections.size(); ++i) {
    const Objection& objection = verdict.objections[i];
    marks << QStringLiteral("<a href=\"%1\" title=\"%2\" style=\"color:%3\">%4</a>")
                 .arg(QString::number(i), text_of(objection.where()).toHtmlEscaped(), ink,
                      text_of(objection.sentence).toHtmlEscaped());
    // What nobody tried is known after one act, which is one click away.
    if (objection.kind == "damage-unknown" && objection.station == Station::bench &&
        workbench_.writable())
      marks.back() += QStringLiteral(" (<a href=\"%1\" style=\"color:%2\">%3</a>)")
                          .arg(QLatin1String(kBeginSearch), ink, tr("begin the search"));
  }
  if (!marks.isEmpty())
    parts << QStringLiteral("<b>%1</b> %2")
                 .arg(tr("Against it, or not known:"),
                      marks.join(QStringLiteral(" &nbsp;·&nbsp; ")));
  marks_->setText(parts.join(QStringLiteral("<br/>")));
}

/// A damage search of the first edge: its own angle under the roughest use.
void VerdictView::begin_search() {
  const Recommendation& answer = *model_->verdict().recommendation;
  const RankedEdge& first = answer.ranked.front();
  DamageSearch search;
  search.name = name_of(first, AngleConvention::per_side);
  search.steel = first.steel;
  search.medium = answer.medium();
  search.start_angle_deg = first.angle_deg;
  begin_damage_search(workbench_, std::move(search));
}

void VerdictView::show_reasons(int row) {
  const Verdict& verdict = model_->verdict();
  if (row < 0 || row >= edges_->rowCount() || !verdict.recommendation) return;
  compare_->choose(row);
  const RankedEdge& edge = edges_->edge(row);
  QStringList lines;
  for (const auto& reason : edge.reasons) lines << QStringLiteral("· ") + text_of(reason);
  if (edge.fresh_reading)
    lines << tr("· fresh it reads about %1").arg(workbench_.print_value(*edge.fresh_reading));
  if (edge.dominated)
    lines << tr("· another edge that passes is at least as good in everything known");
  if (row == 0) {
    if (const auto& p = verdict.prospect)
      lines << tr("· touch up every %1 cuts; a blade gives about %2 cuts%3 (estimate: %4 touch-ups "
                  "of %5 mm³, %6 mm usable height%7)")
                   .arg(text_of(print_cuts(p->interval_cuts)), text_of(print_about(p->cuts_in_all)),
                        p->more ? tr(" and more") : QString(), QString::number(p->touch_ups),
                        text_of(print_number(p->touch_up.metal_mm3, 2)),
                        text_of(print_number(p->usable_mm, 2)),
                        p->thinning_after ? tr("; thin it after %1").arg(*p->thinning_after)
                                          : QString());
    for (const auto& line : verdict.recommendation->sensitivity)
      lines << QStringLiteral("· ") + text_of(line);
  }
  for (const auto& remark : verdict.recommendation->remarks)
    lines << QStringLiteral("· ") + text_of(remark);
  reasons_->setText(lines.join('\n'));
}

}  // namespace bq::ui
