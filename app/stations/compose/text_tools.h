// Lettering at Compose: the text, its face and size, its baseline, monograms, and the fit to a
// curve of the garment.
#pragma once

#include <QCheckBox>

#include "gestures.h"
#include "neckline.h"
#include "station.h"

namespace rt {

class TextTools : public QWidget {
  Q_OBJECT
 public:
  TextTools(Desk& desk, Gestures& gestures);
  void refresh();
  void focusText();
  /// Lays the chosen lettering along the curve through three points or more; its height stays.
  void followCurve(const std::vector<Point>& points, bool as_large = false);

 private:
  void buildWords(QVBoxLayout& column);
  void buildCurve(QVBoxLayout& column);
  void buildGaps(QVBoxLayout& column);
  void buildMonogram(QVBoxLayout& column);
  void connectWords();
  void connectCurve();
  void edit(const QString& name, const std::function<void(TextSource&)>& by);
  void connectPoints();
  void measure(const QString& name, const std::function<void(MeasuredCurve&)>& by);
  double usualRadius(const TextSource& text) const;
  void measureBy(MeasuredCurve::Given given);
  void fitToCurve();
  void tellFit(const NecklineFit& fit);
  void showCurve(const TextSource& text);
  void readGaps();
  void fitWidth();
  void showFlatPart(const Piece& piece, const TextSource& text);
  const TextSource* source() const;

  Desk& desk_;
  Gestures& gestures_;
  QLineEdit* text_;
  QComboBox *face_, *curve_, *measured_, *frame_;
  LengthEdit *capHeight_, *radius_, *chord_, *sagitta_, *fit_, *away_, *tracking_, *lines_;
  QLineEdit *gaps_, *points_;
  QLabel *facts_, *curveFacts_;
  QWidget *radiusRow_, *chordRow_, *pointsRow_, *awayRow_;
  int wantsPoints_ = 0;  // the piece for which points were chosen and are not there yet
};

}  // namespace rt
