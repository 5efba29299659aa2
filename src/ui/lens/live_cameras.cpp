#include "ui/lens/live_cameras.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <QLibrary>
#include <QProcess>
#include <cstring>

#include "lens/grey_image.h"

namespace bq::ui {
namespace {

class Say {
  Q_DECLARE_TR_FUNCTIONS(Live)
};

/// Reads frames as binary PGM from a program's standard output.
class ProgramCamera : public LiveSource {
 public:
  ProgramCamera(const QString& program, const QStringList& wishes)
      : program_(program), wishes_(wishes) {
    process_.setProcessChannelMode(QProcess::ForwardedErrorChannel);
    QObject::connect(&process_, &QProcess::readyReadStandardOutput, &process_,
                     [this] { take_frames(); });
    QObject::connect(&process_, &QProcess::errorOccurred, &process_, [this] {
      if (asked_ && failed)
        failed(Say::tr("%1 does not run: %2.").arg(program_, process_.errorString()));
    });
    QObject::connect(&process_, &QProcess::finished, &process_, [this] {
      if (asked_ && failed) failed(Say::tr("The stand-in camera has stopped."));
    });
  }
  ~ProgramCamera() override { stop(); }
  void start() override {
    asked_ = true;
    process_.start(program_, wishes_);
  }
  void stop() override {
    asked_ = false;
    if (process_.state() == QProcess::NotRunning) return;
    process_.kill();
    process_.waitForFinished(1000);
    kept_.clear();
  }

 private:
  /// The newest whole frame is shown; those before it are late already.
  void take_frames() {
    kept_ += process_.readAllStandardOutput();
    QImage newest;
    while (true) {
      int width = 0, height = 0, most = 0, header = 0;
      const QByteArray head = kept_.left(40);
      if (std::sscanf(head.constData(), "P5 %d %d %d%n", &width, &height, &most, &header) != 3)
        break;
      const qsizetype from = header + 1, size = qsizetype(width) * height;
      if (width < 1 || height < 1 || size > kMostPixels || most != 255) {
        if (failed) failed(Say::tr("What the stand-in camera sends cannot be read."));
        stop();
        return;
      }
      if (kept_.size() < from + size) break;
      newest = QImage(width, height, QImage::Format_Grayscale8);
      for (int y = 0; y < height; ++y)
        std::memcpy(newest.scanLine(y), kept_.constData() + from + qsizetype(y) * width,
                    std::size_t(width));
      kept_.remove(0, from + size);
    }
    if (!newest.isNull() && frame) frame(newest);
  }

  QString program_;
  QStringList wishes_;
  QProcess process_;
  QByteArray kept_;
  bool asked_ = false;
};

}  // namespace

std::unique_ptr<LiveSource> stand_in_camera(const QString& program, const QStringList& wishes) {
  return std::make_unique<ProgramCamera>(program, wishes);
}

std::vector<LiveChoice> cameras(QString& why) {
  const QString here = QCoreApplication::applicationDirPath();
  const QString file = here + QStringLiteral("/../lib/brave-quarry/plugins/brave-quarry-camera.so");
  const QString path = QFileInfo::exists(file) ? file : QString();
  QLibrary library(path);
  const auto there =
      path.isEmpty() ? nullptr : reinterpret_cast<CamerasThere>(library.resolve("bq_cameras"));
  const auto make =
      there ? reinterpret_cast<MakeCamera>(library.resolve("bq_make_camera")) : nullptr;
  if (!there || !make) {
    why = path.isEmpty()
              ? Say::tr("The camera library is not installed.")
              : Say::tr("The camera library cannot be loaded: %1.").arg(library.errorString());
    return {};
  }
  QStringList names;
  there(names);
  std::vector<LiveChoice> out;
  for (int i = 0; i < int(names.size()); ++i)
    out.push_back({names[i], [make, i] { return std::unique_ptr<LiveSource>(make(i)); }});
  return out;
}

}  // namespace bq::ui
