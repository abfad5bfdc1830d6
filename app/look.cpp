#include "look.h"

#include <QDir>
#include <QFontDatabase>
#include <QPainterPath>
#include <QPalette>
#include <QStyleFactory>

namespace rt::look {
namespace {

bool dark = false;
QString icons;  // folder of the icons

const Palette kLight{QColor(0xfb, 0xf8, 0xf1), QColor(0xfb, 0xf8, 0xf1), QColor(0xef, 0xe8, 0xda),
                     QColor(0xd8, 0xcd, 0xb8), QColor(0x1f, 0x2d, 0x3a), QColor(0x5c, 0x64, 0x6a),
                     QColor(0xe3, 0xda, 0xca), QColor(0x1f, 0x6f, 0x74), QColor(0xdd, 0xea, 0xe8),
                     QColor(0x2f, 0x6b, 0x45), QColor(0x9a, 0x63, 0x0c), QColor(0x9c, 0x2b, 0x2b),
                     QColor(0xff, 0xfd, 0xf9)};
const Palette kDark{QColor(0x1d, 0x21, 0x24), QColor(0x23, 0x28, 0x2b), QColor(0x3a, 0x38, 0x33),
                    QColor(0x55, 0x50, 0x47), QColor(0xec, 0xe7, 0xdc), QColor(0xa4, 0xa8, 0xa8),
                    QColor(0x3c, 0x41, 0x43), QColor(0x6f, 0xc3, 0xc4), QColor(0x2a, 0x44, 0x46),
                    QColor(0x84, 0xc8, 0x96), QColor(0xe2, 0xac, 0x4e), QColor(0xee, 0x86, 0x7e),
                    QColor(0x2c, 0x32, 0x35)};

QString styleSheet() {
  const Palette& c = colours();
  return QStringLiteral(
             "QToolTip{background:%1;color:%2;border:1px solid %3;padding:4px}"
             "QLineEdit,QComboBox,QPlainTextEdit,QSpinBox,QDoubleSpinBox{background:%1;border:1px "
             "solid "
             "%3;border-radius:6px;padding:4px "
             "8px;min-height:22px;selection-background-color:%4;selection-color:%5}"
             "QLineEdit:focus,QComboBox:focus,QPlainTextEdit:focus{border:2px solid %4;padding:3px "
             "7px}"
             "QPushButton{background:%1;border:1px solid %4;border-radius:8px;color:%4;padding:6px "
             "12px;min-height:20px;font-weight:600}"
             "QPushButton:hover{background:%6}"
             "QPushButton:focus{border:2px solid %4;padding:5px 11px}"
             "QPushButton:disabled{color:%7;border-color:%3}"
             "QPushButton[primary=\"true\"]{background:%4;color:%5}"
             "QPushButton[primary=\"true\"]:disabled{background:%3;color:%7}"
             "QPushButton[flat=\"true\"]{border:none;background:transparent;padding:6px "
             "4px;text-align:left}"
             "QPushButton[flat=\"true\"]:checked{border-bottom:3px solid %4;padding-bottom:3px;"
             "color:%2}"
             "QPushButton[slim=\"true\"]{padding:0 4px;min-height:18px}"
             "QScrollArea,QScrollArea>QWidget>QWidget{background:transparent;border:none}"
             "QComboBox::drop-down{border:none;width:26px}QComboBox::down-arrow{image:url(%8);"
             "width:14px;height:14px}"
             "QCheckBox{spacing:8px;min-height:26px}"
             "QHeaderView::section{background:%1;border:none;border-bottom:1px solid "
             "%3;padding:4px;color:%7}"
             "QTableWidget{background:transparent;border:none;gridline-color:%3}"
             "QProgressBar{border:1px solid "
             "%3;border-radius:6px;background:%1;text-align:center;min-height:20px}"
             "QProgressBar::chunk{background:%6;border-radius:5px}"
             "QScrollBar:vertical{width:8px;background:transparent}QScrollBar::handle:vertical{"
             "background:%3;border-radius:4px;min-height:24px}"
             "QScrollBar::add-line,QScrollBar::sub-line{height:0}")
      .arg(c.raised.name(), c.ink.name(), c.line.darker(dark ? 80 : 108).name(), c.accent.name(),
           dark ? c.ground.name() : QStringLiteral("#ffffff"), c.accentSoft.name(), c.quiet.name(),
           icons + QStringLiteral("/chevron.svg"));
}

void setPalette(QApplication& app) {
  const Palette& c = colours();
  QPalette p;
  p.setColor(QPalette::Window, c.ground);
  p.setColor(QPalette::WindowText, c.ink);
  p.setColor(QPalette::Base, c.raised);
  p.setColor(QPalette::AlternateBase, c.panel);
  p.setColor(QPalette::Text, c.ink);
  p.setColor(QPalette::Button, c.raised);
  p.setColor(QPalette::ButtonText, c.ink);
  p.setColor(QPalette::Highlight, c.accent);
  p.setColor(QPalette::HighlightedText, Qt::white);
  p.setColor(QPalette::PlaceholderText, c.quiet);
  p.setColor(QPalette::ToolTipBase, c.raised);
  p.setColor(QPalette::ToolTipText, c.ink);
  app.setPalette(p);
}

}  // namespace

const Palette& colours() {
  return dark ? kDark : kLight;
}

void setDark(bool on) {
  dark = on;
  if (auto* app = qobject_cast<QApplication*>(QCoreApplication::instance())) {
    setPalette(*app);
    app->setStyleSheet(styleSheet());
  }
}

bool isDark() {
  return dark;
}

void apply(QApplication& app, const QString& data_folder) {
  for (const QString& file : QDir(data_folder + "/fonts").entryList({"*.ttf"}))
    QFontDatabase::addApplicationFont(data_folder + "/fonts/" + file);
  icons = data_folder + QStringLiteral("/icons");
  app.setStyle(QStyleFactory::create(QStringLiteral("Fusion")));
  app.setFont(text(10));
  setDark(dark);
}

QFont text(double pt, bool strong) {
  QFont font(QStringLiteral("Lato"));
  font.setPixelSize(qRound(pt * 1.35));
  font.setWeight(strong ? QFont::Bold : QFont::Normal);
  return font;
}

QFont figures(double pt, bool strong) {
  return text(pt, strong);  // the shipped face has figures of even width
}

QColor colourOf(State state) {
  const Palette& c = colours();
  switch (state) {
    case State::Ready:
      return c.ready;
    case State::Check:
      return c.check;
    case State::Stop:
      return c.stop;
    case State::UnderWay:
      return c.accent;
    case State::Untouched:
      break;
  }
  return c.quiet;
}

void drawState(QPainter& p, const QRectF& box, State state) {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  const QColor colour = colourOf(state);
  const QPointF c = box.center();
  const double r = std::min(box.width(), box.height()) / 2;
  const QColor paper = isDark() ? colours().ground : QColor(Qt::white);
  const QPen mark(paper, r * 0.22, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin);
  switch (state) {
    case State::Untouched:
    case State::UnderWay:
      p.setBrush(colours().ground);
      p.setPen(QPen(colour, 2));
      p.drawEllipse(c, r - 1, r - 1);
      if (state == State::UnderWay) {
        p.setBrush(colour);
        p.drawPie(QRectF(c.x() - r + 1, c.y() - r + 1, 2 * r - 2, 2 * r - 2), 90 * 16, 180 * 16);
      }
      break;
    case State::Ready:
      p.setPen(Qt::NoPen);
      p.setBrush(colour);
      p.drawEllipse(c, r, r);
      p.setPen(mark);
      p.drawPolyline(QPolygonF({c + QPointF(-0.45 * r, 0.02 * r), c + QPointF(-0.1 * r, 0.38 * r),
                                c + QPointF(0.48 * r, -0.36 * r)}));
      break;
    case State::Check: {
      p.setPen(QPen(colour, r * 0.3, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
      p.setBrush(colour);
      p.drawPolygon(QPolygonF({c + QPointF(0, -0.8 * r), c + QPointF(0.85 * r, 0.7 * r),
                               c + QPointF(-0.85 * r, 0.7 * r)}));
      p.setPen(mark);
      p.drawLine(c + QPointF(0, -0.3 * r), c + QPointF(0, 0.15 * r));
      p.drawPoint(c + QPointF(0, 0.5 * r));
      break;
    }
    case State::Stop:
      p.setPen(Qt::NoPen);
      p.setBrush(colour);
      p.drawRoundedRect(QRectF(c.x() - 0.92 * r, c.y() - 0.92 * r, 1.84 * r, 1.84 * r), r * 0.25,
                        r * 0.25);
      p.setPen(mark);
      p.drawLine(c + QPointF(-0.38 * r, -0.38 * r), c + QPointF(0.38 * r, 0.38 * r));
      p.drawLine(c + QPointF(-0.38 * r, 0.38 * r), c + QPointF(0.38 * r, -0.38 * r));
      break;
  }
  p.restore();
}

QString nameOf(State state) {
  switch (state) {
    case State::Ready:
      return QStringLiteral("ready");
    case State::Check:
      return QStringLiteral("check");
    case State::Stop:
      return QStringLiteral("stop");
    case State::UnderWay:
      return QStringLiteral("under way");
    case State::Untouched:
      break;
  }
  return QStringLiteral("untouched");
}

}  // namespace rt::look
