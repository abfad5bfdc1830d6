#include "ledger_keeper.h"

#include <QCoreApplication>
#include <QTimer>
#include <functional>
#include <map>
#include <mutex>

#include "database.h"
#include "error.h"
#include "pending_entries.h"
#include "server_ledger.h"

namespace rt {
namespace {

constexpr unsigned long kLastWait_ms = 2'000;  // for a store at the end of the program
constexpr int kTryAgain_ms = 1'000;  // also how often entries of other programs are looked for

}  // namespace

/// The way back to a keeper that may be gone by the time a store answers.
class KeeperDoor {
 public:
  explicit KeeperDoor(LedgerKeeper& keeper) : keeper_(&keeper) {}
  void shut() {
    const std::lock_guard lock(guard_);
    keeper_ = nullptr;
  }
  /// Runs in the keeper's thread, unless it is gone.
  void tell(std::function<void(LedgerKeeper&)> what) {
    const std::lock_guard lock(guard_);
    if (!keeper_) return;
    QMetaObject::invokeMethod(
        keeper_, [keeper = keeper_, what = std::move(what)] { what(*keeper); },
        Qt::QueuedConnection);
  }

 private:
  std::mutex guard_;
  LedgerKeeper* keeper_;
};

/// Lives in the keeper's thread; the only one that touches store and pending file.
class LedgerWorker : public QObject {
 public:
  LedgerWorker(std::shared_ptr<KeeperDoor> door, std::string store, std::filesystem::path beside)
      : door_(std::move(door)), store_name_(std::move(store)), file_(std::move(beside)) {}

  void begin() {
    timer_ = new QTimer(this);
    connect(timer_, &QTimer::timeout, this, &LedgerWorker::turn);
    timer_->start(kTryAgain_ms);
    turn();
  }
  void end() {
    // a store in trouble is not asked once more: what waits for it is in its file
    if (fine_) turn();
    store_.reset();
    delete timer_;
  }
  void moveTo(const std::string& store, const std::filesystem::path& beside) {
    if (fine_) turn();
    store_.reset();
    place_ = 0;
    store_name_ = store;
    file_ = beside;
    ++moves_;
    turn();
  }
  void keep(const LedgerEntry& entry) {
    pending().add(entry);
    turn();
  }
  void turn() {
    try {
      open();
      if (!pending().empty()) {
        store_->add(pending().entries());
        pending().clear();
      }
      const bool first = place_ == 0;
      std::vector<LedgerEntry> fresh = store_->since(place_);
      if (first || !fresh.empty()) hand(std::move(fresh), true);
      say({});
    } catch (const StoreError& problem) {
      // a server's tables are nobody's here to move
      if (!namesServer(store_name_) &&
          (problem.trouble() == Trouble::Damaged || problem.trouble() == Trouble::Foreign))
        setAside();
      else
        store_.reset();
      say(QString::fromUtf8(problem.what()));
      if (place_ == 0) hand(pending().entries(), false);
    } catch (const std::exception& problem) {
      store_.reset();
      say(QString::fromUtf8(problem.what()));
    }
  }

 private:
  /// What waits for the store in hand. Each store has its own: what waits for one never goes into
  /// another.
  PendingEntries& pending() { return waiting_.try_emplace(file_, file_).first->second; }

  void open() {
    if (store_) return;
    std::error_code problem;
    std::filesystem::create_directories(file_.parent_path(), problem);
    store_ = namesServer(store_name_) ? openLedgerServer(serverUrl(store_name_), Missing::Make)
                                      : openLedgerFile(store_name_);
    place_ = 0;
  }

  void setAside() {
    store_.reset();
    try {
      const Salvage saved = salvageLedgerFile(file_);
      for (const LedgerEntry& e : saved.entries) pending().add(e);
      tell(QObject::tr("The ledger's file was damaged. %1 entries were taken over, %2 could not be "
                       "read; the file is kept as %3.")
               .arg(saved.entries.size())
               .arg(saved.lost)
               .arg(QString::fromStdString(saved.aside.filename().string())));
      QMetaObject::invokeMethod(
          this, [this] { turn(); }, Qt::QueuedConnection);
    } catch (const std::exception&) {
      // its folder cannot be written: the next turn tries again, entries wait
    }
  }

  void hand(std::vector<LedgerEntry> entries, bool loaded) {
    door_->tell([entries = std::move(entries), loaded, moves = moves_](LedgerKeeper& keeper) {
      if (moves == keeper.moves_) keeper.take(entries, loaded);
    });
  }
  void say(const QString& words) {
    fine_ = words.isEmpty();
    door_->tell(
        [words, waiting = pending().entries().size(), moves = moves_](LedgerKeeper& keeper) {
          if (moves == keeper.moves_) keeper.setTrouble(words, waiting);
        });
  }
  void tell(const QString& words) {
    door_->tell([words](LedgerKeeper& keeper) { emit keeper.told(words); });
  }

