// Letters looked at as sewing: every letter and digit of every face at four heights, thread by
// thread; a table, and on demand the letters by themselves.
//
//   rapt-thimble-thread [--each] [FACE[:HEIGHT] …]
#include <algorithm>
#include <cstdio>
#include <cstring>
#include <mutex>

#include "data_folder.h"
#include "faces.h"
#include "letter.h"
#include "sewn_cloth.h"
#include "side_by_side.h"

namespace {

using namespace rt;
using testing::SewnFigures;

const std::string kLetters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789";

void print(const char* label, const SewnFigures& f) {
  std::printf(
      "%-22s %5.2f %5.2f %5.2f %5.2f %5.2f  %5.1f %5.3f  %4.2f %5.2f %5.2f %5.1f %5.1f %5.1f %5.0f "
      " "
      "%5.3f %5.3f\n",
      label, f.ways_mm, f.stray_mm, f.ties_mm, f.bare_mm2, f.widest_mm, 100 * f.open_edge,
      f.edge_vary, f.peak, 100 * f.over9, 100 * f.over12, f.longest_mm, 100 * f.far_underlay,
      100 * f.near_points, f.near_per_cm2, f.edge_rms_mm, f.ragged_mm);
  std::fflush(stdout);
}

void printEach(const char* label, const SewnFigures& f) {
  print(label, f);
  for (const SewnFigures::Seen& s : f.seen)
    std::printf("  seen %.2f mm: stitch %zu, %s%s, (%.2f, %.2f) to (%.2f, %.2f)\n", s.mm, s.index,
                std::string(rt::name(s.stitch.kind)).c_str(), s.stitch.link ? " link" : "",
                s.stitch.a.x, s.stitch.a.y, s.stitch.b.x, s.stitch.b.y);
}

/// The value that nine in ten stay under.
double ninth(std::vector<SewnFigures> all, double SewnFigures::*member) {
  std::vector<double> v;
  for (const SewnFigures& f : all) v.push_back(f.*member);
  std::sort(v.begin(), v.end());
  return v.empty() ? 0 : v[static_cast<size_t>(0.9 * static_cast<double>(v.size() - 1) + 0.5)];
}

SewnFigures together(const std::vector<SewnFigures>& all) {
  SewnFigures mean;
  for (auto m : {&SewnFigures::ways_mm, &SewnFigures::stray_mm, &SewnFigures::ties_mm,
                 &SewnFigures::bare_mm2, &SewnFigures::open_edge, &SewnFigures::edge_vary,
                 &SewnFigures::over9, &SewnFigures::over12, &SewnFigures::far_underlay,
                 &SewnFigures::near_points, &SewnFigures::near_per_cm2, &SewnFigures::edge_rms_mm,
                 &SewnFigures::ragged_mm})
    for (const SewnFigures& f : all) mean.*m += f.*m / static_cast<double>(all.size());
  mean.widest_mm = ninth(all, &SewnFigures::widest_mm);
  mean.peak = ninth(all, &SewnFigures::peak);
  for (const SewnFigures& f : all) mean.longest_mm = std::max(mean.longest_mm, f.longest_mm);
  return mean;
}

void measure(const std::string& id, double height, bool each, const ColumnRule& rule) {
  const Face face = loadFace(dataFolder(), id);
  LetterOptions o;
  o.height_mm = height;
  o.rules.columns = rule;
  std::vector<SewnFigures> all(kLetters.size());
  sideBySide(kLetters.size(), [&](size_t i) {
    const std::string text(1, kLetters[i]);
    all[i] = testing::sewnFigures(testing::drawnText(text, face, o), letter(text, face, o).pattern);
  });
  if (each)
    for (size_t i = 0; i < all.size(); ++i)
      printEach((id + " " + kLetters[i] + " " + std::to_string(static_cast<int>(height))).c_str(),
                all[i]);
  print((id + " " + std::to_string(static_cast<int>(height))).c_str(), together(all));
}

}  // namespace

int main(int argc, char** argv) {
  std::vector<std::pair<std::string, double>> wanted;
  bool each = false;
  ColumnRule rule;
  const std::pair<std::string, double*> rules[] = {{"--most-layers=", &rule.most_layers},
                                                   {"--open-edge=", &rule.open_edge},
                                                   {"--crowded=", &rule.crowded},
                                                   {"--lap=", &rule.lap_mm},
                                                   {"--stand-back=", &rule.stand_back}};
  for (int i = 1; i < argc; ++i) {
    const std::string word = argv[i];
    const auto of = std::find_if(std::begin(rules), std::end(rules),
                                 [&](const auto& r) { return word.starts_with(r.first); });
    const size_t colon = word.find(':');
    if (word == "--each")
      each = true;
    else if (of != std::end(rules))
      *of->second = std::atof(word.c_str() + of->first.size());
    else if (colon != std::string::npos)
      wanted.emplace_back(word.substr(0, colon), std::atof(word.c_str() + colon + 1));
    else
      for (double h : {8.0, 12.0, 25.0, 40.0}) wanted.emplace_back(word, h);
  }
  if (wanted.empty())
    for (const char* id : {"plain-stroke", "sans-bold", "serif-bold", "brush-script",
                           "round-script", "joined-script"})
      for (double h : {8.0, 12.0, 25.0, 40.0}) wanted.emplace_back(id, h);
  std::printf("%-22s %5s %5s %5s %5s %5s  %5s %5s  %4s %5s %5s %5s %5s %5s %5s  %5s %5s\n",
              "face and height", "ways", "stray", "ties", "bare", "wide", "open%", "vary", "peak",
              "o9%", "o12%", "long", "und%", "near%", "/cm2", "rms", "ragg");
  for (const auto& [id, height] : wanted) measure(id, height, each, rule);
  return 0;
}
