#include "job_sheet.h"

#include <algorithm>

#include "error.h"
#include "file_io.h"
#include "length.h"
#include "needles.h"
#include "pdf_pages.h"
#include "run_ahead.h"
#include "statistics.h"
#include "thread_drawing.h"

namespace rt {
namespace {

constexpr double kMargin_mm = 15, kPicture_mm = 62, kFoot_mm = 10;

std::string minutesOf(double seconds) {
  return formatNumber(std::max(0.1, seconds / 60), seconds < 600 ? 1 : 0);
}

class SheetWriter {
 public:
  explicit SheetWriter(const JobSheetOptions& o) : o_(o), pdf_(sheetSize(o.paper)) {}

  JobSheet run(const std::filesystem::path& path) {
    head();
    for (const JobSheetOptions::Part& part : o_.parts) addPart(part);
    list("Look at", o_.cautions);
    endPage();
    writeFile(path, pdf_.finish());
    out_.pages = pdf_.pages();
    return out_;
  }

 private:
  double width() const { return pdf_.size().width_mm - 2 * kMargin_mm; }
  double bottom() const { return pdf_.size().height_mm - kMargin_mm - kFoot_mm; }

  void endPage() {
    pdf_.quiet();
    pdf_.text(kMargin_mm, pdf_.size().height_mm - kMargin_mm + 2,
              o_.title + ", sheet " + std::to_string(pdf_.pages() + 1), 2.8, false, width());
    pdf_.endPage();
    pdf_.ink();
    y_ = kMargin_mm;
  }
  void room(double mm) {
    if (y_ + mm > bottom() && y_ > kMargin_mm) endPage();
  }

  void head() {
    pdf_.ink();
    y_ += pdf_.paragraph(kMargin_mm, y_, width(), o_.title.empty() ? "Job" : o_.title, {7, true});
    y_ += 2;
    if (!o_.item.empty()) y_ += pdf_.paragraph(kMargin_mm, y_, width(), o_.item, {4, false});
    if (!o_.order_text.empty())
      y_ += pdf_.paragraph(kMargin_mm, y_ + 1, width(), "Order: " + o_.order_text, {3.4, true}) + 1;
    y_ += 3;
    list("Materials", o_.materials);
  }

  void list(const std::string& title, const std::vector<std::string>& lines) {
    if (lines.empty()) return;
    room(12);
    y_ += pdf_.paragraph(kMargin_mm, y_, width(), title, {3.6, true}) + 0.5;
    for (const std::string& line : lines) {
      room(pdf_.heightOf(width() - 4, line, {3.2, false}));
      pdf_.text(kMargin_mm, y_ + 3, "•", 3.2);
      y_ += pdf_.paragraph(kMargin_mm + 4, y_, width() - 4, line, {3.2, false}) + 0.5;
    }
    y_ += 3;
  }

  void addPart(const JobSheetOptions::Part& part) {
    const Statistics s = statisticsOf(part.pattern, o_.time);
    if (s.stitches == 0) return;
    const Needles kind = o_.needles > 1 ? Needles::Many : Needles::One;
    const std::vector<ThreadRun> runs = threadRuns(part.pattern, 0, o_.time, kind);
    const NeedlePlan needles = planNeedles(part.pattern, o_.needles);
    double seconds = 0;
    for (const ThreadRun& r : runs) seconds += r.seconds;
    out_.minutes += seconds / 60;
    out_.metres += topThread_mm(s, o_.take.cloth_mm) / 1000;
    room(kPicture_mm + 14);
    y_ += pdf_.paragraph(kMargin_mm, y_, width(),
                         part.name + ": " + std::to_string(s.stitches) + " stitches, " +
                             minutesOf(seconds) + " min, " + std::to_string(s.trims) +
                             (s.trims == 1 ? " trim" : " trims"),
                         {4, true}) +
          1;
    drawThread(pdf_, part.pattern, {kMargin_mm, y_, kMargin_mm + width(), y_ + kPicture_mm},
               scaleInto(part.pattern, width(), kPicture_mm));
    y_ += kPicture_mm + 2;
    table(part.pattern, runs, needles);
    y_ += 4;
  }

  void table(const Pattern& pattern, const std::vector<ThreadRun>& runs,
             const NeedlePlan& needles) {
    const double number = 20;
    PdfTable table(pdf_,
                   {{"", 10, TextAlign::Right},
                    {"Thread", width() - 10 - 4 * number, TextAlign::Left},
                    {"Needle", number, TextAlign::Right},
                    {"Stitches", number, TextAlign::Right},
                    {"Metres", number, TextAlign::Right},
                    {"Minutes", number, TextAlign::Right}},
                   3);
    y_ = table.head(kMargin_mm, y_);
    for (size_t i = 0; i < runs.size(); ++i) {
      const std::vector<std::string> cells = cellsOf(pattern, runs[i], i, needles);
      if (y_ + table.heightOf(cells) > bottom()) {
        endPage();
        y_ = table.head(kMargin_mm, y_);
      }
      y_ = table.row(kMargin_mm, y_, cells, &runs[i].thread);
    }
  }

  std::vector<std::string> cellsOf(const Pattern& pattern, const ThreadRun& run, size_t i,
                                   const NeedlePlan& needles) const {
    size_t stitches = 0;
    double mm = 0;
    forEachSegment(pattern, [&](Point a, Point b, size_t row) {
      if (row < run.from || row >= run.to) return;
      ++stitches;
      mm += o_.take.top_mm(distance(a, b));
    });
    const auto match = nearestThread(o_.shelf, run.thread);
    std::string needle = "-";
    if (i < needles.steps.size())
      needle = std::to_string(needles.steps[i].needle + 1) +
               (needles.steps[i].rethread ? ", thread it" : "");
    return {std::to_string(i + 1),
            match ? match->thread->code + " " + match->thread->name : run.thread.hex(),
            needle,
            std::to_string(stitches),
            formatNumber(mm / 1000, 1),
            minutesOf(run.seconds)};
  }

  const JobSheetOptions& o_;
  PdfPages pdf_;
  JobSheet out_;
  double y_ = kMargin_mm;
};

}  // namespace

JobSheet writeJobSheet(const JobSheetOptions& options, const std::filesystem::path& path) {
  const bool any =
      std::any_of(options.parts.begin(), options.parts.end(),
                  [](const JobSheetOptions::Part& p) { return !threadBounds(p.pattern).empty(); });
  if (!any) throw Error("the job has no stitches", "job sheet", "lay something on the cloth");
  return SheetWriter(options).run(path);
}

}  // namespace rt
