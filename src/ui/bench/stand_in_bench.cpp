#include "ui/bench/stand_in_bench.h"

#include <signal.h>
#include <sys/prctl.h>
#include <QCoreApplication>
#include <QDir>
#include <QProcess>

#include "store/bench_json.h"
#include "ui/parts/save_file.h"
#include "workflow/bench_study.h"

namespace bq::ui {
namespace {

constexpr int kStart_ms = 15000;  // usually 50; a busy computer takes its time

}  // namespace

StandInBench::StandInBench(Workbench& workbench, const QString& program, const QString& folder,
                           quint64 seed, QObject* parent)
    : QObject(parent), workbench_(workbench), program_(program), folder_(folder), seed_(seed) {
  if (folder_.isEmpty()) {
    own_ = std::make_unique<QTemporaryDir>();
    folder_ = own_->path();
  }
  connect(&workbench_, &Workbench::changed, this, &StandInBench::write_state);
  connect(&workbench_, &Workbench::run_chosen, this, &StandInBench::write_state);
  connect(&workbench_, &Workbench::opened, this, &StandInBench::put_profiles);
}

StandInBench::~StandInBench() {
  for (auto& device : devices_) {
    device->disconnect();
    device->terminate();
    if (!device->waitForFinished(1000)) device->kill();
  }
}

QString StandInBench::port(const char* name) const {
  return folder_ + QLatin1Char('/') + QLatin1String(name);
}

bool StandInBench::start() {
  if (!devices_.empty()) return true;
  write_state();
  bool good = true;
  for (const char* kind : {"gauge", "force-cell", "angle"}) {
    auto device = std::make_unique<QProcess>();
    device->setProcessChannelMode(QProcess::ForwardedErrorChannel);
    device->setChildProcessModifier(
        [] { prctl(PR_SET_PDEATHSIG, SIGTERM); });  // a killed window leaves no devices behind
    device->start(program_, {QLatin1String(kind), QStringLiteral("--link"), port(kind),
                             QStringLiteral("--seed"), QString::number(seed_),
                             QStringLiteral("--state"), port("edge.json")});
    if (!device->waitForStarted(kStart_ms) || !device->waitForReadyRead(kStart_ms)) {
      emit workbench_.refused(tr("The stand-in %1 could not be started (%2): %3.")
                                  .arg(QLatin1String(kind), program_, device->errorString()));
      good = false;
    }
    devices_.push_back(std::move(device));
  }
  if (workbench_.has_project()) put_profiles();
  return good;
}

void StandInBench::put_profiles() {
  if (devices_.empty() || !workbench_.writable()) return;
  // Ports that a person set up stay; those of an earlier demo point at nothing any more.
  std::vector<InstrumentProfile> profiles;
  if (const auto kept = parse_instruments(workbench_.session().kept(kInstrumentsKey)))
    profiles = *kept;
  const std::pair<InstrumentRole, const char*> all[] = {{InstrumentRole::gauge, "gauge"},
                                                        {InstrumentRole::force_cell, "force-cell"},
                                                        {InstrumentRole::angle, "angle"}};
  for (const auto& [role, name] : all) {
    auto found = std::find_if(profiles.begin(), profiles.end(),
                              [&, r = role](const InstrumentProfile& p) { return p.role == r; });
    if (found == profiles.end())
      found = profiles.insert(profiles.end(), usual_profile(role));
    else if (!found->name.starts_with("stand-in"))
      continue;
    found->name = std::string("stand-in ") + std::string(name_of(role));
    found->port = port(name).toStdString();
    if (role == InstrumentRole::force_cell) found->request = "STROKE";
    if (role == InstrumentRole::angle) found->request = "ZERO";
  }
  const std::string text = instruments_json(profiles);
  workbench_.edit([&](ProjectSession& session) {
    session.keep(kInstrumentsKey, text, "the stand-in instruments");
  });
}

QString StandInBench::picture_folder() const {
  QDir(folder_).mkpath(QStringLiteral("pictures"));
  return folder_ + QStringLiteral("/pictures");
}

void StandInBench::add_edge(QStringList& wishes) {
  write_state();
  wishes << QStringLiteral("--state") << port("edge.json");
  const int run = workbench_.current_run();
  if (run >= 0 && run < int(workbench_.trial().runs.size()))
    if (const SteelCard* card =
            workbench_.trial().steel_card(workbench_.trial().runs[std::size_t(run)].facts.steel);
        card && card->toughness == "brittle")
      wishes << QStringLiteral("--brittle");
}

QStringList StandInBench::camera_wishes() {
  QStringList wishes{QStringLiteral("camera"), QStringLiteral("--seed"), QString::number(seed_)};
  add_edge(wishes);
  return wishes;
}

void StandInBench::take_picture() {
  QStringList wishes{QStringLiteral("microscope"), QStringLiteral("--folder"), picture_folder(),
                     QStringLiteral("--seed"), QString::number(seed_ + quint64(++pictures_))};
  add_edge(wishes);
  auto* device = new QProcess(this);
  device->setProcessChannelMode(QProcess::ForwardedErrorChannel);
  connect(device, &QProcess::finished, device, &QObject::deleteLater);
  connect(device, &QProcess::errorOccurred, this, [this, device] {
    emit workbench_.refused(tr("The stand-in microscope could not be started (%1): %2.")
                                .arg(program_, device->errorString()));
  });
  device->start(program_, wishes);
}

void StandInBench::put_weight(double nominal) {
  weight_ = nominal > 0 ? std::optional(nominal) : std::nullopt;
  write_state();
}

void StandInBench::write_state() {
  const int index = workbench_.current_run();
  if (index < 0 || index >= int(workbench_.trial().runs.size())) return;
  auto edge = stand_in_edge(workbench_.trial(), std::size_t(index),
                            workbench_.session().kept(kStandInWorldKey), seed_);
  if (!edge) {
    emit workbench_.told(tr("The stand-ins know no edge for this run: %1.")
                             .arg(QString::fromStdString(edge.refusal().reason)));
    return;
  }
  VirtualEdge now = *edge;
  now.check_weight = weight_;
  write_whole(port("edge.json"), virtual_edge_json(now));
}

}  // namespace bq::ui
