#include "machine_finder.h"

#include <QDir>
#include <QJsonDocument>
#include <QJsonObject>
#include <algorithm>
#include <cerrno>
#include <csignal>

namespace rt {
namespace {

constexpr qint64 kLongestNotice = 4096;
constexpr qsizetype kMostNotices = 100, kLongestName = 60;

/// A machine that was cut off leaves its notice behind; it names the process that wrote it.
bool hasEnded(const QJsonObject& notice) {
  const int process = notice["process"].toInt();
  return process > 0 && ::kill(process, 0) != 0 && errno == ESRCH;
}

}  // namespace

QVector<MachineFound> machinesIn(const QString& folder) {
  QVector<MachineFound> out;
  for (const QFileInfo& info :
       QDir(folder).entryInfoList({QStringLiteral("*.json")}, QDir::Files, QDir::Name)) {
    QFile file(info.filePath());
    if (out.size() >= kMostNotices || info.size() > kLongestNotice ||
        !file.open(QIODevice::ReadOnly))
      continue;
    const QJsonObject o = QJsonDocument::fromJson(file.read(kLongestNotice)).object();
    const int port = o["port"].toInt();
    const MachineFound m{o["machine"].toString().left(kLongestName),
                         o["id"].toString().left(kLongestName), o["key"].toString(),
                         static_cast<quint16>(std::clamp(port, 0, 65535))};
    const bool twice = std::any_of(out.begin(), out.end(),
                                   [&](const MachineFound& other) { return other.id == m.id; });
    if (hasEnded(o)) continue;
    if (port > 0 && port <= 65535 && !m.id.isEmpty() && !m.key.isEmpty() && !twice) out.append(m);
  }
  std::stable_sort(out.begin(), out.end(), [](const MachineFound& a, const MachineFound& b) {
    return std::pair(a.name, a.id) < std::pair(b.name, b.id);
  });
  return out;
}

}  // namespace rt
