// What stands under the verdict at a station.
#pragma once

#include <QVBoxLayout>
#include <QWidget>

#include "desk.h"
#include "fields.h"
#include "look.h"
#include "verdicts.h"

namespace rt {

class StationPanel : public QWidget {
  Q_OBJECT
 public:
  StationPanel(Desk& desk) : desk_(desk), column_(new QVBoxLayout(this)) {
    column_->setContentsMargins(20, 8, 20, 16);
    column_->setSpacing(10);
  }
  /// Shows the job as it is now. Called when the station opens and whenever the job changes.
  virtual void refresh() = 0;

 protected:
  Desk& desk_;
  QVBoxLayout* column_;
};

/// Asks for a file; tests and drops give it without asking.
class FileAsker {
 public:
  virtual ~FileAsker() = default;
  virtual QString toOpen(QWidget* parent, const QString& title, const QString& filter) = 0;
  virtual QString toSave(QWidget* parent, const QString& title, const QString& name,
                         const QString& filter) = 0;
  virtual QString folder(QWidget* parent, const QString& title) = 0;
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
