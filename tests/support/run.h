// Tests of a room share one program; each class runs alone by its name: `tests_core TestLength`.
#pragma once

#include <QObject>
#include <functional>

namespace rt::testing {

using MakeTest = QObject* (*)();
/// A class of tests, by name. For RT_TEST alone.
struct TestClass {
  TestClass(const char* name, MakeTest make);
};
/// What a test's child process does when it is started with a word instead of a class's name; its
/// other arguments are handed on. For RT_CHILD alone.
struct ChildMode {
  ChildMode(const char* word, int (*run)(const QStringList& arguments));
};

}  // namespace rt::testing

#define RT_TEST(Class)                                            \
  static const ::rt::testing::TestClass registered##Class(#Class, \
                                                          []() -> QObject* { return new Class; });
#define RT_CHILD(word, run) static const ::rt::testing::ChildMode registeredChild(word, run);
