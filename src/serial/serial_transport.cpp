#include "serial/serial_transport.h"

#include <QFileInfo>
#include <QSerialPortInfo>

namespace bq::inline serial {

SerialTransport::SerialTransport(const QString& port, int baud, QObject* parent) : QObject(parent) {
  port_.setPortName(port);
  port_.setBaudRate(baud);
  again_.setInterval(500);
  connect(&again_, &QTimer::timeout, this, &SerialTransport::try_open);
  connect(&port_, &QSerialPort::readyRead, this, &SerialTransport::drain);
  // A device that hangs up raises one of several errors, and some of them without end: closed on
  // any.
  connect(
      &port_, &QSerialPort::errorOccurred, this,
      [this](QSerialPort::SerialPortError error) {
        if (error == QSerialPort::NoError || error == QSerialPort::TimeoutError || !port_.isOpen())
          return;
        drain();
        lose(port_.errorString());
      },
      Qt::QueuedConnection);
}

SerialTransport::~SerialTransport() {
  on_state = nullptr;
  on_bytes = nullptr;
  close();
}

QStringList SerialTransport::ports() {
  QStringList out;
  for (const auto& info : QSerialPortInfo::availablePorts()) out << info.systemLocation();
  return out;
}

void SerialTransport::set_state(State state, const std::string& why) {
  state_ = state;
  if (on_state) on_state(state, why);
}

void SerialTransport::open() {
  wanted_ = true;
  if (port_.isOpen()) return;
  try_open();
}

void SerialTransport::try_open() {
  if (!wanted_ || port_.isOpen()) return;
  if (port_.open(QIODevice::ReadWrite)) {
    again_.stop();
    set_state(State::open, "");
    return;
  }
  const QString why =
      QFileInfo::exists(port_.portName()) || port_.error() != QSerialPort::DeviceNotFoundError
          ? tr("%1 cannot be opened: %2").arg(port_.portName(), port_.errorString())
          : tr("%1 is not there").arg(port_.portName());
  again_.start();
  if (state_ == State::closed) set_state(State::lost, why.toStdString());
}

void SerialTransport::lose(const QString& why) {
  if (!wanted_) return;
  if (port_.isOpen()) port_.close();
  again_.start();
  if (state_ != State::lost) set_state(State::lost, why.toStdString());
}

void SerialTransport::close() {
  wanted_ = false;
  again_.stop();
  if (port_.isOpen()) port_.close();
  if (state_ != State::closed) set_state(State::closed, "");
}

void SerialTransport::drain() {
  const QByteArray bytes = port_.readAll();
  if (!bytes.isEmpty() && on_bytes) on_bytes({bytes.constData(), std::size_t(bytes.size())});
}

bool SerialTransport::write(std::string_view bytes) {
  return port_.isOpen() && port_.write(bytes.data(), qint64(bytes.size())) == qint64(bytes.size());
}

}  // namespace bq::inline serial
