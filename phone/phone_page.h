// The files of the page: what ships in data/phone, and its words.
#pragma once

#include <filesystem>
#include <map>
#include <string>

#include "page_server.h"

namespace rt {

/// By the path that they are served at. Throws Error where one of them cannot be read.
std::map<std::string, PageFile> phonePage(const std::filesystem::path& data);

}  // namespace rt
