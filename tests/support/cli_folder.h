// The command line run in a folder of its own, for tests.
#pragma once

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include "comes.h"

namespace rt::testing {

/// For classes of tests to inherit beside QObject; RT_CLI is the program.
class CliFolder {
 protected:
  struct Answer {
    int code = -1;  ///< -2: it did not end by itself.
    QJsonObject json;
    QByteArray out, error;
  };
  Answer run(const QStringList& words) {
    QProcess p;
    p.setWorkingDirectory(dir_.path());
    p.start(RT_CLI, words);
    p.waitForFinished(testing::kLongest_ms);
    Answer a;
    a.code = p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -2;
    a.out = p.readAllStandardOutput();
    a.error = p.readAllStandardError();
    a.json = QJsonDocument::fromJson(a.out).object();
    return a;
  }
  void write(const QString& name, const QByteArray& text) {
    QFile f(dir_.filePath(name));
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(text);
  }
  QByteArray read(const QString& name) {
    QFile f(dir_.filePath(name));
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }
  /// One error line that says so, nothing on standard output.
  void refused(const QStringList& words, int code, const char* says) {
    const Answer a = run(words);
    QVERIFY2(a.code == code, (QByteArray::number(a.code) + " " + a.error).constData());
    QVERIFY(a.out.isEmpty());
    QVERIFY2(a.error.startsWith("error: ") && a.error.count('\n') == 1, a.error.constData());
    QVERIFY2(a.error.contains(says), a.error.constData());
  }

  QTemporaryDir dir_;
};

}  // namespace rt::testing
