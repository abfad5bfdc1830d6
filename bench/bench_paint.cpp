// A frame of the window with 200,000 stitches, while a piece is dragged, beside drawing them all.
#include <benchmark/benchmark.h>

#include <QApplication>
#include <QMouseEvent>
#include <QTemporaryDir>
#include <chrono>

#include "cloth_view.h"
#include "compose_hand.h"
#include "demo.h"
#include "frames_hand.h"
#include "making.h"
#include "samples.h"
#include "thread_picture.h"

namespace {

using namespace rt;

struct Scene {
  QTemporaryDir dir;
  Desk desk{openBench(), {dir.path().toStdString()}};
  CompareLine line{desk};
  ComposeHand hand{desk, line};
  ClothView cloth{desk};
  Scene() {
    Job job;
    job.id = "bench";
    job.brief.place_width_mm = 800;
    job.brief.place_height_mm = 500;
    for (int i = 0; i < 40; ++i) {
      Piece piece;
      piece.id = job.next_piece_id++;
      piece.name = std::to_string(i);
      Pattern p = bench::fills(5'000);
      centre(p);
      piece.stitches = std::make_shared<const Pattern>(std::move(p));
      piece.place.at = {(i % 8) * 90.0 - 315, (i / 8) * 90.0 - 180};
      job.pieces.push_back(std::move(piece));
    }
    desk.take(std::move(job), {});
    desk.settle();
    cloth.resize(1280, 800);
    cloth.setLensAndHand(nullptr, &hand);
    cloth.show();
    cloth.grab();
  }
};

void dragFrame(benchmark::State& state) {
  Scene scene;
  QImage frame(1280, 800, QImage::Format_ARGB32_Premultiplied);
  const QPointF from = scene.cloth.eye().px(scene.desk.job().pieces[20].place.at);
  auto send = [&](QEvent::Type type, QPointF at, Qt::MouseButton b, Qt::MouseButtons held) {
    QMouseEvent e(type, at, at, b, held, {});
    QCoreApplication::sendEvent(&scene.cloth, &e);
  };
  send(QEvent::MouseButtonPress, from, Qt::LeftButton, Qt::LeftButton);
  double x = 0;
  for (auto _ : state) {
    x = x > 200 ? 0 : x + 3;
    send(QEvent::MouseMove, from + QPointF(x, x / 2), Qt::NoButton, Qt::LeftButton);
    scene.cloth.render(&frame);
  }
  send(QEvent::MouseButtonRelease, from, Qt::LeftButton, {});
}

/// A field of the banner's plan while it is dragged, with all of its thread.
void dragField(benchmark::State& state) {
  QTemporaryDir dir;
  Desk desk(openBench(), {dir.path().toStdString()});
  desk.take(demoJob(desk.bench(), "hide-banner"), {});
  desk.settle();
  desk.makePlan();
  desk.settle();
  FramesLens lens(desk);
  FramesHand hand(desk, lens);
  ClothView cloth(desk);
  cloth.resize(1280, 800);
  cloth.setLensAndHand(&lens, &hand);
  cloth.show();
  cloth.grab();
  cloth.settle();
  QImage frame(1280, 800, QImage::Format_ARGB32_Premultiplied);
  const Box field = desk.currentSetting()->field.box;
  const QPointF from = cloth.eye().px(Point{field.left, field.centre().y + 9});
  auto send = [&](QEvent::Type type, QPointF at, Qt::MouseButton b, Qt::MouseButtons held) {
    QMouseEvent e(type, at, at, b, held, {});
    QCoreApplication::sendEvent(&cloth, &e);
  };
  send(QEvent::MouseButtonPress, from, Qt::LeftButton, Qt::LeftButton);
  double x = 0, worst = 0;
  for (auto _ : state) {
    const auto begun = std::chrono::steady_clock::now();
    x = x > 200 ? 0 : x + 3;
    send(QEvent::MouseMove, from + QPointF(x, x / 2), Qt::NoButton, Qt::LeftButton);
    cloth.render(&frame);
    worst = std::max(
        worst, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - begun)
                   .count());
  }
  state.counters["worst_ms"] = worst;
  cloth.setLensAndHand(nullptr, nullptr);
}

void drawAllThread(benchmark::State& state) {
  Scene scene;
  QImage frame(1280, 800, QImage::Format_ARGB32_Premultiplied);
  for (auto _ : state) {
    frame.fill(Qt::white);
    QPainter p(&frame);
    ThreadDrawing how;
    how.px_per_mm = scene.cloth.eye().px_per_mm;
    how.to_px = scene.cloth.eye().transform();
    how.visible = QRectF(0, 0, 1280, 800);
    drawThread(p, scene.desk.layout(), how);
  }
}

/// The simulation on 1,000,000 stitches: a frame while it plays, and one while it goes back and
/// forth by half of the job. The whole way is drawn over several frames; this is the longest one.
void simulationFrame(benchmark::State& state) {
  Scene scene;
  const auto pattern = std::make_shared<const Pattern>(bench::fills(1'000'000));
  QImage frame(1280, 800, QImage::Format_ARGB32_Premultiplied);
  const bool jumping = state.range(0) == 1;
  size_t row = 500'000;
  scene.cloth.setMoment(pattern, row);
  scene.cloth.settle();
  double worst = 0;
  bool there = false;
  for (auto _ : state) {
    row = jumping ? (there ? 100'000 : 900'000) : (row + 400 > 990'000 ? 500'000 : row + 400);
    there = !there;
    scene.cloth.setMoment(pattern, row);
    const auto from = std::chrono::steady_clock::now();
    scene.cloth.render(&frame);
    worst = std::max(
        worst,
        std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - from).count());
  }
  state.counters["worst_ms"] = worst;
}

}  // namespace

BENCHMARK(simulationFrame)->ArgName("jumping")->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond);
BENCHMARK(dragFrame)->Unit(benchmark::kMillisecond);
BENCHMARK(dragField)->Unit(benchmark::kMillisecond);
BENCHMARK(drawAllThread)->Unit(benchmark::kMillisecond);
