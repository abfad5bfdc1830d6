// What an order costs and what to ask: two quantities side by side, and a quote on paper.
#pragma once

#include <QDoubleSpinBox>
#include <QGridLayout>
#include <QSpinBox>

#include "card_tool.h"
#include "quote_pdf.h"
#include "rates_tool.h"
#include "station.h"

namespace rt {

class PriceTool : public QWidget {
  Q_OBJECT
 public:
  PriceTool(Desk& desk, FileAsker& asker);
  void refresh();

 private:
  void setUpFields();
  void layOut();
  void connectAll();
  enum class Wish { Usual, Margin, Price };
  QuoteOptions optionsFor(int pieces) const;
  QString breakEven(const QuotePaper& paper) const;
  std::vector<int> beside() const;
  QuotePaper quoted() const;
  void show();
  void write(bool inner);
  Desk& desk_;
  FileAsker& asker_;
  QSpinBox *pieces_, *set_;
  QLineEdit* beside_;
  QDoubleSpinBox *blank_, *figure_;
  QComboBox* wish_;
  QGridLayout* table_;
  QLabel* words_;
  QPushButton *forCustomer_, *forShop_;
  CardTool* card_;
  RatesTool* rates_;
};

}  // namespace rt
