// The window's end of the machine's wire: starts the stand-in and talks to it. No widgets.
#pragma once

#include <QJsonObject>
#include <QObject>
#include <QProcess>
#include <QTcpSocket>

#include "planner.h"

namespace rt {

class MachineLink : public QObject {
  Q_OBJECT
 public:
  enum class Phase { Away, Connecting, Idle, Loaded, Sewing, Paused, ColourWait, Broken, Done };
  Q_ENUM(Phase)

  explicit MachineLink(QObject* parent = nullptr);
  ~MachineLink() override;

  /// Starts the stand-in beside this program (or RAPT_THIMBLE_STANDIN) and greets it.
  void connectMachine();
  void leave();
  void load(const Pattern& inHoop, const Field& field, double stitches_per_minute);
  void trace();
  void sew(size_t from_row);
  void goOn();
  void pause();
  void breakAfter(int stitches);
  void setSpeedUp(double times);

  Phase phase() const { return phase_; }
  size_t row() const { return row_; }
  int stitch() const { return stitch_; }
  int stitches() const { return stitches_; }
  QString thread() const { return thread_; }

 signals:
  void phaseChanged();
  void progressed();
  void traced(const QVector<QPointF>& way_mm);
  void broke(int stitch);
  void colourAsked(const QString& thread);
  void finished();
  void failed(const QString& why);

 private:
  void setPhase(Phase phase);
  void send(const QJsonObject& request);
  void read();
  void take(const QJsonObject& message);
  void takeEvent(const QString& event);

  QProcess process_;
  QTcpSocket socket_;
  QByteArray inbox_;
  QString key_;
  Phase phase_ = Phase::Away;
  size_t row_ = 0;
  int stitch_ = 0, stitches_ = 0;
  QString thread_;
};

}  // namespace rt
