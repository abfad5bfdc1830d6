// What the machines are doing now, and when one of them needs a hand: for head, station and phone.
#pragma once

#include <QDateTime>
#include <QString>
#include <QVector>
#include <optional>

#include "run_ahead.h"

namespace rt {

class Desk;

/// Why a person has to come to a machine.
enum class CallFor { Thread, Stop, Bobbin, Off, Break, BobbinMissed, BobbinEmpty, Fold, Power };

/// A time at which a machine needs a hand.
struct MachineCall {
  CallFor what = CallFor::Off;
  QDateTime at;   ///< Local; past: it waits since then.
  Colour thread;  ///< To be put on, or that broke.
};

struct MachineNow {
  enum class Doing { Idle, Sewing, Waiting, Paused, Done, Away };
  QString id, name;
  Doing doing = Doing::Away;
  std::optional<Colour> thread;       ///< At work, or waited for.
  std::optional<Colour> next_thread;  ///< The one that follows in what is loaded.
  size_t row = 0, of = 0;             ///< Rows done, and all; 0 of 0: nothing is loaded.
  std::optional<double> left_s;       ///< Of sewing what is loaded, by the clock.
  std::optional<MachineCall> call;    ///< The next one.
  std::optional<CallFor> trouble;     ///< Break and what follows it.
  QString job;                        ///< Title of the job that is sewn; empty: none.
  int hooping = 0;                    ///< Of it, that is loaded; 0: none.
};

/// The machine of this window, once it was met, then those that stay on and are not: away.
QVector<MachineNow> machinesNow(const Desk& desk);

/// When the machine needs a hand next if it sews what is sent from a row on, from now on.
MachineCall callAhead(const Desk& desk, size_t row);

/// As the shelf calls a colour; machines know it by its hex alone, which stands where it is none.
QString threadName(const Desk& desk, Colour colour);
QString threadName(const Desk& desk, const QString& hex);
/// "thread Reed green": what to do there.
QString callWords(const Desk& desk, const MachineCall& call);
/// Of all machines, the first call: "14:32 Practice machine: thread Reed green". Empty: none needs
/// a hand.
QString nextCallWords(const Desk& desk);

}  // namespace rt
