// The page for phones: opened on one address, shown what is so, asked for scans and pauses.
#pragma once

#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <deque>

#include "page_server.h"
#include "phone_scan.h"
#include "sheet_pictures.h"

namespace rt {

class Desk;

class Phone : public QObject {
  Q_OBJECT
 public:
  /// `data` holds the page, `own` the certificate of the shop.
  Phone(Desk& desk, std::filesystem::path data, std::filesystem::path own,
        QObject* parent = nullptr);
  ~Phone() override;

  /// Throws Error where it cannot listen. One that is open already is closed first.
  void open(const PhoneAddress& address, ServerLimits limits = {});
  void close();
  bool isOpen() const { return server_ != nullptr; }
  /// The key that was is wrong from now on.
  void withdrawKey();
  /// A job without a plan is planned as soon as it is in hand.
  void planByItself();

  QString link() const;  ///< With its key; empty: closed.
  const PhoneAddress* address() const { return server_ ? &server_->address() : nullptr; }
  QString fingerprint() const;  ///< Of the certificate; empty: it is plain.
  /// Who can reach it, and until when, in one sentence.
  QString whom() const;
  /// Phones that look at it.
  int phones() const { return server_ ? static_cast<int>(server_->listeners()) : 0; }

 signals:
  void changed();

 private:
  struct Outcome {
    std::optional<PhoneReading> reading;
    QByteArray picture;
    std::string error;
  };
  void tellLater();
  void tell();
  void planIfNone();
  void take(Asked asked);
  void readWaiting();
  void read(Asked asked);
  void finish(const Asked& asked, Outcome outcome);
  Reply verdictOf(const Asked& asked, const Outcome& outcome);
  Reply paused(const std::string& machine);
  Reply sheet(const Route& route);
  Reply picture(int hooping);
  PhonePhoto photoOf(const Asked& asked) const;  ///< Without its bytes.

  Desk& desk_;
  std::filesystem::path data_, own_;
  std::unique_ptr<PageServer> server_;
  std::string key_;
  QString fingerprint_;
  bool plans_ = false;
  std::string planned_;  ///< Job that was planned by itself.
  QTimer soon_, often_;
  std::deque<Asked> waiting_;                   ///< Scans that came before there was a plan.
  std::map<std::string, QByteArray> pictures_;  ///< Of the last scan, by plan and setting.
  SheetPictures sheets_;
  QThreadPool readers_;
};

}  // namespace rt
