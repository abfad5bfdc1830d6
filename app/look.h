// The house's colours, type and sizes: the one place that knows them.
#pragma once

#include <QApplication>
#include <QColor>
#include <QFont>
#include <QIcon>
#include <QPainter>

namespace rt::look {

/// Colours of the interface in force (light or dark).
struct Palette {
  QColor ground, panel, cloth, clothEdge, ink, quiet, line, accent, accentSoft, ready, check, stop,
      raised;
};
const Palette& colours();
void setDark(bool dark);
bool isDark();

/// Loads the fonts that ship with the program and sets style and palette.
void apply(QApplication& app, const QString& data_folder);

/// Sizes on the 8 px grid.
inline constexpr int kGrid = 8, kTarget = 32, kThreadWidth = 92, kPanelWidth = 336,
                     kRibbonHeight = 104, kTopHeight = 52;

QFont text(double pt = 10, bool strong = false);
/// Figures of even width.
QFont figures(double pt = 10, bool strong = false);

/// How a station stands; each has a shape of its own besides its colour.
enum class State { Untouched, UnderWay, Check, Ready, Stop };
QColor colourOf(State state);
/// Ring, half-filled ring, triangle, disc with tick, square with cross.
void drawState(QPainter& painter, const QRectF& box, State state);
QString nameOf(State state);

}  // namespace rt::look
