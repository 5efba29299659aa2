#include "ui/frame/workbench.h"

#include <QApplication>
#include <QDate>
#include <QFileInfo>
#include <QGuiApplication>
#include <QPointer>
#include <algorithm>
#include <iostream>
#include <thread>

#include "quantity/number.h"
#include "store/content_check.h"
#include "store/plan_file.h"
#include "store/project_copies.h"
#include "ui/frame/hand_over.h"
#include "ui/frame/job_news.h"
#include "ui/parts/words.h"
#include "workflow/bench_study.h"
#include "workflow/plan_study.h"
#include "workflow/source.h"
#include "workflow/stones_study.h"

namespace bq::ui {

namespace {

/// For work; while another program works on it, to see what that one keeps.
ProjectSession open_or_look(const std::filesystem::path& path) {
  try {
    return ProjectSession::open(path);
  } catch (const StoreError& error) {
    if (error.problem() != StoreProblem::busy) throw;
    return ProjectSession::look_beside(path);
  }
}

}  // namespace

Workbench::Workbench(QObject* parent) : QObject(parent) {
  fits_.belongs_to(of_this_project());
  comparing_.belongs_to(of_this_project());
  following_.belongs_to(of_this_project());
  importing_.belongs_to(of_this_project(), [this] {
    emit progress({}, 0, 0);
    emit told(
        tr("The table that was being read was meant for the project that was open before; "
           "nothing of it was imported. Import it again where it belongs."));
  });
  follow_.setSingleShot(true);
  connect(&follow_, &QTimer::timeout, this, &Workbench::follow);
  // Whoever goes to another window may be about to copy the file.
  connect(qGuiApp, &QGuiApplication::applicationStateChanged, this,
          [this](Qt::ApplicationState now) {
            if (session_ && session_->writable() && now != Qt::ApplicationActive)
              session_->fold_soon();
          });
  connect(&JobNews::of_this_program(), &JobNews::failed, this, [this](const QString& sentence) {
    emit progress({}, 0, 0);
    emit refused(sentence);
  });
  connect(&fits_, &FitService::changed, this, [this] {
    emit fits_changed();
    tell_threshold_if_other();  // "3x" hangs on the fits
  });
  connect(&fits_, &FitService::progress, this, [this](int done, int total) {
    emit progress(total ? tr("Fitting blunting curves") : QString(), done, total);
  });
}

Workbench::~Workbench() = default;

const Trial& Workbench::trial() const { return session_ ? session_->trial() : none_; }

void Workbench::open(const QString& path) {
  emit progress(tr("Opening %1").arg(QFileInfo(path).fileName()), 0, 0);
  // The same file once more: a project is open for writing once only, also by this window.
  auto before = std::make_shared<std::unique_ptr<ProjectSession>>();
  const QString there = QFileInfo(path).canonicalFilePath();
  if (session_ && !there.isEmpty() &&
      there == QFileInfo(QString::fromStdString(session_->path().string())).canonicalFilePath()) {
    *before = leave_project();
    emit changed(Touched::everything());
  }
  const int number = ++last_number_;
  opening_.ask(
      [path, number, before, self = QPointer(this)](const std::stop_token&) {
        auto out = std::make_shared<Opening>();
        out->number = number;
        before->reset();
        try {
          out->session.reset(new ProjectSession(open_or_look(path.toStdString())));
          out->copy_note = QString::fromStdString(out->session->keep_copy_of_day(
              QDate::currentDate().toString(Qt::ISODate).toStdString()));
          out->session->write_behind(
              [self, number](std::uint64_t changes, const std::string& fault) {
                hand_over([self, number, changes, fault = QString::fromStdString(fault)] {
                  if (self) self->settle(number, changes, fault);
                });
              });
        } catch (const StoreError& error) {
          out->session.reset();
          out->refusal = QString::fromUtf8(error.what());
          out->damaged = error.problem() == StoreProblem::damaged ||
                         error.problem() == StoreProblem::truncated;
        } catch (...) {
          out->session.reset();
          out->refusal = words_of_exception();
        }
        return out;
      },
      [this, path](const std::shared_ptr<Opening>& out) {
        emit progress({}, 0, 0);
        if (!out->session) {
          if (out->damaged) emit damaged(path, out->refusal);
          emit refused(session_ ? tr("%1\nThe project that was open stays open.").arg(out->refusal)
                                : out->refusal);
          return;
        }
        if (auto left = leave_project()) {
          // Closing waits for the disk, so not here.
          const auto held = std::make_shared<std::unique_ptr<ProjectSession>>(std::move(left));
          closing_.ask(
              [held](const std::stop_token&) {
                held->reset();
                return true;
              },
              [](bool) {});
        }
        begin_project(*out);
      });
}

std::unique_ptr<ProjectSession> Workbench::leave_project() {
  fits_.clear();
  waiting_.clear();
  settled_ = 0;
  opening_number_ = ++last_number_;  // nothing that is under way belongs to what comes
  current_run_ = -1;
  dragged_.reset();
  told_threshold_.reset();
  return std::move(session_);
}

void Workbench::begin_project(Opening& opening) {
  opening_number_ = opening.number;
  session_ = std::move(opening.session);
  take_in();
  for (std::size_t i = 0; i < trial().runs.size() && current_run_ < 0; ++i)
    if (state_of(trial().runs[i]) == RunState::running) current_run_ = int(i);
  for (std::size_t i = 0; i < trial().runs.size() && current_run_ < 0; ++i)
    if (state_of(trial().runs[i]) == RunState::planned) current_run_ = int(i);
  if (current_run_ < 0 && !trial().runs.empty()) current_run_ = 0;
  emit opened();
  emit changed(Touched::everything());
  emit run_chosen(current_run_);
  fits_.refresh(*session_);
  compare_content();
  follow();
  const QString note = QString::fromStdString(session_->opening_note());
  if (!opening.copy_note.isEmpty() || !note.isEmpty())
    emit told((note + QLatin1Char('\n') + opening.copy_note).trimmed());
  if (!session_->read_only_reason().empty())
    emit refused(QString::fromStdString(session_->read_only_reason()));
}

void Workbench::follow() {
  constexpr int kLook_ms = 1000;
  if (!session_ || !session_->is_copy()) return;
  if (opening_.busy() || following_.busy() || !session_->outdated()) return follow_.start(kLook_ms);
  const int number = ++last_number_;
  following_.ask(
      [path = session_->path(), number](const std::stop_token&) {
        auto out = std::make_shared<Opening>();
        out->number = number;
        try {
          out->session.reset(new ProjectSession(ProjectSession::look_beside(path)));
        } catch (const StoreError&) {  // being written, or on its way to another place: next time
        }
        return out;
      },
      [this](const std::shared_ptr<Opening>& out) {
        follow_.start(kLook_ms);
        if (!out->session || !session_ || out->session->path() != session_->path()) return;
        const int run = current_run_;
        const std::string said = session_->read_only_reason();
        leave_project();
        opening_number_ = out->number;
        session_ = std::move(out->session);
        take_in();
        current_run_ = std::min(run, int(trial().runs.size()) - 1);
        emit changed(Touched::everything());
        emit run_chosen(current_run_);
        fits_.refresh(*session_);
        if (session_->read_only_reason() != said)
          emit refused(QString::fromStdString(session_->read_only_reason()));
      });
}

void Workbench::compare_content() {
  emit unlike({});
  const auto check = session_->content_check();
  const QString copies =
      QString::fromStdString(folder_of_copies(session_->path()).filename().string());
  comparing_.stop();
  comparing_.ask(
      [check](const std::stop_token& stop) {
        while (!stop.stop_requested() && check->go_on())
          std::this_thread::sleep_for(std::chrono::milliseconds(2));  // the window comes first
        return check->unlike();
      },
      [this, copies](const std::vector<std::string>& parts) {
        if (parts.empty()) return;
        constexpr int kNamed = 4;
        QStringList named;
        for (std::size_t i = 0; i < parts.size() && i < kNamed; ++i)
          named += QString::fromStdString(parts[i]);
        if (parts.size() > kNamed) named += tr("%1 more").arg(parts.size() - kNamed);
        emit unlike(tr("Not as it was kept: %1. A damaged disk or another program changed it, so "
                       "what follows from it here may be wrong. Copies of earlier days are in “%2” "
                       "beside the project.")
                        .arg(named.join(QStringLiteral(", ")), copies));
      });
}

void Workbench::create(const QString& path) {
  try {
    ProjectFile::create(path.toStdString(), QFileInfo(path).completeBaseName().toStdString());
  } catch (const StoreError& error) {
    emit refused(QString::fromUtf8(error.what()));
    return;
  }
  open(path);
}

void Workbench::import_tables(const QStringList& paths, std::shared_ptr<const TableMap> map) {
  if (!session_ || importing_.busy()) return;
  emit progress(tr("Reading the table"), 0, 0);
  auto result = std::make_shared<SourceResult>();
  std::vector<std::string> names;
  for (const auto& path : paths) names.push_back(path.toStdString());
  importing_.ask(
      [names, map, result, known = names_of(trial())](const std::stop_token&) {
        try {
          *result = read_tables(names, std::cin, {}, map ? *map : TableMap(), known);
        } catch (...) {
          return words_of_exception();
        }
        QString problems;
        for (std::size_t i = 0; i < result->problems.size() && i < 8; ++i)
          problems += QString::fromStdString(result->problems[i]) + '\n';
        if (!result->refused) return QString();
        if (result->problem_count > 8)
          problems += tr("… and %1 more\n").arg(result->problem_count - 8);
        return tr("Nothing was imported:\n") + problems.trimmed();
      },
      [this, paths, map, result](const QString& refusal) {
        emit progress({}, 0, 0);
        if (!result->understood.empty() && !map) {
          emit table_to_understand(paths, paths.value(result->first_understood));
          return;
        }
        if (!refusal.isEmpty()) {
          emit refused(refusal);
          return;
        }
        if (!result->lists.empty()) {
          std::string said;
          if (edit([&](ProjectSession& session) { said = add_lists(session, result->lists); }))
            emit told(text_of(said) + tr(" Undo takes it back."));
          if (result->trial.runs.empty()) return;
        }
        ImportCounts counts;
        if (edit([&](ProjectSession& session) { counts = session.import(result->trial); }))
          emit told(tr("%1 came in. Undo takes it back.")
                        .arg(runs_with_readings(counts.runs, counts.readings)));
      });
}

Edited Workbench::edit(const std::function<void(ProjectSession&)>& change) {
  if (!session_) return {false, tr("No project is open.")};
  Edited out;
  if (!session_->writable()) {
    out.refusal = QString::fromStdString(session_->read_only_reason());
  } else {
    try {
      change(*session_);
      out.taken = true;
    } catch (...) {  // memory that cannot be had, too: a sentence, not the end of the program
      out.refusal = words_of_exception();
    }
  }
  if (out.taken)
    after_change();
  else
    emit refused(out.refusal);
  return out;
}

void Workbench::take_in() {
  steels_ = steels_of(trial());
  if (std::string plans = session_->kept(kPlanBookKey); plans != plans_) {
    blind_ = bq::blind_runs(plans);
    plans_ = std::move(plans);
  }
}

bool Workbench::is_covered(std::size_t run) const {
  const auto& runs = trial().runs;
  return run < runs.size() && bq::is_covered(runs[run], blind_);
}

void Workbench::after_change() {
  take_in();
  if (current_run_ >= int(trial().runs.size())) current_run_ = int(trial().runs.size()) - 1;
  if (current_run_ < 0 && !trial().runs.empty()) current_run_ = 0;
  emit accepted();
  when_kept([this] { emit kept(QDateTime::currentDateTime()); });
  emit changed(session_->take_touched());
  fits_.refresh(*session_);
  tell_threshold_if_other();  // an undone limit
}

void Workbench::when_kept(std::function<void()> say) {
  if (!session_ || settled_ >= session_->changes())
    say();
  else
    waiting_.emplace_back(session_->changes(), std::move(say));
}

void Workbench::settle(int opening, std::uint64_t changes, const QString& fault) {
  if (opening != opening_number_ || !session_) return;
  if (!fault.isEmpty()) {
    waiting_.clear();
    if (fault.contains(QLatin1String("project"))) {
      emit refused(tr("Not kept: %1. Everything up to the last “kept” was written; all of it is "
                      "still here. Save a copy under another name and go on there.")
                       .arg(fault));
      return;
    }
    emit refused(tr("The disk failed (%1). Changes after the last \"kept\" may not be on it; "
                    "everything before is. All of it is still here: save a "
                    "copy of the project on another disk and go on there.")
                     .arg(fault));
    return;
  }
  settled_ = changes;
  while (!waiting_.empty() && waiting_.front().first <= settled_) {
    const auto say = std::move(waiting_.front().second);
    waiting_.pop_front();
    say();
  }
}

void Workbench::undo() {
  if (!session_) return;
  emit about_to_undo();
  if (!session_->can_undo()) {
    emit told(tr("Nothing to undo."));
    return;
  }
  const QString what = QString::fromStdString(session_->undo_text());
  if (edit([](ProjectSession& session) { session.undo(); })) emit told(tr("Undone: %1.").arg(what));
}
void Workbench::redo() {
  if (!session_) return;
  emit about_to_undo();
  if (!session_->can_redo()) {
    emit told(tr("Nothing to redo."));
    return;
  }
  const QString what = QString::fromStdString(session_->redo_text());
  if (edit([](ProjectSession& session) { session.redo(); }))
    emit told(tr("Done again: %1.").arg(what));
}

bool Workbench::save_copy(const QString& path) {
  try {
    session_->copy_to(path.toStdString());
  } catch (const StoreError& error) {
    emit refused(QString::fromUtf8(error.what()));
    return false;
  }
  emit told(tr("A copy was written to %1.").arg(path));
  return true;
}

std::optional<std::size_t> Workbench::sharpening_in_hand() const {
  if (!session_) return std::nullopt;
  const auto& blades = session_->trial().blades;
  for (std::size_t i = 0; i < blades.size(); ++i)
    if (!session_->kept(sharpening_key(blades[i])).empty()) return i;
  return std::nullopt;
}

void Workbench::set_display(const Display& display) {
  const bool retheme = display.theme != display_.theme;
  display_ = display;
  if (retheme)
    apply_theme(*qobject_cast<QApplication*>(QCoreApplication::instance()), display.theme);
  emit display_changed();
}

Unit Workbench::shown_unit() const {
  return kind_of(trial().unit()) == UnitKind::force ? display_.force : display_.length;
}

QString Workbench::print_value(double value, bool with_sign) const {
  const double number = shown(value);
  const int digits = number >= 100 ? 4 : 3;
  return QString::fromStdString(with_sign ? print_measure(number, shown_unit(), digits)
                                          : print_number(number, digits));
}

void Workbench::choose_run(int index) {
  if (index == current_run_ || index < 0 || index >= int(trial().runs.size())) return;
  current_run_ = index;
  emit run_chosen(index);
}

int Workbench::steel_style(const std::string& steel) const {
  return int(std::find(steels_.begin(), steels_.end(), steel) - steels_.begin());
}

}  // namespace bq::ui
