#include "test_main.h"

#ifdef QT_WIDGETS_LIB
#include <QApplication>
using Application = QApplication;
#else
#include <QCoreApplication>
using Application = QCoreApplication;
#endif

namespace hseam::test {

std::vector<MakeTest>& registry() {
  static std::vector<MakeTest> all;
  return all;
}

}  // namespace hseam::test

int main(int argc, char** argv) {
  Application application(argc, argv);
  Application::setOrganizationName(QStringLiteral("hidden-seam"));
  Application::setApplicationName(QStringLiteral("hidden-seam-tests"));
  int failed = 0;
  for (const auto& make : hseam::test::registry()) failed += QTest::qExec(make().get(), argc, argv) != 0;
  return failed;
}
