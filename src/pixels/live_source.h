#pragma once

#include <QImage>
#include <QString>
#include <QStringList>
#include <functional>

namespace bq::inline pixels {

/// Pictures that come by themselves: a camera, or the stand-in. All of it on the window's thread.
class LiveSource {
 public:
  LiveSource() = default;
  LiveSource(const LiveSource&) = delete;
  LiveSource& operator=(const LiveSource&) = delete;
  virtual ~LiveSource() = default;
  virtual void start() = 0;
  virtual void stop() = 0;
  std::function<void(const QImage&)> frame;
  std::function<void(const QString&)> failed;  ///< a sentence; nothing comes after it
};

/// What the camera library (src/camera) offers by name. It is a library of its own, loaded only
/// where somebody looks for cameras: the media libraries behind it take longer to load than the
/// whole window.
using CamerasThere = void (*)(QStringList& names);
using MakeCamera = LiveSource* (*)(int index);

}  // namespace bq::inline pixels
