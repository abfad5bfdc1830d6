// The window's end of the machine's wire: starts the stand-in and talks to it. No widgets.
#pragma once

#include <QJsonObject>
#include <QObject>
#include <QPointF>
#include <QProcess>
#include <QTcpSocket>

#include "planner.h"

namespace rt {

/// What the machine said of itself. Values are held against what was loaded before anyone sees
/// them.
struct MachineEvent {
  enum class Kind { Progress, Colour, Break, Stop, Done };
  Kind kind = Kind::Progress;
  size_t row = 0;      ///< Rows done.
  int stitch = 0;      ///< Needle points done.
  QString thread;      ///< At work, or asked for.
  double clock_s = 0;  ///< Of the machine, since the load.
};

class MachineLink : public QObject {
  Q_OBJECT
 public:
  enum class Phase { Away, Connecting, Idle, Loaded, Sewing, Paused, ColourWait, Broken, Done };
  Q_ENUM(Phase)

  /// `memory` is the file that the stand-in keeps its position in; empty: none.
  explicit MachineLink(QString memory = {}, QObject* parent = nullptr);
  ~MachineLink() override;

  /// Starts the stand-in beside this program (or RAPT_THIMBLE_STANDIN, which may carry options
  /// after spaces) and greets it.
  void connectMachine();
  void leave();
  /// `design` names what is loaded: the machine remembers by it how far it was sewn.
  void load(const QString& design, const Pattern& in_machine, const Field& field,
            double stitches_per_minute);
  void trace();
  void sew(size_t from_row);
  void goOn();
  void pause();
  void breakAfter(int stitches);
  void setSpeedUp(double times);

  /// Bytes from the wire, whole lines or parts of them. Public so that tests can say what no
  /// machine would.
  void hear(const QByteArray& bytes);

  Phase phase() const { return phase_; }
  const MachineEvent& last() const { return last_; }
  size_t row() const { return last_.row; }
  int stitch() const { return last_.stitch; }
  QString thread() const { return last_.thread; }
  int stitches() const { return stitches_; }
  /// Of the stand-in; 0 while there is none.
  qint64 processId() const { return process_.processId(); }
  /// Rows of the load that the machine remembers as sewn.
  size_t rememberedRow() const { return remembered_; }

 signals:
  void phaseChanged();
  /// Each event of the machine, in its order.
  void happened(const rt::MachineEvent& event);
  void traced(const QVector<QPointF>& way_mm);
  /// The machine or the wire went away while something was loaded.
  void lost();
  void failed(const QString& why);

 private:
  void setPhase(Phase phase);
  void send(const QJsonObject& request);
  void read();
  void take(const QByteArray& line);
  void takeReply(const QJsonObject& reply);
  void takeEvent(const QJsonObject& event);
  void takeWay(const QJsonObject& reply);
  void distrust(const QString& why);
  void gone(const QString& why);

  QString memory_;
  QProcess process_;
  QTcpSocket socket_;
  QByteArray inbox_;
  QString key_;
  Phase phase_ = Phase::Away;
  MachineEvent last_;
  size_t rows_ = 0, remembered_ = 0;
  int stitches_ = 0;
};

}  // namespace rt
