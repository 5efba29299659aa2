#pragma once

#include <QObject>
#include <QSerialPort>
#include <QStringList>
#include <QTimer>

#include "instrument/transport.h"

namespace bq::inline serial {

/// A serial port (or a pseudo-terminal given by its path), 8N1. Once opened it looks for the port
/// again every half second after a loss. All calls and call-backs on the thread it lives on.
class SerialTransport : public QObject, public Transport {
  Q_OBJECT
 public:
  SerialTransport(const QString& port, int baud, QObject* parent = nullptr);
  ~SerialTransport() override;
  void open() override;
  void close() override;
  bool write(std::string_view bytes) override;
  [[nodiscard]] State state() const override { return state_; }

  /// Paths of the serial ports of this computer.
  static QStringList ports();

 private:
  void try_open();
  void lose(const QString& why);
  void drain();
  void set_state(State state, const std::string& why);
  QSerialPort port_;
  QTimer again_;
  State state_ = State::closed;
  bool wanted_ = false;
};

}  // namespace bq::inline serial
