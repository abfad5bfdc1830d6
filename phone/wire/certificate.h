// The shop's own certificate: made once, kept beside what else the shop knows.
#pragma once

#include <filesystem>
#include <string>

namespace rt {

struct Certificate {
  std::string pem, key_pem;
  std::string fingerprint;  ///< SHA-256 of the certificate: pairs of hex digits, colons between.
};

/// Read from `folder`, or made there: a P-256 key, signed by itself, good for ten years; readable
/// by its owner alone. `host` is the address that it names when it is made. Throws Error where it
/// can be neither read nor kept.
Certificate shopCertificate(const std::filesystem::path& folder, const std::string& host);

}  // namespace rt
