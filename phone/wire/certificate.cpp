#include "certificate.h"

#include <arpa/inet.h>
#include <fcntl.h>
#include <gnutls/gnutls.h>
#include <gnutls/x509.h>
#include <sys/random.h>
#include <unistd.h>

#include <array>
#include <ctime>
#include <fstream>
#include <memory>
#include <sstream>
#include <vector>

#include "error.h"

namespace rt {
namespace {

constexpr const char* kFile = "phone-certificate.pem";
constexpr time_t kYears = time_t{10} * 365 * 24 * 3600;

void need(int code, const std::filesystem::path& where) {
  if (code < 0)
    throw Error(std::string("the certificate for phones: ") + gnutls_strerror(code), where.string(),
                "remove the file; it is made anew");
}

struct FreeCertificate {
  void operator()(gnutls_x509_crt_int* c) const { gnutls_x509_crt_deinit(c); }
};
struct FreeKey {
  void operator()(gnutls_x509_privkey_int* k) const { gnutls_x509_privkey_deinit(k); }
};
using Crt = std::unique_ptr<gnutls_x509_crt_int, FreeCertificate>;
using Key = std::unique_ptr<gnutls_x509_privkey_int, FreeKey>;

Crt newCrt(const std::filesystem::path& where) {
  gnutls_x509_crt_t raw = nullptr;
  need(gnutls_x509_crt_init(&raw), where);
  return Crt(raw);
}
Key newKey(const std::filesystem::path& where) {
  gnutls_x509_privkey_t raw = nullptr;
  need(gnutls_x509_privkey_init(&raw), where);
  return Key(raw);
}

std::string fingerprintOf(gnutls_x509_crt_t crt, const std::filesystem::path& where) {
  std::array<unsigned char, 32> hash{};
  size_t size = hash.size();
  need(gnutls_x509_crt_get_fingerprint(crt, GNUTLS_DIG_SHA256, hash.data(), &size), where);
  std::string out;
  char two[4];
  for (unsigned char byte : hash) {
    std::snprintf(two, sizeof two, "%02X", byte);
    out += (out.empty() ? "" : ":") + std::string(two);
  }
  return out;
}

template <class Export>
std::string pemOf(Export&& write, const std::filesystem::path& where) {
  gnutls_datum_t out{nullptr, 0};
  need(write(&out), where);
  std::string text(reinterpret_cast<const char*>(out.data), out.size);
  gnutls_free(out.data);
  return text;
}

/// The address as bytes of a certificate's alternative name.
std::vector<unsigned char> addressBytes(const std::string& host) {
  std::vector<unsigned char> bytes(16);
  if (::inet_pton(AF_INET, host.c_str(), bytes.data()) == 1)
    bytes.resize(4);
  else if (::inet_pton(AF_INET6, host.c_str(), bytes.data()) != 1)
    bytes.clear();
  return bytes;
}

void fill(gnutls_x509_crt_t crt, gnutls_x509_privkey_t key, const std::string& host,
          const std::filesystem::path& where) {
  static const std::string kName = "The workroom's own page";
  std::array<unsigned char, 16> serial{};
  if (::getrandom(serial.data(), serial.size(), 0) < 0) serial[1] = 1;
  serial[0] &= 0x7f;  // a serial number is positive
  const time_t now = std::time(nullptr);
  need(gnutls_x509_crt_set_version(crt, 3), where);
  need(gnutls_x509_crt_set_serial(crt, serial.data(), serial.size()), where);
  need(gnutls_x509_crt_set_dn_by_oid(crt, GNUTLS_OID_X520_COMMON_NAME, 0, kName.data(),
                                     static_cast<unsigned>(kName.size())),
       where);
  need(gnutls_x509_crt_set_activation_time(crt, now - 24 * 3600), where);
  need(gnutls_x509_crt_set_expiration_time(crt, now + kYears), where);
  need(gnutls_x509_crt_set_key(crt, key), where);
  need(gnutls_x509_crt_set_basic_constraints(crt, 0, -1), where);
  need(gnutls_x509_crt_set_key_usage(crt, GNUTLS_KEY_DIGITAL_SIGNATURE), where);
  const auto bytes = addressBytes(host);
  if (!bytes.empty())
    need(gnutls_x509_crt_set_subject_alt_name(crt, GNUTLS_SAN_IPADDRESS, bytes.data(),
                                              static_cast<unsigned>(bytes.size()), GNUTLS_FSAN_SET),
         where);
  need(gnutls_x509_crt_sign2(crt, crt, key, GNUTLS_DIG_SHA256, 0), where);
}

Certificate made(const std::string& host, const std::filesystem::path& where) {
  const Crt crt = newCrt(where);
  const Key key = newKey(where);
  need(gnutls_x509_privkey_generate(key.get(), GNUTLS_PK_ECDSA,
                                    GNUTLS_CURVE_TO_BITS(GNUTLS_ECC_CURVE_SECP256R1), 0),
       where);
  fill(crt.get(), key.get(), host, where);
  Certificate out;
  out.pem = pemOf(
      [&](auto* to) { return gnutls_x509_crt_export2(crt.get(), GNUTLS_X509_FMT_PEM, to); }, where);
  out.key_pem = pemOf(
      [&](auto* to) { return gnutls_x509_privkey_export2(key.get(), GNUTLS_X509_FMT_PEM, to); },
      where);
  out.fingerprint = fingerprintOf(crt.get(), where);
  return out;
}

gnutls_datum_t datum(const std::string& text) {
  return {reinterpret_cast<unsigned char*>(const_cast<char*>(text.data())),
          static_cast<unsigned>(text.size())};
}

/// One file holds both, so that neither is ever without the other.
Certificate readFrom(const std::string& text, const std::filesystem::path& where) {
  const Crt crt = newCrt(where);
  const Key key = newKey(where);
  const gnutls_datum_t both = datum(text);
  need(gnutls_x509_crt_import(crt.get(), &both, GNUTLS_X509_FMT_PEM), where);
  need(gnutls_x509_privkey_import(key.get(), &both, GNUTLS_X509_FMT_PEM), where);
  Certificate out{text, text, fingerprintOf(crt.get(), where)};
  return out;
}

/// Beside it first, then renamed: a file that is there is whole.
void keep(const Certificate& c, const std::filesystem::path& where) {
  const std::filesystem::path part = where.string() + ".part";
  const int file = ::open(part.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0600);
  const std::string text = c.pem + c.key_pem;
  const bool written =
      file >= 0 && ::write(file, text.data(), text.size()) == static_cast<ssize_t>(text.size()) &&
      ::fsync(file) == 0;
  if (file >= 0) ::close(file);
  std::error_code problem;
  if (written) std::filesystem::rename(part, where, problem);
  if (written && !problem) return;
  std::filesystem::remove(part, problem);
  throw Error("the certificate for phones cannot be kept", where.string(),
              "check that the folder may be written and the disk has room");
}

}  // namespace

Certificate shopCertificate(const std::filesystem::path& folder, const std::string& host) {
  const std::filesystem::path where = folder / kFile;
  std::ifstream in(where, std::ios::binary);
  if (in) {
    std::stringstream text;
    text << in.rdbuf();
    return readFrom(text.str(), where);
  }
  std::error_code problem;
  std::filesystem::create_directories(folder, problem);
  const Certificate out = made(host, where);
  keep(out, where);
  return out;
}

}  // namespace rt
