#include "phone.h"

#include "desk.h"
#include "error.h"
#include "phone_page.h"
#include "phone_state.h"

namespace rt {
namespace {

constexpr int kReaders = 2;       // photos that are read at once
constexpr int kSoon_ms = 150;     // in which changes are told together
constexpr int kOften_ms = 2000;   // for machines that come and go by themselves
constexpr size_t kPictures = 16;  // of scans that are kept to be looked at

std::string keyText(const SettingKey& key) {
  return key.plan + "/" + key.setting;
}

}  // namespace

Phone::Phone(Desk& desk, std::filesystem::path data, std::filesystem::path own, QObject* parent)
    : QObject(parent), desk_(desk), data_(std::move(data)), own_(std::move(own)) {
  readers_.setMaxThreadCount(kReaders);
  soon_.setSingleShot(true);
  soon_.setInterval(kSoon_ms);
  often_.setInterval(kOften_ms);
  connect(&soon_, &QTimer::timeout, this, &Phone::tell);
  connect(&often_, &QTimer::timeout, this, &Phone::tell);
  desk_.on(Part::Job | Part::Plan | Part::Hooping | Part::Record | Part::Rows | Part::Scan |
               Part::Machine,
           this, &Phone::tellLater);
}

Phone::~Phone() {
  close();
  readers_.waitForDone();
}

void Phone::open(const PhoneAddress& address, ServerLimits limits) {
  close();
  PageServer::Setup setup;
  setup.address = address;
  setup.pages = phonePage(data_);
  setup.key = newPhoneKey();
  setup.limits = limits;
  if (!address.loopback) setup.certificate = shopCertificate(own_, address.host);
  // answers are made where the job is
  setup.asked = [this](Asked asked) {
    QMetaObject::invokeMethod(
        this, [this, asked = std::move(asked)]() mutable { take(std::move(asked)); },
        Qt::QueuedConnection);
  };
  key_ = setup.key;
  fingerprint_ =
      setup.certificate ? QString::fromStdString(setup.certificate->fingerprint) : QString();
  server_ = std::make_unique<PageServer>(std::move(setup));
  often_.start();
  planIfNone();
  tell();
  emit changed();
}

void Phone::close() {
  if (!server_) return;
  often_.stop();
  soon_.stop();
  server_.reset();
  waiting_.clear();
  key_.clear();
  emit changed();
}

void Phone::withdrawKey() {
  if (!server_) return;
  key_ = newPhoneKey();
  server_->setKey(key_);
  emit changed();
}

void Phone::planByItself() {
  plans_ = true;
  planIfNone();
  tell();
}

QString Phone::link() const {
  if (!server_) return {};
  const PhoneAddress& at = server_->address();
  return QString::fromStdString(schemeOf(at) + "://" + authorityOf(at) + "/#" + key_);
}

QString Phone::fingerprint() const {
  return server_ ? fingerprint_ : QString();
}

QString Phone::whom() const {
  if (!server_) return tr("Closed: nobody can reach it.");
  const PhoneAddress& at = server_->address();
  return at.loopback
             ? tr("Open for programs of this computer that have the link, until it is closed "
                  "here or this window is.")
             : tr("Open for whoever has this code and reaches %1 in your network, until it "
                  "is closed here or this window is.")
                   .arg(QString::fromStdString(authorityOf(at)));
}

void Phone::tellLater() {
  if (!server_) return;
  planIfNone();
  if (!soon_.isActive()) soon_.start();
}

void Phone::tell() {
  if (!server_) return;
  server_->setState(phoneState(desk_), phoneMachines(desk_), phoneHoopings(desk_));
  readWaiting();
}

/// Once a job: a plan that cannot be made is not asked for again.
void Phone::planIfNone() {
  if (!plans_ || !server_ || desk_.planCurrent() || desk_.planning() || desk_.sequencing()) return;
  if (desk_.layout().stitches.empty() || planned_ == desk_.job().id) return;
  planned_ = desk_.job().id;
  desk_.makePlan();
}

void Phone::take(Asked asked) {
  if (!server_) return;
  switch (asked.route.what) {
    case Resource::Scan:
      waiting_.push_back(std::move(asked));
      return readWaiting();
    case Resource::Pause:
      return asked.reply(paused(asked.route.machine));
    case Resource::Sheet:
      return asked.reply(sheet(asked.route));
    case Resource::Picture:
      return asked.reply(picture(asked.route.hooping));
    default:
      return asked.reply(
          {404, phoneError("There is nothing at this address."), "application/json"});
  }
}

/// Scans wait while the plan that they belong to is being made.
void Phone::readWaiting() {
  if (waiting_.empty() || desk_.planning() || desk_.sequencing()) return;
  for (Asked& asked : std::exchange(waiting_, {})) read(std::move(asked));
}

PhonePhoto Phone::photoOf(const Asked& asked) const {
  PhonePhoto out;
  out.name = tr("from the phone at %1").arg(QString::fromStdString(asked.from)).toStdString();
  out.arrived = nowUtc();
  out.lens = [this](const std::string& camera) { return desk_.lensOf(camera); };
  const int hoopings = phoneHoopings(desk_);
  std::vector<int> order;
  if (asked.route.hooping > 0) {
    order.push_back(asked.route.hooping);
  } else {
    order.push_back(desk_.hooping());
    for (int h = 1; h <= hoopings; ++h)
      if (h != desk_.hooping()) order.push_back(h);
  }
  for (int h : order)
    if (auto held = desk_.scanHeld(h))
      out.candidates.push_back({h, desk_.sewnThrough(h), std::move(*held),
                                std::make_shared<const Hooping>(*desk_.hoopingAt(h))});
  return out;
}

void Phone::read(Asked asked) {
  if (phoneHoopings(desk_) == 0)
    return asked.reply(
        {409,
         phoneError(
             tr("Plan the hoopings in the window first: a scan belongs to one.").toStdString()),
         "application/json"});
  PhonePhoto photo = photoOf(asked);
  if (photo.candidates.empty())
    return asked.reply(
        {404, phoneError(tr("There is no such hooping.").toStdString()), "application/json"});
  photo.bytes = std::exchange(asked.body, {});
  readers_.start([this, asked, photo = std::move(photo)] {
    Outcome out;
    try {
      out.reading = readPhonePhoto(photo);
      out.picture = errorPicture(*out.reading);
    } catch (const std::exception& problem) {
      out.error = problem.what();
    }
    QMetaObject::invokeMethod(
        this, [this, asked, out = std::move(out)]() mutable { finish(asked, std::move(out)); },
        Qt::QueuedConnection);
  });
}

void Phone::finish(const Asked& asked, Outcome outcome) {
  Reply reply;
  try {
    reply = verdictOf(asked, outcome);
  } catch (const std::exception& problem) {
    reply = {422, phoneError(problem.what()), "application/json"};
  }
  tell();  // what the phone hears next is no older than its verdict
  asked.reply(std::move(reply));
}

Reply Phone::verdictOf(const Asked& asked, const Outcome& outcome) {
  const auto no = [](int status, const std::string& why) {
    return Reply{status, phoneError(why), "application/json"};
  };
  if (!outcome.error.empty()) return no(422, outcome.error);
  const PhonePhoto::Candidate& of = outcome.reading->of;
  if (!desk_.planCurrent() || !(desk_.keyOf(of.hooping) == of.held.key))
    return no(409, tr("The plan was made anew meanwhile: take it once more.").toStdString());
  if (pictures_.size() >= kPictures) pictures_.clear();
  pictures_[keyText(of.held.key)] = outcome.picture;
  const std::string why =
      desk_.scans().keep(of.held, outcome.reading->scan, *outcome.reading->reading);
  if (!why.empty()) return no(422, why);
  const Measured* measured = desk_.moment().measuredAt(of.hooping);
  if (!measured || !measured->alignment)
    return no(422, measured && !measured->problem.empty()
                       ? measured->problem
                       : tr("The photo does not say where the cloth lies.").toStdString());
  desk_.say(tr("Hooping %1, scanned by the phone at %2.")
                .arg(of.hooping)
                .arg(QString::fromStdString(asked.from)));
  return {200, phoneVerdict(*measured->alignment, of.hooping), "application/json"};
}

Reply Phone::paused(const std::string& machine) {
  MachineLink& link = desk_.run().machine();
  if (link.machineId().toStdString() != machine || link.phase() != MachineLink::Phase::Sewing)
    return {409, phoneError(tr("This machine does not sew.").toStdString()), "application/json"};
  link.pause();
  return {200, "{\"paused\":true}", "application/json"};
}

Reply Phone::sheet(const Route& route) {
  try {
    if (route.hooping == 0) {
      std::string list;
      for (int h = 1; h <= phoneHoopings(desk_); ++h)
        list += (h > 1 ? "," : "") + std::string("{\"hooping\":") + std::to_string(h) +
                ",\"pages\":" + std::to_string(sheets_.pages(desk_, h)) + "}";
      return {200, "{\"sheets\":[" + list + "]}", "application/json"};
    }
    const QByteArray png = sheets_.page(desk_, route.hooping, route.page);
    if (png.isEmpty())
      return {404, phoneError(tr("There is no such sheet.").toStdString()), "application/json"};
    return {200, png.toStdString(), "image/png"};
  } catch (const std::exception& problem) {
    return {409, phoneError(problem.what()), "application/json"};
  }
}

Reply Phone::picture(int hooping) {
  const auto found = pictures_.find(keyText(desk_.keyOf(hooping > 0 ? hooping : desk_.hooping())));
  if (found == pictures_.end())
    return {404, phoneError(tr("No scan of it came from a phone yet.").toStdString()),
            "application/json"};
  return {200, found->second.toStdString(), "image/jpeg"};
}

}  // namespace rt
