#include "ui/frame/remembered.h"

#include <QCryptographicHash>
#include <QFileInfo>
#include <QGuiApplication>
#include <QPalette>
#include <QScreen>

#include "ui/parts/words.h"

namespace bq::ui {
namespace {

constexpr int kMostProjects = 10;
constexpr int kTitleBar = 44, kBorder = 8;

QString next_key(const QString& project) {
  return settings_key(QStringLiteral("next"), QFileInfo(project).absoluteFilePath().toUtf8());
}

Unit unit_in(const QString& text, Unit otherwise) {
  const auto unit = parse_unit(text.toStdString());
  return unit && kind_of(*unit) == kind_of(otherwise) ? *unit : otherwise;
}

}  // namespace

QSettings program_settings() {
  return QSettings(QSettings::IniFormat, QSettings::UserScope, QStringLiteral("brave-quarry"),
                   QStringLiteral("brave-quarry"));
}

QString settings_key(const QString& group, const QByteArray& of) {
  return group + '/' +
         QString::fromLatin1(
             QCryptographicHash::hash(of, QCryptographicHash::Sha1).toHex().left(16));
}

QString next_in(const QString& project) {
  return program_settings().value(next_key(project)).toString();
}

void remember_next(const QString& project, const QString& sentence) {
  program_settings().setValue(next_key(project), sentence);
}

Remembered Remembered::read(ThemeName theme) {
  const QSettings kept = program_settings();
  Remembered out;
  out.geometry = kept.value("window/geometry").toByteArray();
  out.display.theme = parse_theme(kept.value("show/theme").toString()).value_or(theme);
  out.zoom = kept.value("show/zoom", out.zoom).toInt();
  out.display.angles = kept.value("show/angles").toString() == QLatin1String("inclusive")
                           ? AngleConvention::inclusive
                           : AngleConvention::per_side;
  out.display.force = unit_in(kept.value("show/force").toString(), Unit::gf);
  out.display.length = unit_in(kept.value("show/length").toString(), Unit::mm);
  const int station = kept.value("window/station", 0).toInt();
  if (station >= 0 && station <= int(Station::verdict)) out.station = Station(station);
  for (const QString& path : kept.value("projects").toStringList())
    if (QFileInfo::exists(path) && out.projects.size() < kMostProjects) out.projects << path;
  return out;
}

void Remembered::write() const {
  QSettings kept = program_settings();
  kept.setValue("window/geometry", geometry);
  kept.setValue("window/station", int(station));
  kept.setValue("show/theme", name_of(display.theme));
  kept.setValue("show/angles",
                display.angles == AngleConvention::inclusive ? "inclusive" : "per side");
  kept.setValue("show/force", text_of(sign_of(display.force)));
  kept.setValue("show/length", text_of(sign_of(display.length)));
  kept.setValue("projects", projects);
}

void Remembered::add_project(const QString& path) {
  const QString whole = QFileInfo(path).absoluteFilePath();
  projects.removeAll(whole);
  projects.prepend(whole);
  while (projects.size() > kMostProjects) projects.removeLast();
}

ThemeName theme_of_desktop() {
  return QGuiApplication::palette().color(QPalette::Window).lightness() < 128 ? ThemeName::slate
                                                                              : ThemeName::chalk;
}

QSize fitting(QSize wished, const QScreen* screen) {
  // Drawn for nobody's screen (tests, pictures): there is nothing to fit into.
  if (!screen || QGuiApplication::platformName() == QLatin1String("offscreen")) return wished;
  const QSize room = screen->availableGeometry().size() - QSize(kBorder, kTitleBar);
  return wished.boundedTo(room);
}

}  // namespace bq::ui
