// Stitches as exact bytes. Part of this room.
#pragma once

#include <QByteArray>
#include <QDataStream>

#include "pattern.h"

namespace rt {

/// Exact: coordinates keep every bit. Throws Error on bytes that are not a pattern.
QByteArray patternBytes(const Pattern& pattern);
Pattern patternFrom(const QByteArray& bytes);
/// What `qCompress` packed. Throws Error where the size that it claims is out of all proportion.
QByteArray unpacked(const QByteArray& packed);

/// Parts of a stream of bytes, for readers of older formats. Throw Error on damage.
std::string readText(QDataStream& in);
quint32 readCount(QDataStream& in, quint32 bytes_each);
Pattern readPattern(QDataStream& in);

}  // namespace rt
