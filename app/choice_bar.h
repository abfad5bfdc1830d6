// A sentence with ways to go on, over the cloth: nothing else is kept from being used meanwhile.
#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <functional>

namespace rt {

class ChoiceBar : public QFrame {
  Q_OBJECT
 public:
  struct Way {
    QString name, tip;
    std::function<void()> run;
    bool closes = true;  ///< The bar goes when it is taken.
  };
  /// Lies over `over`, at its lower edge, as wide as its words ask.
  explicit ChoiceBar(QWidget* over);
  void ask(const QString& words, const std::vector<Way>& ways);
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void place();
  QLabel* words_;
  QHBoxLayout* ways_;
};

}  // namespace rt
