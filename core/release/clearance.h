// The law of what may be sewn. Whoever sends a setting to a machine asks here, and whoever shows
// whether it may be sewn shows what is said here: there is no second opinion.
#pragma once

#include "findings.h"
#include "measured.h"

namespace rt {

/// One thing that was looked at, for people above the core to put in words.
struct ClearanceLine {
  enum class What {
    NoPlan,            ///< Nothing is planned.
    PlanOutOfDate,     ///< The layout or its settings changed after the plan was made.
    BeingWeighed,      ///< The layout's density is not known yet.
    DensityFine,       ///< `value` of `limit` mm/mm², the look-twice limit.
    DensityCheck,      ///< A finding asks for a look; `count` of them.
    DensityStop,       ///< A finding forbids it; `count` of them.
    DensityOverruled,  ///< … and a person went on: `reason`, `time`.
    ProofFine,         ///< The lettering was read and accepted, or there is none.
    ProofNotAccepted,  ///< Nobody accepted it as it stands now.
    RoomInField,  ///< Sewing keeps `value` mm from the edge of frame `name`, turned by `limit`°.
    LeavesField,  ///< It leaves it by `value` mm.
    ClothNotMeasured,  ///< No marks were found, or too few (`reason`).
    PhotoNotRead,    ///< The last photo could not be read: `reason`. What was found before is void.
    PhotoBeingRead,  ///< A photo came and is not read yet: what was found before may not hold.
    ClothReady,      ///< Ready to be sewn as it lies.
    ClothNotReady,   ///< Check or re-hoop.
    ClothOverruled,  ///< … and a person went on: `reason`, `time`.
    SewnThrough,     ///< All of this setting is on the cloth.
    SewnAlready,     ///< `count` of its stitches lie on the cloth, sewn under an earlier plan.
    SewnOverruled,   ///< … and a person wants them there twice: `reason`, `time`.
    SewnAndGone,     ///< `count` stitches lie on the cloth that the layout has no more.
    EarlierUnsewn,   ///< Hooping `count` comes before this one and is not sewn through.
    OtherFrame,      ///< Frame `name` is mounted, `reason` is wanted.
    FrameOpen,       ///< The frame is not locked.
    FootUp,          ///< The presser foot is up.
    MachineFine,  ///< Frame and foot are as they have to be; `name` is mounted (empty: not told).
  };
  /// Fine needs no more than a word; Look wants a person's eye; Bars keeps it from being sewn.
  enum class Weight { Fine, Look, Bars };
  What what = What::NoPlan;
  Weight weight = Weight::Bars;
  double value = 0, limit = 0;
  size_t count = 0;
  std::string name, reason, time;
  friend bool operator==(const ClearanceLine&, const ClearanceLine&) = default;
};

/// What a machine says of itself.
struct MachineSays {
  std::string frame;  ///< Id; empty: it does not know.
  bool locked = false, foot_up = false;
  friend bool operator==(const MachineSays&, const MachineSays&) = default;
};

/// All that is known when it is asked; the references outlive the call.
struct ReleaseFacts {
  const Work& work;
  size_t layout_print = 0;
  const MadePlan* plan = nullptr;          ///< For the layout as it is; null: there is none.
  bool planned = false;                    ///< There is a plan, be it out of date.
  int hooping = 0, setting = 0;            ///< In the plan, from 1.
  const DensityReport* weighed = nullptr;  ///< Of this very layout; null: it is being weighed.
  Field field = {};                        ///< Of the hooping's frame.
  ShapeLimits limits = {};
  bool reading = false;                     ///< A photo of this hooping is being read.
  size_t gone = 0;                          ///< Stitches on the cloth that the layout has no more.
  std::optional<MachineSays> machine = {};  ///< Unset: none is there to be asked.
};

struct Clearance {
  SettingKey of;                     ///< What may be sewn; empty: nothing.
  std::vector<ClearanceLine> lines;  ///< In the order in which things are done.
  Measured cloth;
  /// The first line that keeps it from being sewn; null: none does. `before_sending` leaves out
  /// what is set right at the machine.
  const ClearanceLine* against(bool before_sending = false) const;
  bool given() const { return !of.plan.empty() && !against(); }
};

/// Pure: the same facts give the same answer.
Clearance clearanceOf(const ReleaseFacts& known);

/// Whether a line is set right at the machine, not before.
bool atMachine(ClearanceLine::What what);

}  // namespace rt
