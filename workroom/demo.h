// The demo jobs of the made-up reserve.
#pragma once

#include "making.h"

namespace rt {

/// Names of the jobs in data/demo, the first to be opened first.
std::vector<std::string> demoJobs(const Bench& bench);
/// Builds a demo job from its description and drawings. Throws Error with the file.
Job demoJob(const Bench& bench, const std::string& name);
/// Where the scan of a hooping of a demo job lies, by the job's title; it need not be there.
std::filesystem::path demoScan(const Bench& bench, const Job& job, int hooping);

}  // namespace rt
