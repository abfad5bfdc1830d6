#include "stitch_file.h"

#include "error.h"
#include "file_io.h"
#include "stitch_svg.h"

namespace rt {

FileKind kindOfFile(std::string_view text) {
  if (text.starts_with("SQLite format 3")) return FileKind::Job;
  if (text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  if (text.starts_with("# rapt-stitches")) return FileKind::StitchList;
  if (isStitchSvg(text)) return FileKind::StitchDrawing;
  const size_t start = text.find_first_not_of(" \t\r\n");
  if (start != std::string_view::npos && text[start] == '<' &&
      text.find("<svg") != std::string_view::npos)
    return FileKind::Artwork;
  return FileKind::Unknown;
}

ReadResult readStitchFile(const std::filesystem::path& path) {
  const std::string text = readFile(path);
  switch (kindOfFile(text)) {
    case FileKind::StitchDrawing:
      return readStitchSvg(text, path.string());
    case FileKind::Artwork:
      throw Error("this SVG is artwork, not a stitch drawing", path.string(), "digitise it first");
    case FileKind::Job:
      throw Error("this is a job file, not a stitch list", path.string(),
                  "open it in the window and export its stitches");
    default:
      return readStitchCsv(text, path.string());
  }
}

void writeStitchFile(const std::filesystem::path& path, const Pattern& pattern, Digits digits) {
  writeFile(path, path.extension() == ".svg" ? writeStitchSvg(pattern, digits)
                                             : writeStitchCsv(pattern, digits));
}

}  // namespace rt
