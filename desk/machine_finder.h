// Machines that stay on and say where they listen: each a small file in one folder.
#pragma once

#include <QString>
#include <QVector>

namespace rt {

struct MachineFound {
  QString name, id;  ///< As its owner calls it; by which it is told from others.
  QString key;
  quint16 port = 0;  ///< On the loopback.
  friend bool operator==(const MachineFound&, const MachineFound&) = default;
};

/// Of every notice in a folder that can be read, by name and then by id. A notice that is no
/// notice, or whose machine has ended, is passed over; of one id the first counts.
QVector<MachineFound> machinesIn(const QString& folder);

}  // namespace rt
