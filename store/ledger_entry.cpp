#include "ledger_entry.h"

#include <QDateTime>
#include <QElapsedTimer>
#include <QRegularExpression>
#include <QUuid>
#include <mutex>

#include "alignment_words.h"
#include "ledger_json.h"
#include "length.h"

namespace rt {
namespace {

constexpr qint64 kClockSlack_ms = 500;  // corrections of a clock that keeps time

constexpr std::array<const char*, 3> kOf{"density", "column", "letter"};

std::string cell(const std::string& s) {
  const bool edged = !s.empty() && (s.front() == ' ' || s.back() == ' ');
  if (!edged && s.find_first_of(",\"\n\r") == std::string::npos) return s;
  std::string out = "\"";
  for (char c : s) out += c == '"' ? std::string("\"\"") : std::string(1, c);
  return out + "\"";
}

double figure(const LedgerEntry& e, const char* name, double otherwise) {
  const auto it = e.figures.find(name);
  return it == e.figures.end() ? otherwise : it->second;
}

std::string wordIn(const LedgerEntry& e, const char* name) {
  const auto it = e.words.find(name);
  return it == e.words.end() ? std::string() : it->second;
}

}  // namespace

/// A clock that is set back while the program runs must put no end before its beginning: times go
/// on from where they were until the clock has passed them.
std::string nowUtc() {
  static std::mutex guard;
  static qint64 anchor_ms = 0;
  static QElapsedTimer since;
  const std::lock_guard lock(guard);
  const qint64 clock_ms = QDateTime::currentMSecsSinceEpoch();
  const qint64 steady_ms = since.isValid() ? anchor_ms + since.elapsed() : clock_ms;
  const bool setBack = clock_ms < steady_ms - kClockSlack_ms;
  if (!setBack) {
    anchor_ms = std::max(clock_ms, steady_ms);
    since.start();
  }
  return QDateTime::fromMSecsSinceEpoch(std::max(clock_ms, steady_ms), Qt::UTC)
      .toString(Qt::ISODateWithMs)
      .toStdString();
}

std::string utcTime(const std::string& text) {
  static const QRegularExpression form(QStringLiteral(
      R"(^\d{4}-\d{2}-\d{2}(T\d{2}:\d{2}(:\d{2}(\.\d{1,3})?)?(Z|[+-]\d{2}:\d{2})?)?$)"));
  QString words = QString::fromStdString(text).trimmed();
  const QRegularExpressionMatch found = form.match(words);
  if (!found.hasMatch()) return {};
  if (found.captured(1).isEmpty()) words += QStringLiteral("T00:00:00");
  if (found.captured(4).isEmpty()) words += QStringLiteral("Z");
  const QDateTime time = QDateTime::fromString(words, Qt::ISODateWithMs);
  return time.isValid() ? time.toUTC().toString(Qt::ISODateWithMs).toStdString() : std::string();
}

std::string newId() {
  return QUuid::createUuid().toString(QUuid::WithoutBraces).toStdString();
}

LedgerEntry entryFor(const Alignment& a, int hooping) {
  LedgerEntry e;
  e.event = "align";
  e.hooping = hooping;
  e.status = std::string(name(a.status));
  e.rotation_deg = a.fit.rotation_deg;
  e.dx_mm = a.fit.dx_mm;
  e.dy_mm = a.fit.dy_mm;
  e.rms_mm = a.fit.rms_mm;
  e.worst_mm = a.error_worst_mm;
  e.note = headlineOf(a);
  return e;
}

LedgerEntry entryFor(const OutcomeEntry& o) {
  LedgerEntry e;
  e.event = "outcome";
  e.job_id = o.job_id;
  e.status = std::string(name(o.outcome));
  e.note = o.note;
  e.figures = {{"value", o.value}, {"factor", o.factor}};
  e.words = {{"fabric", o.fabric}, {"of", kOf[static_cast<size_t>(o.of)]}};
  return e;
}

LedgerEntry entryFor(const RunEntry& r) {
  LedgerEntry e;
  e.event = "run";
  e.job_id = r.job_id;
  e.hooping = r.hooping;
  e.figures = {{"predicted_s", r.predicted_s}, {"taken_s", r.taken_s}};
  if (!r.whole) e.figures["disturbed"] = 1;
  return e;
}

std::vector<OutcomeEntry> outcomesIn(const std::vector<LedgerEntry>& entries,
                                     const std::string& fabric, OutcomeOf of) {
  std::vector<OutcomeEntry> out;
  for (const LedgerEntry& e : entries) {
    if (e.event != "outcome" || wordIn(e, "fabric") != fabric ||
        wordIn(e, "of") != kOf[static_cast<size_t>(of)])
      continue;
    OutcomeEntry o{e.job_id, fabric, figure(e, "value", 0), figure(e, "factor", 1), Outcome::Fine,
                   e.note,   of};
    for (Outcome how : {Outcome::Fine, Outcome::Puckered, Outcome::Broke})
      if (e.status == name(how)) o.outcome = how;
    out.push_back(std::move(o));
  }
  return out;
}

std::vector<RunEntry> runsIn(const std::vector<LedgerEntry>& entries) {
  std::vector<RunEntry> out;
  for (const LedgerEntry& e : entries)
    if (e.event == "run" && !e.figures.contains("disturbed"))
      out.push_back({e.job_id, e.hooping, figure(e, "predicted_s", 0), figure(e, "taken_s", 0)});
  return out;
}

std::string csvOf(const std::vector<LedgerEntry>& entries) {
  std::string out =
      "id,time,job_id,job_title,event,hooping,status,rotation_deg,dx_mm,dy_mm,rms_mm,worst_mm,"
      "stitch,note,more,body\n";
  for (const LedgerEntry& e : entries) {
    out += cell(e.id) + "," + cell(e.time) + "," + cell(e.job_id) + "," + cell(e.job_title) + "," +
           cell(e.event) + "," + std::to_string(e.hooping) + "," + cell(e.status);
    for (double v : {e.rotation_deg, e.dx_mm, e.dy_mm, e.rms_mm, e.worst_mm})
      out += "," + formatNumber(v, 3);
    std::string more;
    for (const auto& [name, value] : e.figures) more += name + "=" + formatNumber(value, 6) + ";";
    for (const auto& [name, value] : e.words) more += name + "=" + value + ";";
    out += "," + std::to_string(e.stitch) + "," + cell(e.note) + "," + cell(more) + "," +
           cell(ledgerBody(e)) + "\n";
  }
  return out;
}

LedgerEntry entryFor(const PracticeScore& score, int hooping, int level, const std::string& fault) {
  LedgerEntry e;
  e.event = "practice";
  e.hooping = hooping;
  e.status = score.right ? "right" : "wrong";
  e.worst_mm = score.worst_mm;
  e.figures = {{"points", score.points}, {"level", level + 1}};
  if (!fault.empty()) e.words = {{"fault", fault}};
  e.note = std::to_string(score.points) + " points";
  return e;
}

std::vector<int> practicePoints(const std::vector<LedgerEntry>& entries) {
  std::vector<int> out;
  for (const LedgerEntry& e : entries)
    if (const auto points = e.figures.find("points");
        e.event == "practice" && points != e.figures.end())
      out.push_back(static_cast<int>(points->second));
  return out;
}

}  // namespace rt
