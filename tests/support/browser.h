// A real browser without a display, driven by its own driver over WebDriver's JSON.
#pragma once

#include <QProcess>
#include <QTcpServer>
#include <QTcpSocket>

#include "comes.h"
#include "http_talk.h"

namespace rt::testing {

class Browser {
 public:
  static bool isThere() {
    return !QStandardPaths::findExecutable(QStringLiteral("chromedriver")).isEmpty();
  }
  /// As a phone of so many px.
  explicit Browser(bool dark, int width = 390, int height = 844) {
    driver_.start(QStringLiteral("chromedriver"), {QStringLiteral("--port=0")});
    static const QRegularExpression port(QStringLiteral("successfully on port (\\d+)"));
    QByteArray said;
    (void)testing::comes([&] {
      said += driver_.readAllStandardOutput();
      return port.match(QString::fromLatin1(said)).hasMatch();
    });
    port_ = port.match(QString::fromLatin1(said)).captured(1).toUShort();
    QJsonArray words{"--headless=new",          "--no-sandbox",
                     "--disable-gpu",           "--hide-scrollbars",
                     "--disable-dev-shm-usage", "--user-data-dir=" + folder_.path()};
    if (dark) words.append("--blink-settings=preferredColorScheme=0");
    const QJsonObject metrics{{"width", width}, {"height", height}, {"pixelRatio", 1.0}};
    const QJsonObject chrome{{"args", words},
                             {"mobileEmulation", QJsonObject{{"deviceMetrics", metrics}}}};
    const QJsonObject always{{"browserName", "chrome"}, {"goog:chromeOptions", chrome}};
    const QJsonValue session = call(
        "POST", "/session", QJsonObject{{"capabilities", QJsonObject{{"alwaysMatch", always}}}});
    session_ = "/session/" + session["sessionId"].toString().toLatin1();
  }
  ~Browser() {
    call("DELETE", session_);
    driver_.terminate();
    if (!driver_.waitForFinished(5000)) driver_.kill();
    driver_.waitForFinished(5000);
  }
  Browser(const Browser&) = delete;
  Browser& operator=(const Browser&) = delete;

  bool works() const { return session_.size() > 10; }
  void go(const QString& url) { call("POST", session_ + "/url", {{"url", url}}); }
  void click(const QString& css) { call("POST", element(css) + "/click", QJsonObject{{}}); }
  void type(const QString& css, const QString& text) {
    call("POST", element(css) + "/value", {{"text", text}});
  }
  /// As it is seen: empty for what is hidden.
  QString text(const QString& css) { return call("GET", element(css) + "/text").toString(); }
  QJsonValue script(const QString& source) {
    return call("POST", session_ + "/execute/sync", {{"script", source}, {"args", QJsonArray{}}});
  }
  QImage picture() {
    return QImage::fromData(
        QByteArray::fromBase64(call("GET", session_ + "/screenshot").toString().toLatin1()));
  }
  bool says(const QString& css, const QString& part) {
    return testing::comes([&] { return text(css).contains(part); });
  }

 private:
  QByteArray element(const QString& css) {
    const QJsonObject found =
        call("POST", session_ + "/element", {{"using", "css selector"}, {"value", css}}).toObject();
    const QString id = found.isEmpty() ? QString() : found.begin().value().toString();
    return session_ + "/element/" + id.toLatin1();
  }
  QJsonValue call(const QByteArray& method, const QByteArray& path, const QJsonObject& with = {}) {
    HttpTalk talk(port_);
    const QByteArray body = QJsonDocument(with).toJson(QJsonDocument::Compact);
    talk.ask(method, path, {}, method == "POST" ? "Content-Type: application/json\r\n" : "",
             method == "POST" ? body : QByteArray());
    return talk.answer().json()["value"];
  }

  QTemporaryDir folder_;
  QProcess driver_;
  quint16 port_ = 0;
  QByteArray session_;
};

}  // namespace rt::testing