  std::shared_ptr<KeeperDoor> door_;
  std::string store_name_;
  size_t moves_ = 0;
  bool fine_ = true;
  std::filesystem::path file_;
  std::map<std::filesystem::path, PendingEntries> waiting_;
  std::unique_ptr<LedgerStore> store_;
  int64_t place_ = 0;
  QTimer* timer_ = nullptr;
};

LedgerKeeper::LedgerKeeper(std::string store, std::filesystem::path beside, QObject* parent)
    : QObject(parent),
      store_(store),
      door_(std::make_shared<KeeperDoor>(*this)),
      thread_(new QThread),
      worker_(new LedgerWorker(door_, std::move(store), std::move(beside))) {
  worker_->moveToThread(thread_);
  thread_->start();
  QMetaObject::invokeMethod(
      worker_, [worker = worker_] { worker->begin(); }, Qt::QueuedConnection);
}

/// A silent server is not waited for: what is not in it is in the file beside, and its thread,
/// which touches nothing of ours any more, ends with the program.
LedgerKeeper::~LedgerKeeper() {
  door_->shut();
  QMetaObject::invokeMethod(
      worker_,
      [worker = worker_] {
        worker->end();
        delete worker;
        QThread::currentThread()->quit();
      },
      Qt::QueuedConnection);
  if (thread_->wait(kLastWait_ms)) delete thread_;
}

void LedgerKeeper::moveTo(std::string store, std::filesystem::path beside) {
  ++moves_;
  store_ = store;
  all_.clear();
  byId_.clear();
  loaded_ = false;
  waiting_ = 0;
  trouble_.clear();
  QMetaObject::invokeMethod(
      worker_,
      [worker = worker_, store = std::move(store), beside = std::move(beside)] {
        worker->moveTo(store, beside);
      },
      Qt::QueuedConnection);
  emit changed();
}

QString LedgerKeeper::storeName() const {
  return QString::fromStdString(namesServer(store_) ? serverUrl(store_).shown() : store_);
}

const LedgerEntry& LedgerKeeper::add(LedgerEntry entry) {
  entry.id = newId();
  entry.time = nowUtc();
  byId_[entry.id] = all_.size();
  all_.push_back(entry);
  ++waiting_;
  QMetaObject::invokeMethod(
      worker_, [worker = worker_, entry] { worker->keep(entry); }, Qt::QueuedConnection);
  emit changed();
  return all_.back();
}

size_t LedgerKeeper::takeIn(const std::vector<LedgerEntry>& entries) {
  std::vector<LedgerEntry> fresh;
  for (const LedgerEntry& e : entries)
    if (!byId_.contains(e.id)) fresh.push_back(e);
  take(fresh, false);
  for (const LedgerEntry& e : fresh) {
    ++waiting_;
    QMetaObject::invokeMethod(
        worker_, [worker = worker_, e] { worker->keep(e); }, Qt::QueuedConnection);
  }
  return fresh.size();
}

std::vector<LedgerEntry> LedgerKeeper::entries(const std::string& job_id) const {
  std::vector<LedgerEntry> out;
  for (auto e = all_.rbegin(); e != all_.rend(); ++e)
    if (job_id.empty() || e->job_id == job_id) out.push_back(*e);
  return out;
}

std::string LedgerKeeper::csv(const std::string& job_id) const {
  std::vector<LedgerEntry> some = entries(job_id);
  std::reverse(some.begin(), some.end());
  return csvOf(some);
}

void LedgerKeeper::settle() {
  // twice: what the worker hands over is queued behind what was asked
  QMetaObject::invokeMethod(
      worker_, [] {}, Qt::BlockingQueuedConnection);
  QCoreApplication::sendPostedEvents(this);
}

void LedgerKeeper::take(const std::vector<LedgerEntry>& entries, bool loaded) {
  loaded_ = loaded_ || loaded;
  bool any = false;
  for (const LedgerEntry& e : entries)
    if (byId_.emplace(e.id, all_.size()).second) {
      all_.push_back(e);
      any = true;
    }
  if (any)  // what was added here before the store was read is the newest
    std::stable_sort(all_.begin(), all_.end(),
                     [](const LedgerEntry& a, const LedgerEntry& b) { return a.time < b.time; });
  emit changed();
}

void LedgerKeeper::setTrouble(const QString& words, size_t waiting) {
  waiting_ = waiting;
  if (words.isEmpty() == trouble_.isEmpty()) {
    trouble_ = words;
    return;
  }
  trouble_ = words;
  emit told(words.isEmpty()
                ? tr("The ledger can be written again; what waited is in it.")
                : tr("The ledger cannot be written just now: %1. What happens is kept beside it "
                     "until it can.")
                      .arg(words));
}

}  // namespace rt
