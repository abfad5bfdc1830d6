#include "qr_code.h"

#include <qrencode.h>

#include <memory>

#include "error.h"

namespace rt {

QrCode qrCodeOf(const std::string& text) {
  const std::unique_ptr<QRcode, void (*)(QRcode*)> code(
      QRcode_encodeString8bit(text.c_str(), 0, QR_ECLEVEL_M), &QRcode_free);
  if (!code) throw Error("the text is too long for a code", "code", "give a shorter address");
  QrCode out;
  out.size = code->width;
  const auto cells = static_cast<size_t>(code->width) * static_cast<size_t>(code->width);
  for (size_t i = 0; i < cells; ++i) out.dark.push_back((code->data[i] & 1) != 0);
  return out;
}

}  // namespace rt
