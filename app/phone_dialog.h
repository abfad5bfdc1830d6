// The page for phones, opened and closed by a person: the code to scan, who can reach it, until
// when.
#pragma once

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

namespace rt {

class Desk;
class Phone;

class PhoneDialog : public QDialog {
  Q_OBJECT
 public:
  PhoneDialog(Desk& desk, Phone& phone, QWidget* parent);

 private:
  void layOut();
  void listAddresses();
  void toggle();
  void refresh();

  Desk& desk_;
  Phone& phone_;
  QLabel *code_, *whom_, *phones_, *fingerprint_;
  QLineEdit* link_;
  QComboBox* addresses_;
  QPushButton *open_, *renew_;
  QTimer looks_;  ///< Phones come and go without a word.
};

}  // namespace rt
