// A photo of 12 MP to placement, beside the tag library's own detection on the same photo.
#include <apriltag/apriltag.h>
#include <apriltag/tag36h11.h>
#include <benchmark/benchmark.h>

#include "camera.h"
#include "photo_marks.h"

namespace {

using namespace rt;

Scene hooped() {
  Scene s;
  s.hoop_tags = {
      {500, {-112, -82}, 0}, {501, {112, -82}, 0}, {502, {112, 82}, 0}, {503, {-112, 82}, 0}};
  s.lies = Transform::moving({2, -3}) * Transform::turning(2.3);
  s.cloth_tags = {{3, {70, 40}, 10}, {7, {-70, -35}, 0}};
  s.crosses = {{-75, 20}, {75, 5}, {10, 50}};
  for (int k = 0; k < 3; ++k) s.cross_bgr[k] = s.cloth_bgr[k] - 90;
  return s;
}

const Photo& photo() {
  static const Photo taken = [] {
    Camera c;
    c.width = 4000, c.height = 3000;
    c.tilt_deg = 9, c.tilt_way_deg = 40, c.turn_deg = 4, c.k1 = 0.012, c.distance_mm = 440;
    c.blur_px = 0.8;
    std::mt19937 random(1);
    return takePhoto(hooped(), c, random);
  }();
  return taken;
}

void placePhoto12(benchmark::State& state) {
  PhotoSetup setup;
  const Scene scene = hooped();
  setup.base.field = {200, 140, HoopShape::Rectangle};
  setup.hoop_tags = scene.hoop_tags;
  setup.cloth_tags = scene.cloth_tags;
  char name = 'A';
  for (Point p : scene.crosses) setup.crosses.push_back({std::string(1, name++), p, {}});
  const Photo& of = photo();
  size_t marks = 0;
  for (auto _ : state) marks = readPhoto(of, setup).found.marks.size();
  state.counters["marks"] = static_cast<double>(marks);
}

/// As the library is set up where a photo is read: two threads, quads sought at half the size.
void libraryTags12(benchmark::State& state) {
  const Photo& of = photo();
  for (auto _ : state) {
    apriltag_family_t* family = tag36h11_create();
    apriltag_detector_t* detector = apriltag_detector_create();
    apriltag_detector_add_family_bits(detector, family, 2);
    detector->nthreads = 2;
    detector->quad_decimate = 2;
    image_u8_t image{of.width(), of.height(), of.width(), const_cast<uint8_t*>(of.greyPixels())};
    zarray_t* found = apriltag_detector_detect(detector, &image);
    state.counters["tags"] = static_cast<double>(zarray_size(found));
    apriltag_detections_destroy(found);
    apriltag_detector_destroy(detector);
    tag36h11_destroy(family);
  }
}

}  // namespace

BENCHMARK(placePhoto12)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(libraryTags12)->Unit(benchmark::kMillisecond)->UseRealTime();
