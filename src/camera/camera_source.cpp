// Cameras of this computer, by Qt Multimedia.
#include <QCamera>
#include <QCameraDevice>
#include <QElapsedTimer>
#include <QMediaCaptureSession>
#include <QMediaDevices>
#include <QVideoFrame>
#include <QVideoSink>

#include "pixels/live_source.h"

namespace bq::inline camera {
namespace {

/// More frames a second than this show nothing more of a thing that lies still.
constexpr int kBetween_ms = 80;

class CameraSource : public LiveSource {
 public:
  explicit CameraSource(const QCameraDevice& device) : camera_(device) {
    // The finest format it has: what is measured is pixels.
    QCameraFormat best;
    const auto formats = device.videoFormats();
    for (const QCameraFormat& format : formats) {
      const auto pixels = [](const QCameraFormat& f) {
        return qint64(f.resolution().width()) * f.resolution().height();
      };
      if (best.isNull() || pixels(format) > pixels(best)) best = format;
    }
    if (!best.isNull()) camera_.setCameraFormat(best);
    session_.setCamera(&camera_);
    session_.setVideoSink(&sink_);
    QObject::connect(&sink_, &QVideoSink::videoFrameChanged, &sink_,
                     [this](const QVideoFrame& taken) {
                       if (!frame || (since_.isValid() && since_.elapsed() < kBetween_ms)) return;
                       since_.start();
                       const QImage image = taken.toImage();
                       if (!image.isNull()) frame(image);
                     });
    QObject::connect(&camera_, &QCamera::errorOccurred, &camera_,
                     [this](QCamera::Error error, const QString& words) {
                       if (error != QCamera::NoError && failed) failed(words);
                     });
  }
  void start() override { camera_.start(); }
  void stop() override { camera_.stop(); }

 private:
  QCamera camera_;
  QMediaCaptureSession session_;
  QVideoSink sink_;
  QElapsedTimer since_;
};

}  // namespace
}  // namespace bq::inline camera

extern "C" {

Q_DECL_EXPORT void bq_cameras(QStringList& names) {
  const auto devices = QMediaDevices::videoInputs();
  for (const QCameraDevice& device : devices) names << device.description();
}

Q_DECL_EXPORT bq::LiveSource* bq_make_camera(int index) {
  const auto devices = QMediaDevices::videoInputs();
  return index >= 0 && index < devices.size() ? new bq::CameraSource(devices[index]) : nullptr;
}
}
