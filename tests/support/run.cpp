#include "run.h"

#include <QtTest>
#include <map>
#include <memory>

#ifdef RT_TEST_WINDOW
#include "application.h"
#include "look.h"
#include "making.h"
#endif

namespace rt::testing {
namespace {

std::map<QByteArray, MakeTest>& classes() {
  static std::map<QByteArray, MakeTest> all;
  return all;
}

using RunChild = int (*)(const QStringList&);
std::map<QByteArray, RunChild>& children() {
  static std::map<QByteArray, RunChild> all;
  return all;
}

int runAll(const QByteArray& only, QStringList arguments) {
  int failed = 0, ran = 0;
  for (const auto& [name, make] : classes()) {
    if (!only.isEmpty() && name != only) continue;
    const std::unique_ptr<QObject> test(make());
    failed += QTest::qExec(test.get(), arguments);
    ++ran;
  }
  if (ran > 0) return failed;
  std::fprintf(stderr, "no test class %s in this program\n", only.constData());
  return 1;
}

}  // namespace

TestClass::TestClass(const char* name, MakeTest make) {
  classes()[name] = make;
}

ChildMode::ChildMode(const char* word, int (*run)(const QStringList&)) {
  children()[word] = run;
}

}  // namespace rt::testing

int main(int argc, char** argv) {
#ifdef RT_TEST_WINDOW
  rt::Application app(argc, argv);
  rt::look::apply(app, QString::fromStdString(rt::openBench().data.string()));
#else
  QCoreApplication app(argc, argv);
#endif
  QStringList arguments = QCoreApplication::arguments();
  QByteArray first = arguments.value(1).toUtf8();
  const auto child = rt::testing::children().find(first);
  if (child != rt::testing::children().end()) return child->second(arguments.mid(2));
  if (first.startsWith('-')) first.clear();
  if (!first.isEmpty()) arguments.removeAt(1);
  return rt::testing::runAll(first, arguments);
}
