#pragma once

#include <QDateTime>
#include <QElapsedTimer>
#include <QObject>
#include <QStringList>
#include <QTimer>
#include <array>
#include <deque>
#include <memory>
#include <optional>

#include "instrument/instrument_line.h"
#include "instrument/stroke_catcher.h"
#include "serial/serial_transport.h"
#include "ui/frame/workbench.h"

namespace bq::ui {

/// The bench's instruments, one for each role: opened from the project's profiles, read, watched,
/// reconnected. Says what was missed while one was away.
class InstrumentDesk : public QObject {
  Q_OBJECT
 public:
  /// What came last, for the set-up page: bytes beside what they mean.
  struct Heard {
    QString raw, meaning;
    bool good = false;
  };
  explicit InstrumentDesk(Workbench& workbench, QObject* parent = nullptr);
  ~InstrumentDesk() override;

  [[nodiscard]] std::optional<InstrumentProfile> profile(InstrumentRole role) const;
  /// Keeps the profile in the project and opens it (an empty port: keyed by hand). A fault in words
  /// is told and nothing changes.
  bool set_profile(const InstrumentProfile& profile);
  void forget(InstrumentRole role);
  [[nodiscard]] bool open(InstrumentRole role) const;
  /// "on /dev/ttyUSB0", "not there: …", "keyed by hand".
  [[nodiscard]] QString state_words(InstrumentRole role) const;
  /// What was missed while it was away; "" nothing.
  [[nodiscard]] QString missed(InstrumentRole role) const;
  [[nodiscard]] const std::deque<Heard>& heard(InstrumentRole role) const;
  [[nodiscard]] InstrumentLine::Counts counts(InstrumentRole role) const;

  /// Asks for one reading. False: not open, or the one before is still awaited.
  bool ask(InstrumentRole role);
  [[nodiscard]] bool awaiting(InstrumentRole role) const;

  /// The latest samples of a stream, oldest first (at most 4 s of forces, 60 s of angles).
  [[nodiscard]] const std::deque<float>& trace(InstrumentRole role) const;
  [[nodiscard]] long samples_seen(InstrumentRole role) const;

 signals:
  void read(
      bq::InstrumentRole role,
      const bq::InstrumentReading& reading);  ///< of a single reading; streams only show in trace()
  void streamed(bq::InstrumentRole role, double value);
  void stroke_caught(const bq::CaughtStroke& stroke);
  void state_changed(bq::InstrumentRole role);
  void told(const QString& sentence, bool refusal);
  void unanswered(bq::InstrumentRole role);

 private:
  struct Channel {
    std::optional<InstrumentProfile> profile;
    std::unique_ptr<SerialTransport> transport;
    std::optional<InstrumentLine> line;
    QString why, missed;
    QDateTime lost_at;
    std::deque<Heard> heard;
    std::deque<float> trace;
    long seen = 0;
    bool awaiting = false, once_open = false;
    qint64 asked = 0, last_byte = 0;  // on the waking clock
    QElapsedTimer rest;               // since the last byte, by the wall clock
  };
  Channel& of(InstrumentRole role) { return channels_[std::size_t(role)]; }
  [[nodiscard]] const Channel& of(InstrumentRole role) const {
    return channels_[std::size_t(role)];
  }
  void load();
  void start(InstrumentRole role);
  void take(InstrumentRole role, const InstrumentReading& reading);
  void take_state(InstrumentRole role, Transport::State state, const std::string& why);
  void look();
  void send_request(InstrumentRole role);
  std::array<Channel, kInstrumentRoles> channels_;
  Workbench& workbench_;
  std::string loaded_;
  StrokeCatcher catcher_;
  QTimer tick_;
  /// The waking clock, ms: time in which the window could hear. A window that was held up, or a
  /// computer that slept, counts as two ticks: what came meanwhile lies in the port and is heard
  /// before an instrument is called silent.
  qint64 awake_ms_ = 0;
  QElapsedTimer since_look_;
};

}  // namespace bq::ui
