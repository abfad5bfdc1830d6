#include "ledger_keeper.h"

#include <QCoreApplication>
#include <QTimer>
#include <atomic>

#include "database.h"
#include "error.h"
#include "pending_entries.h"
#include "server_ledger.h"

namespace rt {
namespace {

constexpr int kTryAgain_ms = 1'000;  // also how often entries of other programs are looked for

}  // namespace

/// Lives in the keeper's thread; the only one that touches store and pending file.
class LedgerWorker : public QObject {
 public:
  LedgerWorker(LedgerKeeper& keeper, std::string store, std::filesystem::path beside)
      : keeper_(keeper), store_name_(std::move(store)), file_(std::move(beside)), pending_(file_) {}

  void begin() {
    timer_ = new QTimer(this);
    connect(timer_, &QTimer::timeout, this, &LedgerWorker::turn);
    timer_->start(kTryAgain_ms);
    turn();
  }
  void end() {
    turn();
    store_.reset();
    delete timer_;
  }
  void moveTo(const std::string& store, const std::filesystem::path& beside) {
    turn();
    store_.reset();
    place_ = 0;
    store_name_ = store;
    file_ = beside;
    pending_ = PendingEntries(file_);
    ++moves_;
    turn();
  }
  void keep(const LedgerEntry& entry) {
    pending_.add(entry);
    turn();
  }
  void turn() {
    try {
      open();
      if (!pending_.empty()) {
        store_->add(pending_.entries());
        pending_.clear();
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
      if (place_ == 0) hand(pending_.entries(), false);
    } catch (const std::exception& problem) {
      store_.reset();
      say(QString::fromUtf8(problem.what()));
    }
  }

 private:
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
      for (const LedgerEntry& e : saved.entries) pending_.add(e);
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
    QMetaObject::invokeMethod(
        &keeper_,
        [keeper = &keeper_, entries = std::move(entries), loaded, moves = moves_] {
          if (moves == keeper->moves_) keeper->take(entries, loaded);
        },
        Qt::QueuedConnection);
  }
  void say(const QString& words) {
    QMetaObject::invokeMethod(
        &keeper_,
        [keeper = &keeper_, words, waiting = pending_.entries().size()] {
          keeper->setTrouble(words, waiting);
        },
        Qt::QueuedConnection);
  }
  void tell(const QString& words) {
    QMetaObject::invokeMethod(
        &keeper_, [keeper = &keeper_, words] { emit keeper->told(words); }, Qt::QueuedConnection);
  }

  LedgerKeeper& keeper_;
  std::string store_name_;
  size_t moves_ = 0;
  std::filesystem::path file_;
  PendingEntries pending_;
  std::unique_ptr<LedgerStore> store_;
  int64_t place_ = 0;
  QTimer* timer_ = nullptr;
};

LedgerKeeper::LedgerKeeper(std::string store, std::filesystem::path beside, QObject* parent)
    : QObject(parent),
      store_(store),
      worker_(new LedgerWorker(*this, std::move(store), std::move(beside))) {
  worker_->moveToThread(&thread_);
  thread_.start();
  QMetaObject::invokeMethod(
      worker_, [this] { worker_->begin(); }, Qt::QueuedConnection);
}

LedgerKeeper::~LedgerKeeper() {
  QMetaObject::invokeMethod(
      worker_, [this] { worker_->end(); }, Qt::BlockingQueuedConnection);
  thread_.quit();
  thread_.wait();
  delete worker_;
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
