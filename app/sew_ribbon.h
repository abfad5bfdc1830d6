// The sew ribbon: the whole job as time.
#pragma once

#include <QTimer>
#include <QWidget>

#include "desk.h"

namespace rt {

class SewRibbon : public QWidget {
  Q_OBJECT
 public:
  explicit SewRibbon(Desk& desk, QWidget* parent = nullptr);
  /// Where on the ribbon a setting's row lies, to follow the machine.
  void followMachine(int hooping, int setting, size_t row);
  /// Goes to a part (0 to 1) of the job's time, as a drag along the ribbon does.
  void goTo(double part);
  /// Plays on from the moment, or from the start; a second call pauses.
  void play();
  bool playing() const { return playTimer_.isActive(); }
  /// How many times faster than sewing it plays.
  void setPlaySpeed(double times) { playSpeed_ = times; }
  double playSpeed() const { return playSpeed_; }
  /// To the next (or with -1 the last) stitch, colour or trim.
  void stepStitch(int by);
  void stepColour(int by);
  void stepTrim(int by);
  double moment_s() const { return moment_s_; }

 signals:
  /// The moment: the pattern being sewn, rows sewn so far.
  void momentChosen(std::shared_ptr<const Pattern> pattern, size_t row, int hooping, int setting);
  void momentLeft();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  /// Another thread for the colour under the pointer, or at the moment where keys ask.
  void contextMenuEvent(QContextMenuEvent* event) override;

 private:
  void paintHead(QPainter& p) const;
  void paintColours(QPainter& p) const;
  void paintProfile(QPainter& p) const;
  struct Span {  // sewing of one colour
    double from_s = 0, to_s = 0;
    Colour colour;
    int hooping = 1;
  };
  struct Part {  // one hooping, or the whole layout without a plan
    std::shared_ptr<const Pattern> pattern;
    int hooping = 0, setting = 0;
    double from_s = 0, to_s = 0;
    std::vector<float> time_s;  // after each row
  };
  void rebuild();
  void weigh();
  double xOf(double s) const;
  double sOf(double x) const;
  void choose(double s);
  /// The nearest of some times beyond the moment, in the direction asked.
  void stepAmong(const std::vector<double>& times, int by);

  Desk& desk_;
  QTimer playTimer_;
  double playSpeed_ = 120;
  std::vector<Part> parts_;
  std::vector<Span> spans_;
  std::vector<double> trims_, stops_, bobbins_;
  std::vector<float> profile_;  // heaviest place in each pixel-wide slice of time
  double total_s_ = 0, moment_s_ = -1;
  size_t stitches_ = 0;  ///< Of all parts, as they are sewn.
  size_t builtFor_ = 0;
};

}  // namespace rt
