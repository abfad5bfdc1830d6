// The window's end of the machine's wire: starts the stand-in and talks to it. No widgets.
#pragma once

#include <QDateTime>
#include <QJsonArray>
#include <QJsonObject>
#include <QObject>
#include <QPointF>
#include <QProcess>
#include <QTcpSocket>
#include <optional>

#include "machine_finder.h"
#include "planner.h"

namespace rt {

/// What the machine said of itself. Values are held against what was loaded before anyone sees
/// them.
struct MachineEvent {
  enum class Kind {
    Progress,
    Colour,        ///< Waits for a thread that is on no needle.
    Break,         ///< Of the top thread.
    BobbinMissed,  ///< Nothing since `from_row` holds.
    BobbinEmpty,
    Fold,  ///< Cloth lies under the foot.
    Stop,
    Done
  };
  Kind kind = Kind::Progress;
  size_t row = 0;       ///< Rows done.
  size_t from_row = 0;  ///< Row that it was started at.
  int stitch = 0;       ///< Needle points done.
  QString thread;       ///< At work, or asked for.
  double clock_s = 0;   ///< Of the machine, since the load.
};

/// What the machine says of itself when asked.
struct MachineState {
  QString frame;  ///< Mounted; empty: any.
  bool turned = false, locked = true, foot_up = false;
  QStringList needles;  ///< Thread on each; empty: none.
  QString hindrance;    ///< Why it would not start; empty: it would.
};

/// A file in its memory or on the stick.
struct MachineFile {
  QString name, frame;
  qint64 bytes = 0;
};

/// What goes to the machine.
struct MachineLoad {
  QString design;  ///< The machine remembers by it how far it was sewn.
  QString file;    ///< Its name in the machine's memory.
  QString frame;   ///< Id of the frame that it is made for.
  Pattern rows;    ///< In the machine's field.
  Field field;
  double stitches_per_minute = 700;
  Transform setting;  ///< Of the frame: its field in that of the first setting.
};

class MachineLink : public QObject {
  Q_OBJECT
 public:
  enum class Phase {
    Away,
    Connecting,
    Idle,
    Sending,
    Loaded,
    Sewing,
    Paused,
    ColourWait,
    Broken,
    Done
  };
  Q_ENUM(Phase)

  /// `memory` is the file that the stand-in keeps its position in; empty: none.
  explicit MachineLink(QString memory = {}, QObject* parent = nullptr);
  ~MachineLink() override;

  /// Starts the stand-in beside this program (or RAPT_THIMBLE_STANDIN, which may carry options
  /// after spaces) and greets it.
  void connectMachine();
  /// Greets a machine that stays on. One that answers with another id is not it: refused.
  void connectTo(const MachineFound& machine);
  void leave();
  /// Writes it into the machine's memory, reads it back, compares, and selects it. A machine other
  /// than the one that was greeted refuses.
  void load(MachineLoad what);
  void trace();
  void sew(size_t from_row);
  void goOn();
  void pause();
  /// A fault on purpose: `break`, `bobbin-missed`, `bobbin-empty`, `fold`, `power`.
  void strike(const QString& fault, int after_stitches);
  void outline();
  void askState();
  void mount(const QString& frame, bool turned, bool locked);
  void setFoot(bool up);
  /// Raises the foot, puts a thread on a needle (from 1), and lowers it again.
  void threadNeedle(int needle, const QString& thread);
  void askHere();
  void listFiles(bool stick);
  void removeFile(const QString& name, bool stick);

  // The camera over the frame, and the unseen hand that hoops for practice.
  /// `meant` is where the layout should lie in the field.
  void hoopCloth(int level, const Transform& meant, std::optional<quint32> seed = std::nullopt);
  /// `scene`: what was put on frame and cloth, as the protocol names it.
  void takePhoto(QJsonObject scene);
  void askTruth();
  void setSpeedUp(double times);

  /// Bytes from the wire, whole lines or parts of them. Public so that tests can say what no
  /// machine would.
  void hear(const QByteArray& bytes);

  Phase phase() const { return phase_; }
  /// When it came into this phase, by this computer's clock.
  const QDateTime& since() const { return since_; }
  /// How many times as fast as sewing the machine's time passes; only practice machines know this.
  double speedUp() const { return speedUp_; }
  /// Whether it went away while something was loaded, and was not met again.
  bool cutOff() const { return cutOff_; }
  /// As it was greeted.
  const QString& machineName() const { return name_; }
  const QString& machineId() const { return id_; }
  int needles() const { return needles_; }
  const std::optional<MachineState>& state() const { return state_; }
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
  void stated();
  void at(QPointF needle_mm);
  void listed(const QVector<rt::MachineFile>& files, bool stick);
  void photographed(const QByteArray& jpeg);
  /// How the cloth really lies: from where it was meant to lie in the field to where it lies.
  void truthTold(const rt::Transform& lies, const QString& fault);
  /// The machine or the wire went away while something was loaded.
  void lost();
  /// A request, by its word in the protocol, came to nothing; `failed` says why.
  void refused(const QString& request);
  void failed(const QString& why);

 private:
  void setPhase(Phase phase);
  void send(const QJsonObject& request);
  void read();
  void take(const QByteArray& line);
  void takeReply(const QJsonObject& reply);
  void takeEvent(const QJsonObject& event);
  void takeHello(const QJsonObject& reply);
  void takeLoaded(const QJsonObject& reply);
  void takeWay(const QJsonObject& reply);
  void takeState(const QJsonObject& reply);
  void takeFiles(const QJsonObject& reply);
  void takeTruth(const QJsonObject& reply);
  void checkCopy(const QJsonObject& reply);
  void distrust(const QString& why);
  void gone(const QString& why);

  QString memory_;
  QProcess process_;
  QTcpSocket socket_;
  QByteArray inbox_;
  QString key_;
  Phase phase_ = Phase::Away;
  QDateTime since_ = QDateTime::currentDateTime();
  double speedUp_ = 1;
  bool cutOff_ = false;
  MachineEvent last_;
  QString name_, id_;
  std::optional<MachineState> state_;
  MachineLoad load_;
  QJsonArray sentRows_;
  size_t rows_ = 0, remembered_ = 0;
  int stitches_ = 0, needles_ = 1;
  bool stick_ = false;
  QString wantedId_;  ///< Of the machine that was chosen; empty: the practice machine of this link.
  bool goingOn_ = false;  ///< Asked for, and not answered yet: asking twice is asking once.
};

}  // namespace rt
