#include "ledger_charts.h"

#include <QString>
#include <QStringList>

namespace rt {

Chart alignmentChart(const std::vector<LedgerEntry>& entries, double tolerance_mm) {
  Chart out;
  out.line = tolerance_mm;
  for (const LedgerEntry& e : entries)
    if (e.event == "align")
      out.points.push_back({static_cast<double>(out.points.size() + 1), e.worst_mm,
                            e.status == "ready"   ? 0
                            : e.status == "check" ? 1
                                                  : 2,
                            e.job_title + ", " + std::to_string(e.hooping) + ": " + e.note});
  return out;
}

Chart minutesChart(const std::vector<LedgerEntry>& entries, double far_off) {
  Chart out;
  out.diagonal = true;
  for (const RunEntry& r : runsIn(entries)) {
    const bool far = std::abs(r.taken_s - r.predicted_s) > far_off * r.predicted_s;
    out.points.push_back(
        {r.predicted_s / 60, r.taken_s / 60, far ? 1 : 0, "hooping " + std::to_string(r.hooping)});
  }
  return out;
}

Chart densityChart(const std::vector<LedgerEntry>& entries, const std::string& fabric,
                   double stop_limit) {
  Chart out;
  out.line = stop_limit;
  for (const OutcomeEntry& o : outcomesIn(entries, fabric, OutcomeOf::Density))
    out.points.push_back({static_cast<double>(out.points.size() + 1), o.value / o.factor,
                          static_cast<int>(o.outcome), o.note});
  return out;
}

Chart seamChart(const std::vector<LedgerEntry>& entries) {
  Chart out;
  out.diagonal = true;
  for (const LedgerEntry& e : entries) {
    const auto gap = e.figures.find("gap_mm"), predicted = e.figures.find("predicted_mm");
    if (e.event != "seam" || gap == e.figures.end() || predicted == e.figures.end()) continue;
    out.points.push_back({predicted->second, gap->second, e.status == "as-predicted" ? 0 : 2,
                          e.job_title + ", " + e.note});
  }
  return out;
}

Chart practiceChart(const std::vector<LedgerEntry>& entries) {
  Chart out;
  for (const LedgerEntry& e : entries)
    if (const auto points = e.figures.find("points");
        e.event == "practice" && points != e.figures.end())
      out.points.push_back({static_cast<double>(out.points.size() + 1), points->second,
                            e.status == "right" ? 0 : 2, e.note});
  return out;
}

std::vector<LedgerEntry> searched(const std::vector<LedgerEntry>& entries, const std::string& words,
                                  const std::string& event) {
  const QStringList wanted = QString::fromStdString(words).split(QChar(' '), Qt::SkipEmptyParts);
  std::vector<LedgerEntry> out;
  for (const LedgerEntry& e : entries) {
    if (!event.empty() && e.event != event) continue;
    const QString all = QString::fromStdString(e.event + ' ' + e.note + ' ' + e.job_title + ' ' +
                                               e.job_id + ' ' + e.time + ' ' + e.status);
    if (std::all_of(wanted.begin(), wanted.end(),
                    [&](const QString& w) { return all.contains(w, Qt::CaseInsensitive); }))
      out.push_back(e);
  }
  return out;
}

}  // namespace rt
