#include "pattern_bytes.h"

#include <QDataStream>
#include <QIODevice>

#include "error.h"

namespace rt {
namespace {

constexpr quint32 kPatternMagic = 0x52545031;  // "RTP1"
constexpr quint32 kLargestPart = 512u << 20;   // bytes unpacked; 15 million stitches

QString text(const std::string& s) {
  return QString::fromStdString(s);
}

void write(QDataStream& out, const Pattern& p) {
  out << text(p.title) << static_cast<quint32>(p.threads.size());
  for (Colour c : p.threads) out << static_cast<quint32>(c.rgb);
  out << static_cast<quint32>(p.pieces.size());
  for (const std::string& s : p.pieces) out << text(s);
  out << static_cast<quint32>(p.stitches.size());
  for (const Stitch& s : p.stitches)
    out << s.at.x << s.at.y << static_cast<quint32>(s.block) << s.thread << s.piece
        << static_cast<quint8>(s.op) << static_cast<quint8>(s.kind);
}

}  // namespace

std::string readText(QDataStream& in) {
  QString s;
  in >> s;
  if (in.status() != QDataStream::Ok)
    throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
  return s.toStdString();
}

quint32 readCount(QDataStream& in, quint32 bytesEach) {
  quint32 n = 0;
  in >> n;
  if (in.status() != QDataStream::Ok || n > in.device()->bytesAvailable() / bytesEach)
    throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
  return n;
}

Pattern readPattern(QDataStream& in) {
  Pattern p;
  p.title = readText(in);
  for (quint32 n = readCount(in, 4); n > 0; --n) {
    quint32 rgb = 0;
    in >> rgb;
    p.threads.push_back({rgb});
  }
  p.pieces.clear();
  for (quint32 n = readCount(in, 4); n > 0; --n) p.pieces.push_back(readText(in));
  for (quint32 n = readCount(in, 26); n > 0; --n) {
    Stitch s;
    quint8 op = 0, kind = 0;
    quint32 block = 0;
    in >> s.at.x >> s.at.y >> block >> s.thread >> s.piece >> op >> kind;
    s.block = block;
    s.op = static_cast<Op>(std::min<int>(op, 4));
    s.kind = static_cast<Kind>(std::min<int>(kind, 7));
    if (s.thread >= p.threads.size() || s.piece >= p.pieces.size() ||
        !std::isfinite(s.at.x + s.at.y))
      throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
    p.stitches.push_back(s);
  }
  return p;
}

QByteArray unpacked(const QByteArray& packed) {
  quint32 size = 0;  // qCompress writes the size first, most significant byte first
  for (int i = 0; i < 4; ++i)
    size = size << 8 | static_cast<unsigned char>(packed.size() > i ? packed[i] : 0);
  if (packed.size() < 5 || size > kLargestPart)
    throw Error("a part of the job is damaged or far too large", "job file",
                "open the autosaved copy");
  return qUncompress(packed);
}

QByteArray patternBytes(const Pattern& pattern) {
  QByteArray bytes;
  QDataStream out(&bytes, QIODevice::WriteOnly);
  out.setVersion(QDataStream::Qt_6_0);
  out << kPatternMagic;
  write(out, pattern);
  return qCompress(bytes, 1);
}

Pattern patternFrom(const QByteArray& packed) {
  const QByteArray bytes = unpacked(packed);
  QDataStream in(bytes);
  in.setVersion(QDataStream::Qt_6_0);
  quint32 magic = 0;
  in >> magic;
  if (magic != kPatternMagic)
    throw Error("the stitches of a piece are damaged", "job file", "open the autosaved copy");
  return readPattern(in);
}

}  // namespace rt
