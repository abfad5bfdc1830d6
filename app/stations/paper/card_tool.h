// What stands on a quote besides the prices: who it is for, who offers, tax, days and terms.
#pragma once

#include <QDoubleSpinBox>
#include <QPlainTextEdit>
#include <QSpinBox>

#include "station.h"
#include "tool_shelf.h"

namespace rt {

/// The customer belongs to the job; all else is the shop's card and stays for every quote.
class CardTool : public QWidget {
  Q_OBJECT
 public:
  explicit CardTool(Desk& desk);
  void refresh();

 signals:
  void changed();

 private:
  QPlainTextEdit* lines(const QString& object, const QString& name);
  void keepCustomer();
  void keepCard();
  bool eventFilter(QObject* watched, QEvent* event) override;
  void hideEvent(QHideEvent* event) override;
  Desk& desk_;
  QPlainTextEdit *customer_, *where_, *terms_;
  QLineEdit *name_, *tax_name_;
  QDoubleSpinBox* tax_;
  QSpinBox* days_;
};

}  // namespace rt
