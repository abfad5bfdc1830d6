#include "phone_page.h"

#include <QCoreApplication>
#include <QJsonDocument>
#include <QJsonObject>
#include <QLocale>

#include "file_io.h"

namespace rt {
namespace {

struct Words {
  Q_DECLARE_TR_FUNCTIONS(PhonePage)
};

/// All that the page says of itself, by the names that its script asks for.
QJsonObject pageWords() {
  return {
      {"language", QLocale(QLocale::English).bcp47Name()},
      {"tab_scan", Words::tr("Scan")},
      {"tab_machines", Words::tr("Machines")},
      {"tab_sheets", Words::tr("Sheets")},
      {"no_title", Words::tr("A job without a title")},
      {"connecting", Words::tr("connecting …")},
      {"live", Words::tr("live")},
      {"as_it_was", Words::tr("no word for %1; as it was then")},
      {"seconds", Words::tr("%1 s")},
      {"minutes", Words::tr("%1 min")},
      {"wrong_key", Words::tr("This link is not right any more. Scan the code in the window again: "
                              "Ctrl+K, phone.")},
      {"many_keys", Words::tr("Too many wrong keys came from here. Wait a minute, then scan the "
                              "code in the window again.")},
      {"call", Words::tr("%1 %2: %3")},
      {"scan_of", Words::tr("What is in the frame")},
      {"by_tags", Words::tr("The frame's tags say it")},
      {"hooping", Words::tr("Hooping %1 of %2")},
      {"no_plan", Words::tr("The hoopings are not planned yet.")},
      {"known", Words::tr("Hooping %1, %2: %3")},
      {"in_hand", Words::tr("In hand: hooping %1 of %2, %3. No scan yet.")},
      {"take", Words::tr("Take a scan")},
      {"stop", Words::tr("Stop")},
      {"uploading", Words::tr("Sending the photo …")},
      {"reading", Words::tr("Reading it …")},
      {"status_ready", Words::tr("Ready")},
      {"status_check", Words::tr("Check")},
      {"status_rehoop", Words::tr("Re-hoop")},
      {"unread", Words::tr("Not read")},
      {"not_measured", Words::tr("Not measured")},
      {"measure_again", Words::tr("What was measured counts no more: take a scan.")},
      {"link_lost", Words::tr("The link broke before an answer came. Take it once more.")},
      {"missing", Words::tr("Mark %1: %2")},
      {"legend", Words::tr("The sewing as it will land. Red: what each mark is off it, ten times "
                           "as large; a ring where one is missing.")},
      {"picture_alt", Words::tr("The cloth from above, with what each mark is off, ten times as "
                                "large")},
      {"scan_how", Words::tr("From above, all tags of the frame in the picture, no shadow of the "
                             "phone. The photo goes to this workroom's computer alone.")},
      {"no_machine", Words::tr("No machine yet: connect one in the window, at Sew.")},
      {"doing_idle", Words::tr("idle")},
      {"doing_sewing", Words::tr("sewing")},
      {"doing_waiting", Words::tr("waits for a hand")},
      {"doing_paused", Words::tr("paused")},
      {"doing_done", Words::tr("done")},
      {"doing_away", Words::tr("out of touch")},
      {"trouble_break", Words::tr("The thread broke.")},
      {"trouble_bobbin-missed", Words::tr("The bobbin thread did not catch.")},
      {"trouble_bobbin-empty", Words::tr("The bobbin is empty.")},
      {"trouble_fold", Words::tr("Cloth lies under the foot.")},
      {"trouble_power", Words::tr("It went away while it sewed.")},
      {"progress", Words::tr("Sewn on %1")},
      {"part", Words::tr("%1 % sewn")},
      {"left", Words::tr(", %1 min left")},
      {"needs_you", Words::tr("Needs you at %1: %2")},
      {"have_ready", Words::tr("Have ready: %1")},
      {"pause", Words::tr("Pause %1")},
      {"sound_on", Words::tr("Sound when a machine is in trouble")},
      {"sound_off", Words::tr("Sound is on: turn it off")},
      {"never_start",
       Words::tr("From here a machine can be paused and nothing else: whoever starts "
                 "one stands in front of it and sees needle and hands.")},
      {"sheet_of", Words::tr("Hooping sheet of")},
      {"sheet_alt", Words::tr("Hooping sheet of hooping %1, page %2 of %3")},
      {"own_certificate",
       Words::tr("The browser asks because this workroom signed its certificate "
                 "itself; its fingerprint stands beside the code in the window.")},
  };
}

}  // namespace

std::map<std::string, PageFile> phonePage(const std::filesystem::path& data) {
  return {{"/", {readFile(data / "phone" / "page.html"), "text/html; charset=utf-8"}},
          {"/page.css", {readFile(data / "phone" / "page.css"), "text/css; charset=utf-8"}},
          {"/page.js", {readFile(data / "phone" / "page.js"), "text/javascript; charset=utf-8"}},
          {"/icon.svg", {readFile(data / "icons" / "rapt-thimble.svg"), "image/svg+xml"}},
          {"/words.json",
           {QJsonDocument(pageWords()).toJson(QJsonDocument::Compact).toStdString(),
            "application/json"}}};
}

}  // namespace rt
