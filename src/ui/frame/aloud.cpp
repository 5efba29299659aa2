#include "ui/frame/aloud.h"

#include <QApplication>
#include <QFileInfo>
#include <QLibrary>
#include <QWidget>

#include "ui/frame/preferences.h"

namespace bq::ui {
namespace {

constexpr int kTogether_ms = 80;
constexpr int kTaken_Hz = 1046, kRefused_Hz = 330, kShort_ms = 90, kLong_ms = 220;

struct VoiceLibrary {
  Speak speak = nullptr;
  Tone tone = nullptr;
  QString why;
};

VoiceLibrary load() {
  VoiceLibrary out;
  const QString path = QCoreApplication::applicationDirPath() +
                       QStringLiteral("/../lib/brave-quarry/plugins/brave-quarry-voice.so");
  if (!QFileInfo::exists(path)) {
    out.why = Aloud::tr("The voice library is not installed.");
    return out;
  }
  QLibrary library(path);
  out.speak = reinterpret_cast<Speak>(library.resolve("bq_speak"));
  out.tone = reinterpret_cast<Tone>(library.resolve("bq_tone"));
  if (!out.speak || !out.tone)
    out.why = Aloud::tr("The voice library cannot be loaded: %1.").arg(library.errorString());
  return out;
}

VoiceLibrary& library() {
  static VoiceLibrary loaded = load();
  return loaded;
}

/// Without a sound card the desktop's own beep: once for taken, twice for refused.
void sound(bool refused) {
  const VoiceLibrary& voice = library();
  if (voice.tone && voice.tone(refused ? kRefused_Hz : kTaken_Hz, refused ? kLong_ms : kShort_ms))
    return;
  QApplication::beep();
  if (refused) QTimer::singleShot(kLong_ms, qApp, [] { QApplication::beep(); });
}

}  // namespace

bool can_speak(QString& why) {
  VoiceLibrary& voice = library();
  why = voice.why;
  return voice.speak && voice.speak(QString(), why);
}

void speak_through(Speak speak, Tone tone) {
  library() = speak || tone ? VoiceLibrary{speak, tone, {}} : load();
}

Aloud::Aloud(QWidget* station) : QObject(station), station_(station) {
  soon_.setSingleShot(true);
  soon_.setInterval(kTogether_ms);
  connect(&soon_, &QTimer::timeout, this, &Aloud::speak);
}

bool Aloud::is_heard() const { return station_->isVisible(); }

void Aloud::instruct(const QString& instruction) {
  if (instruction == instruction_) return;
  instruction_ = instruction;
  soon_.start();
}

void Aloud::tell(const QString& sentence, bool refused) {
  if (sentence.isEmpty() || !is_heard()) return;
  if (preferences().tones) sound(refused);
  told_ = sentence;
  soon_.start();
}

void Aloud::speak() {
  QString now = std::exchange(told_, {});
  if (!preferences().voice || !is_heard()) return;
  if (instruction_ != spoken_) {
    spoken_ = instruction_;
    if (!now.isEmpty() && !now.endsWith(QLatin1Char('.'))) now += QLatin1Char('.');
    now += (now.isEmpty() ? QString() : QStringLiteral(" ")) + instruction_;
  }
  QString why;
  if (!now.isEmpty() && library().speak) library().speak(now, why);
}

}  // namespace bq::ui
