// Parts of a job as JSON text and stitch bytes. Part of this room.
#pragma once

#include <QByteArray>
#include <string>

#include "job.h"

namespace rt {

std::string briefJson(const Brief& brief);
Brief briefFrom(const std::string& json);
std::string placementJson(const Placement& place);
Placement placementFrom(const std::string& json);
std::string sourceJson(const PieceSource& source);
PieceSource sourceFrom(const std::string& json);
/// Zones, plan settings, alignments, progress and the like.
std::string restJson(const Job& job);
void readRest(const std::string& json, Job& job);

/// Exact: coordinates keep every bit. Throws Error on bytes that are not a pattern.
QByteArray patternBytes(const Pattern& pattern);
Pattern patternFrom(const QByteArray& bytes);
QByteArray planBytes(const HoopingPlan& plan);
HoopingPlan planFrom(const QByteArray& bytes);

}  // namespace rt
