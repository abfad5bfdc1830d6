#include "faces.h"

#include <hb.h>

#include "accents.h"
#include "error.h"
#include "file_io.h"
#include "json_reading.h"
#include "outline_face.h"

namespace rt {

std::vector<Face> listFaces(const std::filesystem::path& data_folder) {
  const Json root = readJson(data_folder / "faces" / "faces.json");
  std::vector<Face> out;
  for (const Json& f : member(root, "faces", "faces.json")) {
    Face face;
    face.id = textIn(f, "id", "faces.json");
    const std::string where = "faces.json face " + face.id;
    face.name = textIn(f, "name", where);
    face.style = textIn(f, "style", where);
    face.licence = textIn(f, "licence", where);
    face.file = textIn(f, "file", where);
    face.joins = member(f, "joins", where).get<bool>();
    face.min_height_mm = numberIn(f, "min_height_mm", where);
    face.max_height_mm = numberIn(f, "max_height_mm", where);
    if (f.contains("weight")) {
      face.weight = numberIn(f, "weight", where);
      face.least_width_mm = numberIn(f, "least_width_mm", where);
    }
    out.push_back(std::move(face));
  }
  return out;
}

Face loadFace(const std::filesystem::path& data_folder, const std::string& id) {
  std::string known;
  for (Face& face : listFaces(data_folder)) {
    if (face.id == id) {
      const std::filesystem::path file = data_folder / face.file;
      if (file.extension() == ".jhf") {
        face.glyphs = parseHershey(readFile(file), file.string());
        addAccented(face.glyphs, face.cap_units);
      } else {
        face.outlines = openOutlines(file);
      }
      return face;
    }
    known += (known.empty() ? "" : ", ") + face.id;
  }
  throw Error("no face is called \"" + id + "\"", "face", "use one of: " + known);
}

std::string composed(const std::string& utf8) {
  hb_unicode_funcs_t* funcs = hb_unicode_funcs_get_default();
  std::u32string out;
  for (char32_t code : decodeUtf8(utf8)) {
    hb_codepoint_t joined = 0;
    if (!out.empty() && hb_unicode_compose(funcs, out.back(), code, &joined))
      out.back() = joined;
    else
      out.push_back(code);
  }
  std::string text;
  for (char32_t code : out) text += encodeUtf8(code);
  return text;
}

}  // namespace rt
