// Job files of format 1: one blob of JSON for all that was not a piece or the plan.
#include "job_format1.h"

#include <map>

#include "error.h"
#include "job_codec.h"
#include "json_text.h"
#include "pattern_bytes.h"

namespace rt {
namespace {

constexpr quint32 kMagic = 0x52545031;  // "RTP1"

/// Facts named hoopings by their number; the only plan there was is theirs.
SettingKey keyOfFormat1(const Work& work, int hooping) {
  return {"plan-of-" + work.job.id, "h" + std::to_string(hooping)};
}

void readRecord(const Json& j, Work& work) {
  for (const Json& a : j.value("alignments", Json::array())) {
    work.job.tolerance_mm = a.value("tolerance_mm", 0.5);
    for (const Json& m : a.at("marks"))
      work.record.add(
          MarkFound{keyOfFormat1(work, a.value("hooping", 1)),
                    "",
                    {m.value("id", ""),
                     {m.at("layout").at(0).get<double>(), m.at("layout").at(1).get<double>()},
                     {m.at("hoop").at(0).get<double>(), m.at("hoop").at(1).get<double>()},
                     m.value("error_mm", MarkErrors{}.needle_mm)}});
  }
  for (const Json& p : j.value("progress", Json::array())) {
    const int hooping = p.value("hooping", 1);
    work.record.add(RowsSewn{keyOfFormat1(work, hooping), "", "run-" + std::to_string(hooping), 0,
                             p.value("row", size_t{0}), p.value("done", false) ? "done" : "lost",
                             p.value("done", false)});
  }
  const std::string overruled = j.value("overruled", "");
  if (!overruled.empty()) work.record.add(Overruled{"", "density", {}, 0, overruled});
}

void readRest(const std::string& json, Work& work, size_t& print) {
  const Json j = parsedPart(json);
  Job& job = work.job;
  for (const Json& z : j.value("zones", Json::array())) job.zones.push_back(zoneFrom(z.dump()));
  job.plan_settings = planSettingsFrom(j.value("plan_settings", Json::object()).dump());
  job.sequence = sequenceFrom(j.value("sequence", Json::object()).dump());
  readRecord(j, work);
  job.proof_accepted = j.value("proof_accepted", "");
  for (const Json& step : j.value("swatch", Json::array()))
    job.swatch.push_back(
        {step.at(0).get<std::string>(), step.at(1).get<int>(), step.at(2).get<double>()});
  const Json groups = j.value("groups", Json::object());
  for (Piece& p : job.pieces) p.group = groups.value(std::to_string(p.id), 0);
  job.next_piece_id = j.value("next_piece_id", 1);
  print = j.value("layout_print", size_t{0});
}

HoopingPlan planOfFormat1(const QByteArray& packed) {
  const QByteArray bytes = unpacked(packed);
  QDataStream in(bytes);
  in.setVersion(QDataStream::Qt_6_0);
  quint32 magic = 0;
  quint64 wide = 0;
  HoopingPlan plan;
  in >> magic >> plan.lower_bound >> wide >> plan.worst_seam_error_mm;
  if (magic != kMagic || in.status() != QDataStream::Ok)
    throw Error("the plan is damaged", "job file", "make the plan again");
  plan.cut_stitches = wide;
  std::vector<std::string> words;  // what it warned of, in sentences: no longer kept
  for (std::vector<std::string>* list : {&plan.crossings, &words})
    for (quint32 n = readCount(in, 4); n > 0; --n) list->push_back(readText(in));
  for (quint32 n = readCount(in, 32); n > 0; --n) {
    Seam s;
    in >> s.first >> s.second >> s.at.x >> s.at.y >> s.error_mm;
    plan.seams.push_back(s);
  }
  for (quint32 n = readCount(in, 60); n > 0; --n) {
    Hooping h;
    in >> h.index >> h.hoop;
    h.hoop_id = readText(in);
    PlanSetting only;
    Box& box = only.field.box;
    in >> h.turn_deg >> box.left >> box.top >> box.right >> box.bottom >> wide >> only.thread_mm >>
        h.predicted_error_mm;
    only.stitches = wide;
    only.field.turn_deg = h.turn_deg;
    h.origin = box.centre();
    only.id = h.id = "h" + std::to_string(h.index);
    for (quint32 m = readCount(in, 20); m > 0; --m) {
      PlanMark mark;
      mark.id = readText(in);
      mark.kind = readText(in);
      in >> mark.at.x >> mark.at.y;
      h.marks.push_back(std::move(mark));
    }
    only.pattern = readPattern(in);
    h.settings.push_back(std::move(only));
    plan.hoopings.push_back(std::move(h));
  }
  return plan;
}

std::string metaOf(Database& db, const char* key) {
  std::optional<std::string> value;
  db.each(QStringLiteral("SELECT value FROM meta WHERE key=?"), {QString::fromLatin1(key)},
          [&](const QSqlQuery& q) { value = q.value(0).toString().toStdString(); });
  if (!value)
    throw Error(std::string("the job file lacks its ") + key, "job file", "open another copy");
  return *value;
}

}  // namespace

Work workOfFormat1(Database& db) {
  Work work;
  Job& job = work.job;
  job.id = metaOf(db, "id");
  job.title = metaOf(db, "title");
  job.brief = briefFrom(metaOf(db, "brief"));
  db.each(QStringLiteral("SELECT id,name,source,place,stitches FROM piece ORDER BY position "
                         "LIMIT 5001"),
          {}, [&](const QSqlQuery& q) {
            job.pieces.push_back(
                {q.value(0).toInt(), q.value(1).toString().toStdString(),
                 sourceFrom(q.value(2).toString().toStdString()),
                 std::make_shared<const Pattern>(patternFrom(q.value(4).toByteArray())),
                 placementFrom(q.value(3).toString().toStdString()), 0});
          });
  size_t print = 0;
  readRest(metaOf(db, "rest"), work, print);
  db.each(QStringLiteral("SELECT body FROM plan WHERE id=1"), {}, [&](const QSqlQuery& q) {
    auto made = std::make_shared<MadePlan>();
    made->id = keyOfFormat1(work, 1).plan;
    made->plan = planOfFormat1(q.value(0).toByteArray());
    made->layout_print = print;
    made->settings = job.plan_settings;
    work.plans.push_back(std::move(made));
  });
  return work;
}

}  // namespace rt
