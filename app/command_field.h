// The command field (Ctrl+K): finds any action, piece, hooping or station by typing.
#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <functional>

namespace rt {

struct Command {
  QString name, hint;
  std::function<void()> run;
};

class CommandField : public QLineEdit {
  Q_OBJECT
 public:
  /// `offers` gives what can be done now, asked anew at each opening.
  explicit CommandField(std::function<std::vector<Command>()> offers, QWidget* parent = nullptr);
  void open();

 protected:
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

 private:
  void filter();
  void runCurrent();
  std::function<std::vector<Command>()> offers_;
  std::vector<Command> commands_;
  QListWidget* list_;
};

}  // namespace rt
