// Lettering at Compose: the text, its face and size, its baseline, monograms, and the fit to a
// curve of the garment.
#pragma once

#include <QCheckBox>

#include "gestures.h"
#include "station.h"

namespace rt {

class TextTools : public QWidget {
  Q_OBJECT
 public:
  TextTools(Desk& desk, Gestures& gestures);
  void refresh();
  void focusText();
  /// Lays the chosen lettering along the curve through three points, as large as fits.
  void followCurve(const std::vector<Point>& picked);

 private:
  void buildWords(QVBoxLayout& column);
  void buildCurve(QVBoxLayout& column);
  void buildGaps(QVBoxLayout& column);
  void buildFollow(QVBoxLayout& column);
  void buildMonogram(QVBoxLayout& column);
  void connectWords();
  void connectCurve();
  void edit(const QString& name, const std::function<void(TextSource&)>& by);
  void readArc();
  void readGaps();
  void fitWidth();
  void showFlatPart(const Piece& piece, const TextSource& text);
  const TextSource* source() const;

  Desk& desk_;
  Gestures& gestures_;
  QLineEdit* text_;
  QComboBox *face_, *curve_, *frame_;
  LengthEdit *capHeight_, *radius_, *chord_, *sagitta_, *fit_, *away_, *tracking_, *lines_;
  QLineEdit *gaps_, *points_;
  QLabel *facts_, *curveFacts_;
};

}  // namespace rt
