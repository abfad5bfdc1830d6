// The shop's ledger on a server, shared by its stations.
#pragma once

#include "ledger_store.h"
#include "server_url.h"

namespace rt {

/// The schema that this program writes; an older one is brought up to it, a newer one refused.
inline constexpr int kLedgerServerVersion = 2;

enum class Missing { Make, Refuse };
/// Opens the ledger on a server; an empty database becomes one unless that is refused. Throws
/// StoreError.
std::unique_ptr<LedgerStore> openLedgerServer(const ServerUrl& server, Missing missing,
                                              std::chrono::milliseconds patience = kServerPatience);
/// Brings the schema to a version, up or down; entries stay. Throws StoreError, Error for a version
/// that there is not.
void migrateLedgerServer(const ServerUrl& server, int version);

}  // namespace rt
