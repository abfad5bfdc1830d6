#include "memory.h"

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

namespace standin {

Memory::Memory(const QString& position_file, const QString& cloth_file)
    : positions_(position_file), cloth_(cloth_file) {
  if (!position_file.isEmpty() &&
      !positions_.open(QIODevice::ReadWrite | QIODevice::Append | QIODevice::Unbuffered))
    std::fprintf(stderr, "warning: the machine's memory cannot be written\n");
  if (!cloth_file.isEmpty() && !cloth_.open(QIODevice::WriteOnly | QIODevice::Append))
    std::fprintf(stderr, "warning: the cloth's file cannot be written\n");
}

size_t Memory::rowsOf(const QString& design) const {
  if (!positions_.isOpen() || design.isEmpty()) return 0;
  QFile file(positions_.fileName());
  if (!file.open(QIODevice::ReadOnly)) return 0;
  size_t rows = 0;
  while (!file.atEnd()) {
    const QJsonObject line = QJsonDocument::fromJson(file.readLine()).object();
    if (line["design"].toString() == design)
      rows = static_cast<size_t>(std::max(0.0, line["row"].toDouble()));
  }
  return rows;
}

void Memory::sewn(const QString& design, size_t row) {
  design_ = design;
  row_ = row;
}

void Memory::needle(size_t row, const Row& at) {
  if (cloth_.isOpen())
    cloth_.write(QStringLiteral("%1,%2,%3,%4\n")
                     .arg(row)
                     .arg(at.x_mm, 0, 'f', 3)
                     .arg(at.y_mm, 0, 'f', 3)
                     .arg(at.thread)
                     .toUtf8());
}

void Memory::flush() {
  if (cloth_.isOpen()) cloth_.flush();
  if (!positions_.isOpen() || design_.isEmpty() || row_ == written_) return;
  const QJsonObject line{{"design", design_}, {"row", static_cast<double>(row_)}};
  positions_.write(QJsonDocument(line).toJson(QJsonDocument::Compact) + '\n');
  written_ = row_;
}

}  // namespace standin
