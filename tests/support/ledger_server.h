// A database server of the tests' own: on loopback, in a temporary folder, never as root.
#pragma once

#include <unistd.h>

#include <QDir>
#include <QProcess>
#include <QTcpServer>
#include <QTemporaryDir>
#include <csignal>

#include "comes.h"

namespace rt::testing {

class LedgerServer {
 public:
  /// Starts it; false where this computer has no server to start.
  bool start() {
    const QStringList found =
        QDir(QStringLiteral("/usr/lib/postgresql")).entryList(QDir::Dirs | QDir::NoDotAndDotDot);
    if (found.isEmpty()) return false;
    bin_ = QStringLiteral("/usr/lib/postgresql/%1/bin/").arg(found.last());
    QFile::setPermissions(dir_.path(), QFile::Permissions(0x7777));
    QTcpServer free;
    if (!free.listen(QHostAddress::LocalHost)) return false;
    port_ = free.serverPort();
    free.close();
    QFile password(dir_.filePath("password"));
    if (!password.open(QIODevice::WriteOnly)) return false;
    password.write("thimble\n");
    password.close();
    password.setPermissions(QFile::Permissions(0x7777));
    return run({bin_ + "initdb", "-D", data(), "-U", "shop", "-A", "scram-sha-256", "--pwfile",
                dir_.filePath("password"), "--no-sync", "-E", "UTF8", "--locale=C"}) &&
           resume();
  }
  ~LedgerServer() { stop(); }
  bool resume() {
    running_ =
        run({bin_ + "pg_ctl", "-w", "-D", data(), "-l", dir_.filePath("log"), "-o",
             QStringLiteral("-p %1 -c listen_addresses=127.0.0.1 -c unix_socket_directories= "
                            "-c fsync=off")
                 .arg(port_),
             "start"});
    return running_;
  }
  void stop() {
    if (running_) run({bin_ + "pg_ctl", "-w", "-D", data(), "-m", "immediate", "stop"});
    running_ = false;
  }
  /// Runs a statement with the server's own program.
  bool sql(const QString& statement, const QString& database = "postgres") {
    qputenv("PGPASSWORD", "thimble");
    return run({bin_ + "psql", "-h", "127.0.0.1", "-p", QString::number(port_), "-U", "shop", "-d",
                database, "-v", "ON_ERROR_STOP=1", "-qc", statement});
  }
  /// All its processes stand still, or go on: its wires stay open and nothing comes over them.
  bool hold(bool still) {
    QFile file(dir_.filePath("data/postmaster.pid"));
    if (!file.open(QIODevice::ReadOnly)) return false;
    const int parent = file.readLine().trimmed().toInt(), signal = still ? SIGSTOP : SIGCONT;
    for (const QString& entry : QDir(QStringLiteral("/proc")).entryList(QDir::Dirs)) {
      QFile stat(QStringLiteral("/proc/%1/stat").arg(entry));
      // pid (name) state parent …
      if (entry.toInt() > 0 && stat.open(QIODevice::ReadOnly) &&
          stat.readAll().split(')').last().simplified().split(' ').value(1).toInt() == parent)
        kill(entry.toInt(), signal);
    }
    return kill(parent, signal) == 0;
  }
  /// A fresh database.
  std::string makeDatabase(const QString& name) {
    sql("CREATE DATABASE " + name);
    return url(name);
  }
  std::string url(const QString& name, const QString& user = "shop") const {
    return QStringLiteral("postgresql://%1@127.0.0.1:%2/%3")
        .arg(user)
        .arg(port_)
        .arg(name)
        .toStdString();
  }
  int port() const { return port_; }

 private:
  QString data() const { return dir_.filePath("data"); }
  bool run(QStringList words) {
    if (geteuid() == 0)  // the server refuses to run as root, and rightly so
      words =
          QStringList{"setpriv", "--reuid=postgres", "--regid=postgres", "--clear-groups"} + words;
    QProcess p;
    p.setWorkingDirectory(QStringLiteral("/"));
    p.setStandardOutputFile(QProcess::nullDevice());
    p.setStandardErrorFile(QProcess::nullDevice());
    const QString program = words.takeFirst();
    p.start(program, words);
    return p.waitForFinished(testing::kLongest_ms) && p.exitStatus() == QProcess::NormalExit &&
           p.exitCode() == 0;
  }
  QTemporaryDir dir_;
  QString bin_;
  int port_ = 0;
  bool running_ = false;
};

}  // namespace rt::testing
