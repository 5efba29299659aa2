#include "ui/bench/instrument_desk.h"

#include "quantity/number.h"
#include "store/bench_json.h"
#include "ui/parts/words.h"

namespace bq::ui {
namespace {

constexpr int kTick_ms = 100;
constexpr int kAnswer_ms = 2500;  // on the waking clock
constexpr int kQuiet_ms = 150;    // the same: a line without an end is whole by then
constexpr int kStill_ms = 500;    // the same: a cell that streamed has stopped
constexpr int kRest_ms = 30;      // longer than a serial adapter holds bytes back

/// Bytes as a person can read them.
QString shown(const std::string& raw) {
  QString out;
  for (const char c : raw)
    out += c >= ' ' && c < 0x7f
               ? QString(QLatin1Char(c))
               : QStringLiteral("\\x%1").arg(std::uint8_t(c), 2, 16, QLatin1Char('0'));
  return out;
}

}  // namespace

InstrumentDesk::InstrumentDesk(Workbench& workbench, QObject* parent)
    : QObject(parent), workbench_(workbench) {
  connect(&workbench_, &Workbench::opened, this, [this] {
    loaded_ = "\n";  // another project: its own instruments
    load();
  });
  connect(&workbench_, &Workbench::changed, this, [this](const Touched& touched) {
    if (touched.text(kInstrumentsKey)) load();
  });
  connect(&tick_, &QTimer::timeout, this, &InstrumentDesk::look);
  tick_.start(kTick_ms);
  since_look_.start();
  load();
}

InstrumentDesk::~InstrumentDesk() = default;

void InstrumentDesk::load() {
  const std::string text =
      workbench_.has_project() ? workbench_.session().kept(kInstrumentsKey) : std::string();
  if (text == loaded_) return;
  loaded_ = text;
  std::vector<InstrumentProfile> profiles;
  if (!text.empty())
    if (const auto read = parse_instruments(text)) profiles = *read;
  for (const auto role : kEveryRole) {
    const auto found = std::find_if(profiles.begin(), profiles.end(),
                                    [&](const InstrumentProfile& p) { return p.role == role; });
    const auto wanted = found == profiles.end() ? std::nullopt : std::optional(*found);
    Channel& channel = of(role);
    if (channel.profile == wanted) continue;
    channel.transport.reset();  // closes
    channel = Channel();
    channel.profile = wanted;
    start(role);
    emit state_changed(role);
  }
}

void InstrumentDesk::start(InstrumentRole role) {
  Channel& channel = of(role);
  if (!channel.profile || channel.profile->port.empty()) return;
  const auto parser = LineParser::make(*channel.profile);
  if (!parser) {
    channel.why = QString::fromStdString(parser.refusal().reason);
    return;
  }
  channel.line.emplace(*parser);
  if (role == InstrumentRole::force_cell) {
    StrokeCatcherOptions options;
    options.rate_hz = channel.profile->rate_hz > 0 ? channel.profile->rate_hz : 1000;
    catcher_ = StrokeCatcher(options);
  }
  channel.transport = std::make_unique<SerialTransport>(
      QString::fromStdString(channel.profile->port), channel.profile->baud);
  channel.transport->on_bytes = [this, role](std::string_view bytes) {
    Channel& c = of(role);
    c.last_byte = awake_ms_;
    c.rest.start();
    c.line->feed(bytes, [&](const InstrumentReading& reading) { take(role, reading); });
  };
  channel.transport->on_state = [this, role](Transport::State state, const std::string& why) {
    take_state(role, state, why);
  };
  channel.transport->open();
}

void InstrumentDesk::take_state(InstrumentRole role, Transport::State state,
                                const std::string& why) {
  Channel& channel = of(role);
  const QString name =
      QString::fromStdString(channel.profile ? channel.profile->name : std::string(name_of(role)));
  channel.why = QString::fromStdString(why);
  if (state == Transport::State::open) {
    channel.line->begin();
    channel.last_byte = awake_ms_;
    channel.rest.start();
    if (channel.once_open && channel.lost_at.isValid()) {
      channel.missed = tr("The %1 was away from %2 to %3. What it sent meanwhile is not here; "
                          "everything kept before is safe.")
                           .arg(name, channel.lost_at.toString(QStringLiteral("HH:mm:ss")),
                                QDateTime::currentDateTime().toString(QStringLiteral("HH:mm:ss")));
      emit told(channel.missed, false);
    }
    channel.once_open = true;
    channel.lost_at = {};
  } else if (state == Transport::State::lost) {
    channel.awaiting = false;
    if (!channel.lost_at.isValid()) channel.lost_at = QDateTime::currentDateTime();
    if (role == InstrumentRole::force_cell)
      catcher_.silent([this](const CaughtStroke& stroke) { emit stroke_caught(stroke); });
    if (channel.once_open)
      emit told(tr("The %1 is gone (%2). What was kept is safe; it is looked for again, and "
                   "readings can be typed meanwhile.")
                    .arg(name, channel.why),
                true);
  }
  emit state_changed(role);
}

void InstrumentDesk::take(InstrumentRole role, const InstrumentReading& reading) {
  Channel& channel = of(role);
  const bool good = reading.status == ReadingStatus::ok;
  const bool stream = channel.profile->rate_hz > 0;
  if (!stream || !good || channel.seen % 50 == 0) {
    const QString meaning =
        good ? QString::fromStdString(print_number(reading.value, 6) + " " +
                                      std::string(sign_of(reading.unit)))
             : tr("%1: %2").arg(shown(reading.status), QString::fromStdString(reading.why));
    channel.heard.push_back({shown(reading.raw), meaning, good});
    if (channel.heard.size() > 200) channel.heard.pop_front();
  }
  if (stream) {
    ++channel.seen;
    const bool usable = good || reading.status == ReadingStatus::overload;
    // The window's forces are in N whatever the cell writes.
    const double value = reading.unit.unit && role == InstrumentRole::force_cell
                             ? convert(reading.value, *reading.unit.unit, Unit::N)
                             : reading.value;
    if (role == InstrumentRole::force_cell) {
      const auto caught = [this](const CaughtStroke& stroke) { emit stroke_caught(stroke); };
      if (usable)
        catcher_.sample(value, reading.status == ReadingStatus::overload, caught);
      else
        catcher_.lost(caught);
    }
    if (!usable) return;
    channel.trace.push_back(float(value));
    const auto most =
        std::size_t(channel.profile->rate_hz * (role == InstrumentRole::force_cell ? 4 : 60));
    while (channel.trace.size() > most) channel.trace.pop_front();
    emit streamed(role, value);
    return;
  }
  ++channel.seen;
  if (!channel.profile->request.empty()) {
    // Garbage is no answer: the right one may still come.
    if (reading.status == ReadingStatus::garbage) {
      emit told(tr("The %1 sent something that is no reading (%2): %3. It was not taken.")
                    .arg(QString::fromStdString(channel.profile->name),
                         QString::fromStdString(reading.why), shown(reading.raw)),
                true);
      return;
    }
    if (!channel.awaiting) {
      emit told(tr("A late answer of the %1 was not taken: %2. Nobody was asked for it any more.")
                    .arg(QString::fromStdString(channel.profile->name), shown(reading.raw)),
                true);
      return;
    }
    channel.awaiting = false;
  }
  emit read(role, reading);
}

void InstrumentDesk::look() {
  awake_ms_ += std::min<qint64>(since_look_.restart(), 2 * kTick_ms);
  for (const auto role : kEveryRole) {
    Channel& channel = of(role);
    if (!channel.line || !channel.transport || channel.transport->state() != Transport::State::open)
      continue;
    if (channel.rest.isValid() && awake_ms_ - channel.last_byte > kQuiet_ms)
      channel.line->quiet([&](const InstrumentReading& reading) { take(role, reading); });
    // A cell's own machine may be held up in the middle of a stroke: that long it is waited for.
    if (role == InstrumentRole::force_cell && channel.rest.isValid() &&
        awake_ms_ - channel.last_byte > kStill_ms)
      catcher_.silent([this](const CaughtStroke& stroke) { emit stroke_caught(stroke); });
    if (channel.awaiting && awake_ms_ - channel.asked > kAnswer_ms) {
      channel.awaiting = false;
      emit told(tr("The %1 did not answer. Nothing was kept or lost: press Space to ask again, or "
                   "type the reading.")
                    .arg(QString::fromStdString(channel.profile->name)),
                true);
      emit unanswered(role);
    }
  }
}

bool InstrumentDesk::ask(InstrumentRole role) {
  Channel& channel = of(role);
  if (!open(role) || channel.awaiting) return false;
  if (channel.profile->request.empty()) return false;
  channel.awaiting = channel.profile->rate_hz == 0;
  channel.asked = awake_ms_;
  // Only on a line at rest is what comes next the beginning of an answer.
  if (!channel.rest.isValid() || channel.rest.elapsed() > kRest_ms)
    send_request(role);
  else
    QTimer::singleShot(kRest_ms + 10, this, [this, role] { send_request(role); });
  return true;
}

void InstrumentDesk::send_request(InstrumentRole role) {
  Channel& channel = of(role);
  if (!open(role)) {
    channel.awaiting = false;
    return;
  }
  if (channel.profile->rate_hz == 0)
    channel.line->quiet([&](const InstrumentReading& reading) { take(role, reading); });
  if (!channel.transport->write(channel.profile->request +
                                (channel.profile->ends_with_cr ? "\r" : "\n")))
    channel.awaiting = false;
}

bool InstrumentDesk::set_profile(const InstrumentProfile& profile) {
  if (const std::string fault = fault_of(profile); !fault.empty()) {
    emit told(tr("Not kept: %1").arg(QString::fromStdString(fault)), true);
    return false;
  }
  const Trial& trial = workbench_.trial();
  if (profile.role == InstrumentRole::gauge && trial.reading_count() > 0 &&
      kind_of(*profile.unit.unit) != kind_of(trial.unit())) {
    emit told(tr("Not kept: this trial's readings are in %1, the gauge would give %2.")
                  .arg(QString::fromUtf8(sign_of(trial.unit()).data()),
                       QString::fromUtf8(sign_of(profile.unit).data())),
              true);
    return false;
  }
  std::vector<InstrumentProfile> profiles;
  for (const auto role : kEveryRole)
    if (role == profile.role)
      profiles.push_back(profile);
    else if (of(role).profile)
      profiles.push_back(*of(role).profile);
  const std::string text = instruments_json(profiles);
  return workbench_.edit([&](ProjectSession& session) {
    session.keep(kInstrumentsKey, text, "the " + std::string(name_of(profile.role)) + "'s set-up");
  });
}

void InstrumentDesk::forget(InstrumentRole role) {
  std::vector<InstrumentProfile> profiles;
  for (const auto other : kEveryRole)
    if (other != role && of(other).profile) profiles.push_back(*of(other).profile);
  const std::string text = profiles.empty() ? std::string() : instruments_json(profiles);
  workbench_.edit([&](ProjectSession& session) {
    session.keep(kInstrumentsKey, text, "the " + std::string(name_of(role)) + "'s set-up");
  });
}

std::optional<InstrumentProfile> InstrumentDesk::profile(InstrumentRole role) const {
  return of(role).profile;
}
bool InstrumentDesk::open(InstrumentRole role) const {
  return of(role).transport && of(role).transport->state() == Transport::State::open;
}
QString InstrumentDesk::missed(InstrumentRole role) const { return of(role).missed; }
const std::deque<InstrumentDesk::Heard>& InstrumentDesk::heard(InstrumentRole role) const {
  return of(role).heard;
}
bool InstrumentDesk::awaiting(InstrumentRole role) const { return of(role).awaiting; }
const std::deque<float>& InstrumentDesk::trace(InstrumentRole role) const { return of(role).trace; }
long InstrumentDesk::samples_seen(InstrumentRole role) const { return of(role).seen; }
InstrumentLine::Counts InstrumentDesk::counts(InstrumentRole role) const {
  return of(role).line ? of(role).line->counts() : InstrumentLine::Counts();
}

QString InstrumentDesk::state_words(InstrumentRole role) const {
  const Channel& channel = of(role);
  if (!channel.profile)
    return role == InstrumentRole::gauge ? tr("readings are typed") : tr("none set up");
  if (channel.profile->port.empty())
    return tr("%1: readings are typed").arg(QString::fromStdString(channel.profile->name));
  if (open(role))
    return tr("%1 on %2")
        .arg(QString::fromStdString(channel.profile->name),
             QString::fromStdString(channel.profile->port));
  if (channel.lost_at.isValid())
    return tr("%1 has been gone since %2 (%3)")
        .arg(QString::fromStdString(channel.profile->name),
             channel.lost_at.toString(QStringLiteral("HH:mm:ss")), channel.why);
  return tr("%1 is not there: %2").arg(QString::fromStdString(channel.profile->name), channel.why);
}

}  // namespace bq::ui
