// usage: PROGRAM [CLASS] [QTest's own arguments]; without a class all run.

#include "test_main.h"

#ifdef QT_WIDGETS_LIB
#include <QApplication>
using Application = QApplication;
#else
#include <QCoreApplication>
using Application = QCoreApplication;
#endif

namespace hseam::test {

std::vector<TestClass>& registry() {
  static std::vector<TestClass> all;
  return all;
}

}  // namespace hseam::test

int main(int argc, char** argv) {
  Application application(argc, argv);
  Application::setOrganizationName(QStringLiteral("hidden-seam"));
  Application::setApplicationName(QStringLiteral("hidden-seam-tests"));
  QStringList arguments = Application::arguments();
  const auto& all = hseam::test::registry();
  const auto named = [&](const hseam::test::TestClass& t) { return arguments.value(1) == QLatin1String(t.name); };
  const bool one = std::any_of(all.begin(), all.end(), named);
  if (!one && arguments.size() > 1 && !arguments[1].startsWith(QLatin1Char('-'))) {
    qCritical("there is no test class %s", qPrintable(arguments[1]));
    return 2;
  }
  int failed = 0;
  for (const auto& test : all) {
    if (one && !named(test)) continue;
    QStringList own = arguments;
    if (one) own.removeAt(1);
    failed += QTest::qExec(test.make().get(), own) != 0;
  }
  return failed;
}
