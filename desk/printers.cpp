#include "printers.h"

#include <QSettings>
#include <QUrl>

#include "error.h"

namespace rt {
namespace {

constexpr double kLeast_mm = 50, kMost_mm = 200;  // what a ruler of 100 mm can be taken for at all

QString groupOf(const std::string& printer) {
  // a slash would part the name
  return QString::fromLatin1(QUrl::toPercentEncoding(QString::fromStdString(printer)));
}

}  // namespace

std::vector<std::string> knownPrinters(const std::filesystem::path& list) {
  const QSettings settings(QString::fromStdString(list.string()), QSettings::IniFormat);
  std::vector<std::string> out;
  for (const QString& group : settings.childGroups())
    out.push_back(QUrl::fromPercentEncoding(group.toLatin1()).toStdString());
  return out;
}

double printerRuler_mm(const std::filesystem::path& list, const std::string& printer,
                       const std::string& paper) {
  const QSettings settings(QString::fromStdString(list.string()), QSettings::IniFormat);
  const double mm =
      settings.value(groupOf(printer) + "/" + QString::fromStdString(paper), 100.0).toDouble();
  return mm >= kLeast_mm && mm <= kMost_mm ? mm : 100;
}

void setPrinterRuler(const std::filesystem::path& list, const std::string& printer,
                     const std::string& paper, double ruler_mm) {
  if (printer.empty()) throw Error("the printer has no name", "printer", "type one");
  if (!(ruler_mm >= kLeast_mm && ruler_mm <= kMost_mm))
    throw Error("that is no length of a printed 100 mm", "printer", "measure the check ruler");
  QSettings settings(QString::fromStdString(list.string()), QSettings::IniFormat);
  settings.setValue(groupOf(printer) + "/" + QString::fromStdString(paper), ruler_mm);
  settings.sync();
  if (settings.status() != QSettings::NoError)
    throw Error("the printer's measure cannot be kept", list.string(), "check the folder");
}

}  // namespace rt
