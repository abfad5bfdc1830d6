// What phones are told: the job in hand, the machines, the hooping in hand, and who is needed when.
#pragma once

#include <string>
#include <vector>

#include "judge.h"

namespace rt {

class Desk;
struct Measured;

/// As `GET /api/state` answers it, JSON.
std::string phoneState(const Desk& desk);
/// Ids of the machines in it.
std::vector<std::string> phoneMachines(const Desk& desk);
/// Hoopings that a scan can be of; 0: nothing is planned for the layout as it is.
int phoneHoopings(const Desk& desk);
/// As `POST /api/scan` answers it, JSON.
std::string phoneVerdict(const Alignment& alignment, int hooping);
/// `{"error": …}`.
std::string phoneError(const std::string& sentence);

}  // namespace rt
