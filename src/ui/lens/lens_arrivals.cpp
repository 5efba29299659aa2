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
  for (const QString& path : paths) waiting_.push_back({path, {}, QFileInfo(path).fileName()});
  next_arrival();
}

void LensModel::paste(const QImage& image) {
  if (!workbench_.has_project() || image.isNull()) return;
  if (qint64(image.width()) * image.height() > kMostPixels) {
    emit workbench_.refused(
        tr("What is on the clipboard has more than 128 million pixels. It was not taken in."));
    return;
  }
  waiting_.push_back(
      {{},
       png_of(image),
       tr("pasted %1.png")
           .arg(QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH-mm-ss")))});
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
        const auto asked = [&stop] { return stop.stop_requested(); };
        std::string bytes = next.bytes;
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
        if (!out->fault.isEmpty()) {
          emit workbench_.refused(
              tr("%1 was not taken in: %2. Nothing was changed; its own file is as it was.")
                  .arg(out->name, out->fault));
        } else {
          // Tied like the picture looked at: a tester takes several of one place. Cuts are those of
          // the run now.
          Micrograph m = out->facts;
          if (const Micrograph* like = current()) {
            m.blade = like->blade;
            m.run = like->run;
            m.side = like->side;
            m.at_mm = like->at_mm;

            m.mark = like->mark;
            m.magnification = like->magnification;
            m.stone = like->stone;
          } else if (const int run = workbench_.current_run();
                     run >= 0 && run < int(trial().runs.size())) {
            m.run = trial().runs[std::size_t(run)].facts.name;

            m.blade = trial().runs[std::size_t(run)].facts.blade;
          }
          if (const Run* run = trial().find_run(m.run); run && !m.run.empty())
            m.cuts = run->cuts_done;
          if (workbench_.edit([&](ProjectSession& s) { s.add_micrograph(m, out->thumbnail); })) {
            open(m.id);
            emit workbench_.told(
                tr("%1 is in the project. Say on Place what it shows.").arg(out->name));
          }
        }
        next_arrival();
        emit changed();
      });
  emit changed();
}

void LensModel::watch(const QString& folder) {
  if (!folder_.isEmpty()) watcher_.removePath(folder_);
  folder_ = folder;
  seen_.clear();
  growing_.clear();
  if (!folder.isEmpty()) {
    if (!watcher_.addPath(folder)) {
      emit workbench_.refused(tr("%1 cannot be watched. Choose another folder.").arg(folder));
      folder_.clear();
    } else {
      // What lies there already stays there.
      for (const QString& name : QDir(folder).entryList(kEndings, QDir::Files)) seen_.insert(name);
      emit workbench_.told(
          tr("Every new picture in %1 comes into the project, tied like the picture before it. A "
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
  QStringList ready;
  bool waiting = false;
  for (const QFileInfo& file :
       QDir(folder_).entryInfoList(kEndings, QDir::Files, QDir::Time | QDir::Reversed)) {
    if (seen_.contains(file.fileName())) continue;
    // A capture program may still be writing: two looks must find the same size.
    const auto known = growing_.find(file.fileName());
    if (known == growing_.end() || known->second != file.size() || file.size() == 0) {
      growing_[file.fileName()] = file.size();
      waiting = true;
      continue;
    }
    growing_.erase(file.fileName());
    seen_.insert(file.fileName());
    ready << file.filePath();
  }
  if (waiting) settle_.start();
  if (!ready.isEmpty()) bring_in(ready);
}

}  // namespace bq::ui
