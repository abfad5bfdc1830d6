// What the machine remembers over an end of the power, and the cloth that it sewed on.
#pragma once

#include <QFile>
#include <QString>

#include "machine.h"

namespace standin {

/// Where sewing of a design stood, in a file that is only added to: one line a stretch that was
/// sewn. Beside it, if asked, every needle point on the virtual cloth.
class Memory {
 public:
  /// Empty names keep nothing.
  Memory(const QString& position_file, const QString& cloth_file);
  /// Rows of a design that were sewn before; 0 for one it does not know.
  size_t rowsOf(const QString& design) const;
  void sewn(const QString& design, size_t row);
  void needle(size_t row, const Row& at);
  /// To the file, so that an end of this program loses nothing.
  void flush();

 private:
  QFile positions_, cloth_;
  QString design_;
  size_t row_ = 0, written_ = 0;
};

}  // namespace standin
