// Files that the machine keeps in its memory or finds on a stick.
#pragma once

#include <QByteArray>
#include <QString>
#include <vector>

namespace standin {

/// A design as it was written, with a small picture of it.
struct DesignFile {
  QString name;
  QByteArray rows;                     ///< As they came: a JSON list of rows.
  QByteArray picture;                  ///< Small, PNG in base64; may be empty.
  double width_mm = 0, height_mm = 0;  ///< Of the field that it was made for.
  QString frame;                       ///< Id of the frame that it was made for; empty: any.
  qsizetype bytes() const { return rows.size() + picture.size(); }
};

/// Room for so many files and bytes. Names are unique; each change that is refused says why in
/// plain words and changes nothing.
class FileShelf {
 public:
  FileShelf(size_t places, qsizetype bytes) : places_(places), room_(bytes) {}

  QString write(DesignFile file);  ///< A file of the same name is replaced.
  QString copy(const QString& from, const QString& to);
  QString rename(const QString& from, const QString& to);
  QString remove(const QString& name);
  const DesignFile* find(const QString& name) const;
  const std::vector<DesignFile>& files() const { return files_; }
  qsizetype used() const;
  qsizetype room() const { return room_; }
  size_t places() const { return places_; }

 private:
  DesignFile* at(const QString& name);
  std::vector<DesignFile> files_;
  size_t places_;
  qsizetype room_;
};

}  // namespace standin
