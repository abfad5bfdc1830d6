#include "view_choices.h"

#include <QSettings>
#include <algorithm>

namespace rt {

ViewChoices readViewChoices(const std::filesystem::path& file) {
  const QSettings settings(QString::fromStdString(file.string()), QSettings::IniFormat);
  return {settings.value("view/inches", false).toBool(),
          settings.value("view/dark", false).toBool(),
          std::clamp(settings.value("view/scan_strength", ViewChoices{}.scan_strength).toDouble(),
                     0.0, 1.0)};
}

void writeViewChoices(const std::filesystem::path& file, const ViewChoices& choices) {
  QSettings settings(QString::fromStdString(file.string()), QSettings::IniFormat);
  settings.setValue("view/inches", choices.inches);
  settings.setValue("view/dark", choices.dark);
  settings.setValue("view/scan_strength", choices.scan_strength);
}

}  // namespace rt
