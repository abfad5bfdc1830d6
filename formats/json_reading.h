// Members of JSON objects, with errors that name file and key. Part of the readers of this room.
#pragma once

#include <filesystem>
#include <nlohmann/json.hpp>

namespace rt {

using Json = nlohmann::json;

Json readJson(const std::filesystem::path& path);
Json parseJson(const std::string& text, const std::string& where);
const Json& member(const Json& object, const char* key, const std::string& where);
double numberIn(const Json& object, const char* key, const std::string& where);
double numberOr(const Json& object, const char* key, double otherwise, const std::string& where);
std::string textIn(const Json& object, const char* key, const std::string& where);

}  // namespace rt
