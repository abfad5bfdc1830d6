#include "file_shelf.h"

#include <algorithm>

namespace standin {
namespace {

constexpr qsizetype kLongestName = 64;

QString wrongName(const QString& name) {
  if (name.isEmpty() || name.size() > kLongestName)
    return QStringLiteral("a name has 1 to 64 letters");
  if (name.contains('/') || name.contains('\\'))
    return QStringLiteral("there are no folders here: give a plain name");
  return {};
}

}  // namespace

DesignFile* FileShelf::at(const QString& name) {
  const auto it = std::find_if(files_.begin(), files_.end(),
                               [&](const DesignFile& f) { return f.name == name; });
  return it == files_.end() ? nullptr : &*it;
}

const DesignFile* FileShelf::find(const QString& name) const {
  return const_cast<FileShelf*>(this)->at(name);
}

qsizetype FileShelf::used() const {
  qsizetype sum = 0;
  for (const DesignFile& f : files_) sum += f.bytes();
  return sum;
}

QString FileShelf::write(DesignFile file) {
  if (const QString wrong = wrongName(file.name); !wrong.isEmpty()) return wrong;
  DesignFile* there = at(file.name);
  if (!there && files_.size() >= places_)
    return QStringLiteral("all %1 places are taken: delete a file").arg(places_);
  const qsizetype freed = there ? there->bytes() : 0;
  if (used() - freed + file.bytes() > room_)
    return QStringLiteral("the file takes %1 kB, %2 kB are free: delete a file")
        .arg(file.bytes() / 1024)
        .arg((room_ - used() + freed) / 1024);
  if (there)
    *there = std::move(file);
  else
    files_.push_back(std::move(file));
  return {};
}

QString FileShelf::copy(const QString& from, const QString& to) {
  const DesignFile* file = find(from);
  if (!file) return QStringLiteral("there is no file of this name");
  if (find(to)) return QStringLiteral("a file of the new name is there already");
  DesignFile twin = *file;
  twin.name = to;
  return write(std::move(twin));
}

QString FileShelf::rename(const QString& from, const QString& to) {
  DesignFile* file = at(from);
  if (!file) return QStringLiteral("there is no file of this name");
  if (const QString wrong = wrongName(to); !wrong.isEmpty()) return wrong;
  if (from != to && find(to)) return QStringLiteral("a file of the new name is there already");
  file->name = to;
  return {};
}

QString FileShelf::remove(const QString& name) {
  return std::erase_if(files_, [&](const DesignFile& f) { return f.name == name; }) > 0
             ? QString()
             : QStringLiteral("there is no file of this name");
}

}  // namespace standin
