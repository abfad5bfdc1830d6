#include "view_choices.h"

#include <QSettings>

namespace rt {

ViewChoices readViewChoices(const std::filesystem::path& file) {
  const QSettings settings(QString::fromStdString(file.string()), QSettings::IniFormat);
  return {settings.value("view/inches", false).toBool(),
          settings.value("view/dark", false).toBool()};
}

void writeViewChoices(const std::filesystem::path& file, const ViewChoices& choices) {
  QSettings settings(QString::fromStdString(file.string()), QSettings::IniFormat);
  settings.setValue("view/inches", choices.inches);
  settings.setValue("view/dark", choices.dark);
}

}  // namespace rt
