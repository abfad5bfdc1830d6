// A station: its panel, what it lays over the cloth, what the hand does there, its actions and its
// verdict. Adding one touches its own folder and one line of all_stations.cpp.
#pragma once

#include <QKeySequence>
#include <QVBoxLayout>
#include <QWidget>

#include "desk.h"
#include "fields.h"
#include "gestures.h"
#include "hand.h"
#include "lens.h"
#include "look.h"
#include "verdicts.h"

namespace rt {

class SewRibbon;

/// Asks for a file; tests and drops give it without asking.
class FileAsker {
 public:
  virtual ~FileAsker() = default;
  virtual QString toOpen(QWidget* parent, const QString& title, const QString& filter) = 0;
  virtual QString toSave(QWidget* parent, const QString& title, const QString& name,
                         const QString& filter) = 0;
  virtual QString folder(QWidget* parent, const QString& title) = 0;
};

/// What stations are made with.
struct StationContext {
  Desk& desk;
  FileAsker& asker;
  Gestures& gestures;
  SewRibbon& ribbon;
};

/// Something that can be done from the keyboard and found by typing.
struct StationAction {
  QString name;
  QKeySequence keys;
  std::function<void()> run;
  bool opens = false;  ///< The station is opened first.
};

/// The panel under the verdict; computes nothing.
class StationPanel : public QWidget {
  Q_OBJECT
 public:
  StationPanel(Station id, Desk& desk) : id_(id), desk_(desk), column_(new QVBoxLayout(this)) {
    column_->setContentsMargins(20, 8, 20, 16);
    column_->setSpacing(10);
  }
  Station id() const { return id_; }
  /// Shows the job as it is now. Called when the station opens and whenever the job changes.
  virtual void refresh() = 0;
  virtual Lens* lens() { return nullptr; }
  virtual Hand* hand() { return nullptr; }
  virtual std::vector<StationAction> actions() { return {}; }
  StationVerdict verdict() const { return verdictOf(desk_, id_); }

 signals:
  /// Lens or hand draw otherwise now.
  void lookChanged();
  void openAsked();
  /// Another station is to be opened: something is mended there.
  void goAsked(rt::Station to);

 protected:
  Station id_;
  Desk& desk_;
  QVBoxLayout* column_;
};

/// Runs an action; an Error becomes a message and nothing else changes.
template <class Action>
void guarded(Desk& desk, Action&& action) {
  try {
    action();
  } catch (const std::exception& problem) {
    emit desk.failed(QString::fromUtf8(problem.what()));
  }
}

}  // namespace rt
