// How pictures come in: files, the clipboard, a watched folder; one after another, each on a
// worker.
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QPointer>

#include "store/picture_store.h"
#include "ui/frame/hand_over.h"
#include "ui/lens/lens_model.h"

namespace bq::ui {
namespace {

const QStringList kEndings{QStringLiteral("*.png"),  QStringLiteral("*.jpg"),
                           QStringLiteral("*.jpeg"), QStringLiteral("*.tif"),
                           QStringLiteral("*.tiff"), QStringLiteral("*.bmp")};

}  // namespace

void LensModel::bring_in(const QStringList& paths) {
  if (!workbench_.has_project()) {
    emit workbench_.refused(tr("Open or start a project first: pictures are kept in it."));
    return;
  }
  for (const QString& path : paths)
    waiting_.push_back({path, {}, QFileInfo(path).fileName(), false});
  next_arrival();
}

void LensModel::paste(const QImage& image) { take_image(image, tr("pasted %1.png")); }

void LensModel::keep_live(const QImage& image) { take_image(image, tr("live %1.png")); }

void LensModel::take_image(const QImage& image, const QString& name) {
  if (!workbench_.has_project() || image.isNull()) return;
  if (qint64(image.width()) * image.height() > kMostPixels) {
    emit workbench_.refused(
        tr("That picture has more than 128 million pixels. It was not taken in."));
    return;
  }
  waiting_.push_back(
      {{},
       image,
       name.arg(QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH-mm-ss"))),
       false});
  next_arrival();
}

void LensModel::next_arrival() {
  if (importing_.busy() || waiting_.empty()) return;
  if (!workbench_.writable()) {
    waiting_.clear();
    emit workbench_.refused(QString::fromStdString(workbench_.session().read_only_reason()));
    return;
  }
  const Waiting next = std::move(waiting_.front());
  waiting_.pop_front();
  const auto pictures = store();
  importing_.ask(
      [next, pictures, self = QPointer(this)](const std::stop_token& stop) {
        auto out = std::make_shared<Arrival>();
        out->name = next.name;
        out->path = next.path;
        out->watched = next.watched;
        const auto asked = [&stop] { return stop.stop_requested(); };
        std::string bytes = next.image.isNull() ? std::string() : png_of(next.image);
        QString taken_at;
        if (!next.path.isEmpty()) {
          QFile file(next.path);
          if (!file.open(QIODevice::ReadOnly)) {
            out->fault = LensModel::tr("it cannot be opened (%1)").arg(file.errorString());
            return out;
          }
          if (file.size() > qint64(kLargestPictureFile)) {
            out->fault = LensModel::tr("the file is larger than 256 MB");
            return out;
          }
          // A pipe or device says nothing of its size: never more than the limit.
          bytes = file.read(qint64(kLargestPictureFile) + 1).toStdString();
          if (bytes.size() > kLargestPictureFile) {
            out->fault = LensModel::tr("the file is larger than 256 MB");
            return out;
          }
          taken_at = QFileInfo(next.path).lastModified().toUTC().toString(Qt::ISODate);
        }
        const DecodedPicture decoded = decode_picture(bytes, asked);
        if (!decoded.pixels) {
          out->fault = decoded.fault;
          out->broken = decoded.broken;
          return out;
        }
        Micrograph& m = out->facts;
        m = micrograph_of({0, next.name.toStdString(), decoded.header.kind, bytes});
        m.width = decoded.header.width;
        m.height = decoded.header.height;
        if (m.taken_at.empty()) m.taken_at = taken_at.toStdString();
        out->thumbnail = thumbnail_of(*decoded.pixels);
        try {
          m.id = pictures->add(m.name, m.kind, bytes, [&](double share) {
            hand_over([self, share, name = next.name] {
              if (self)
                emit self->workbench().progress(LensModel::tr("Bringing in %1").arg(name),
                                                int(100 * share), 100);
            });
            return !stop.stop_requested();
          });
          if (m.id == 0) out->fault = LensModel::tr("it was stopped");
        } catch (const StoreError& error) {
          out->fault = QString::fromUtf8(error.what());
        }
        return out;
      },
      [this](const std::shared_ptr<Arrival>& out) {
        emit workbench_.progress({}, 0, 0);
        if (!workbench_.has_project()) return;
        take_arrival(*out);
        next_arrival();
        emit changed();
      });
  emit changed();
}

QString LensModel::tie(Micrograph& m) const {
  const Micrograph* like = current();
  // A tester takes several of one place; a sample piece that happens to be on the screen says
  // nothing of what comes next.
  if (like && like->stone.empty()) {
    m.blade = like->blade;
    m.run = like->run;
    m.side = like->side;
    m.at_mm = like->at_mm;
    m.mark = like->mark;
  } else if (const int run = workbench_.current_run();
             !like && run >= 0 && run < int(trial().runs.size())) {
    m.run = trial().runs[std::size_t(run)].facts.name;
    m.blade = trial().runs[std::size_t(run)].facts.blade;
  }
  if (like) {
    m.magnification = like->magnification;
    m.instrument = like->instrument;
  }
  // Cuts are those of the run now.
  if (const Run* run = trial().find_run(m.run); run && !m.run.empty()) m.cuts = run->cuts_done;
  if (m.run.empty() && m.blade.empty())
    return tr("It is tied to nothing yet: say on Place what it shows.");
  const QString edge = m.run.empty() ? tr("blade %1").arg(QString::fromStdString(m.blade))
                                     : tr("run %1").arg(QString::fromStdString(m.run));
  return like ? tr("Tied to %1 like the picture on the screen: say on Place if it is another.")
                    .arg(edge)
              : tr("Tied to %1, which is at the bench: say on Place if it is another.").arg(edge);
}

void LensModel::take_arrival(const Arrival& arrival) {
  // A file that breaks off may be one that is still being written: it is looked at again.
  constexpr int kMostTries = 12;
  if (arrival.watched && arrival.broken && ++tries_[arrival.name] < kMostTries) {
    seen_.erase(arrival.name);
    return;
  }
  tries_.erase(arrival.name);
  if (!arrival.fault.isEmpty()) {
    emit workbench_.refused(
        (arrival.watched
             ? tr("%1 was not taken in: %2. Nothing was changed. It is taken in when the "
                  "file changes.")
             : tr("%1 was not taken in: %2. Nothing was changed; its own file is as it "
                  "was."))
            .arg(arrival.name, arrival.fault));
    return;
  }
  Micrograph m = arrival.facts;
  const QString tied = tie(m);
  if (!workbench_.edit([&](ProjectSession& s) { s.add_micrograph(m, arrival.thumbnail); })) return;
  const bool same_name = std::any_of(
      trial().micrographs.begin(), trial().micrographs.end(),
      [&](const Micrograph& other) { return other.id != m.id && other.name == m.name; });
  QString said = tr("%1 is in the project. %2").arg(arrival.name, tied);
  if (same_name)
    said = tr("%1 is in the project beside the picture of that name that was there. %2")
               .arg(arrival.name, tied);
  if (arrival.watched || !points_.empty() || !here_.empty()) {
    unseen_.push_back(m.id);
    if (!current()) open(m.id);
  } else {
    open(m.id);
  }
  emit workbench_.told(said);
}

void LensModel::open_unseen() {
  if (!unseen_.empty()) open(unseen_.front());
}

void LensModel::watch(const QString& folder) {
  if (!folder_.isEmpty()) watcher_.removePath(folder_);
  folder_ = folder;
  seen_.clear();
  growing_.clear();
  tries_.clear();
  look_again_.stop();
  if (!folder.isEmpty()) {
    if (!watcher_.addPath(folder)) {
      emit workbench_.refused(tr("%1 cannot be watched. Choose another folder.").arg(folder));
      folder_.clear();
    } else {
      // What lies there already stays there.
      for (const QFileInfo& file : QDir(folder).entryInfoList(kEndings, QDir::Files))
        seen_[file.fileName()] = {file.size(), file.lastModified()};
      look_again_.start();
      emit workbench_.told(
          tr("Every new picture in %1 comes into the project and waits at the side. A "
             "bare edge under the microscope: clamp the blade, cover all of the edge but the "
             "place, turn it with the clamp and not by hand. "
             "Local rules and trained persons come first.")
              .arg(folder));
    }
  }
  emit changed();
}

void LensModel::look_into_folder() {
  if (folder_.isEmpty()) return;
  bool waiting = false, ready = false;
  for (const QFileInfo& file :
       QDir(folder_).entryInfoList(kEndings, QDir::Files, QDir::Time | QDir::Reversed)) {
    const SeenFile now{file.size(), file.lastModified()};
    const auto seen = seen_.find(file.fileName());
    if (seen != seen_.end() && seen->second == now) continue;
    // A capture program may still be writing: two looks must find the same.
    const auto known = growing_.find(file.fileName());
    if (known == growing_.end() || known->second != now || file.size() == 0) {
      growing_[file.fileName()] = now;
      waiting = true;
      continue;
    }
    growing_.erase(known);
    seen_[file.fileName()] = now;
    waiting_.push_back({file.filePath(), {}, file.fileName(), true});
    ready = true;
  }
  if (waiting) settle_.start();
  if (ready) next_arrival();
}

}  // namespace bq::ui
