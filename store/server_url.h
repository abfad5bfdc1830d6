// Where a shop's ledger server is.
#pragma once

#include <chrono>
#include <optional>
#include <string>

namespace rt {

/// `postgresql://user@host:port/name?sslmode=…&sslrootcert=…`; what is left out is as the server's
/// own programs take it.
struct ServerUrl {
  std::string user, host, database;
  std::string password;  ///< Never shown; better in PGPASSWORD or the password file.
  int port = 0;          ///< 0: the usual one.
  /// `disable`, `allow`, `prefer`, `require`, `verify-ca`, `verify-full`, as the server's own
  /// programs take it; empty: as they take it without one (they encrypt where the server offers
  /// it).
  std::string sslmode;
  std::string
      sslrootcert;  ///< File of the certificate that the server's is held to; empty: the usual.
  /// Without the password.
  std::string shown() const;
  /// Whether the wire goes to another computer and nothing says that it has to be encrypted: who
  /// sits on it can then read along.
  bool openWire() const;
};

/// How long an answer of a server is waited for.
inline constexpr std::chrono::milliseconds kServerPatience{15'000};

/// Whether a store's name means a server rather than a file.
bool namesServer(const std::string& store);
/// Throws Error for what is no such address.
ServerUrl serverUrl(const std::string& store);

}  // namespace rt
