// Speech by the desktop's speech service (speech-dispatcher), tones by Qt Multimedia; both where
// the computer has them.
#include "voice/voice.h"

#include <libspeechd.h>
#include <QAudioFormat>
#include <QAudioSink>
#include <QBuffer>
#include <QCoreApplication>
#include <QMediaDevices>
#include <QString>

#include <atomic>
#include <cmath>
#include <condition_variable>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace bq::inline voice {
namespace {

constexpr int kRate_hz = 44100;
constexpr double kLoudness = 0.3;

/// A sine that swells and fades within a tenth of it: a sudden beginning clicks.
QByteArray sine(int hertz, int milliseconds) {
  const int samples = kRate_hz * milliseconds / 1000;
  QByteArray out(samples * qsizetype(sizeof(qint16)), '\0');
  auto* at = reinterpret_cast<qint16*>(out.data());
  for (int i = 0; i < samples; ++i) {
    const double edge = std::min(i, samples - i) / (0.1 * samples);
    at[i] =
        qint16(32767 * kLoudness * std::min(1.0, edge) * std::sin(2 * M_PI * hertz * i / kRate_hz));
  }
  return out;
}

/// One after another through the default sound card.
class Tones : public QObject {
 public:
  using QObject::QObject;

  bool play(int hertz, int milliseconds) {
    if (QMediaDevices::defaultAudioOutput().isNull()) return false;
    waiting_ += sine(hertz, milliseconds);
    if (!sink_ || sink_->state() == QAudio::StoppedState || sink_->state() == QAudio::IdleState)
      next();
    return true;
  }

 private:
  void next() {
    if (waiting_.isEmpty()) return;
    QAudioFormat format;
    format.setSampleRate(kRate_hz);
    format.setChannelCount(1);
    format.setSampleFormat(QAudioFormat::Int16);
    now_ = std::exchange(waiting_, {});
    buffer_ = std::make_unique<QBuffer>(&now_);
    buffer_->open(QIODevice::ReadOnly);
    sink_ = std::make_unique<QAudioSink>(QMediaDevices::defaultAudioOutput(), format);
    connect(sink_.get(), &QAudioSink::stateChanged, this, [this](QAudio::State state) {
      if (state == QAudio::IdleState)
        QMetaObject::invokeMethod(this, [this] { next(); }, Qt::QueuedConnection);
    });
    sink_->start(buffer_.get());
  }

  QByteArray waiting_, now_;
  std::unique_ptr<QBuffer> buffer_;
  std::unique_ptr<QAudioSink> sink_;
};

/// Speaks on a thread of its own: the service may have to be started first, and answers when it
/// likes. Only the newest sentence waits.
class Speaker {
 public:
  Speaker() {
    char* fault = nullptr;
    connection_ = spd_open2("brave-quarry", "bench", nullptr, SPD_MODE_SINGLE, nullptr, 1, &fault);
    if (!connection_ && fault) why_ = QString::fromUtf8(fault);
    if (connection_) worker_ = std::jthread([this](const std::stop_token& stop) { work(stop); });
  }
  ~Speaker() {
    worker_.request_stop();
    wake_.notify_all();
    if (worker_.joinable()) worker_.join();
    if (connection_) spd_close(connection_);
  }
  Speaker(const Speaker&) = delete;
  Speaker& operator=(const Speaker&) = delete;

  [[nodiscard]] bool works() const { return connection_ && !broken_; }
  [[nodiscard]] QString why() const { return why_; }
  void say(const QString& sentence) {
    const std::lock_guard lock(mutex_);
    waiting_ = sentence.toUtf8();
    wake_.notify_all();
  }

 private:
  void work(const std::stop_token& stop) {
    while (!stop.stop_requested()) {
      QByteArray sentence;
      {
        std::unique_lock lock(mutex_);
        wake_.wait(lock, [&] { return waiting_ || stop.stop_requested(); });
        if (stop.stop_requested()) return;
        sentence = *std::exchange(waiting_, std::nullopt);
      }
      spd_cancel(connection_);
      if (!sentence.isEmpty() && spd_say(connection_, SPD_TEXT, sentence.constData()) < 0)
        broken_ = true;
    }
  }

  SPDConnection* connection_ = nullptr;
  QString why_;
  std::atomic<bool> broken_ = false;
  std::mutex mutex_;
  std::condition_variable wake_;
  std::optional<QByteArray> waiting_;
  std::jthread worker_;
};

}  // namespace
}  // namespace bq::inline voice

extern "C" Q_DECL_EXPORT bool bq_speak(const QString& sentence, QString& why) {
  static auto speaker = std::make_unique<bq::Speaker>();
  // A service that was gone may be there again.
  if (!speaker->works()) speaker = std::make_unique<bq::Speaker>();
  if (!speaker->works()) {
    why = QCoreApplication::translate(
        "Voice", "This computer has no speech service: install speech-dispatcher.");
    if (!speaker->why().isEmpty()) why += QStringLiteral(" (") + speaker->why() + ')';
    return false;
  }
  speaker->say(sentence);
  return true;
}

extern "C" Q_DECL_EXPORT bool bq_tone(int hertz, int milliseconds) {
  static auto* tones = new bq::Tones(QCoreApplication::instance());
  return tones->play(hertz, milliseconds);
}
