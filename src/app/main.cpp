// hidden-seam [--demo] [--shots DIR] [FILE...]

#include <QApplication>
#include <QCommandLineParser>
#include <QTemporaryDir>

#include "app/demo.h"
#include "app/main_window.h"
#include "app/theme/theme.h"

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("hidden-seam"));
  QApplication::setApplicationName(QStringLiteral("hidden-seam"));
  QApplication::setApplicationVersion(QStringLiteral("0.1.0"));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Compositing whose seams are measured"));
  parser.addHelpOption();
  parser.addVersionOption();
  const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("open the demo scene, made anew if it is not there yet"));
  const QCommandLineOption shots(QStringLiteral("shots"), QStringLiteral("draw every main view into this folder and end"),
                                 QStringLiteral("folder"));
  parser.addOptions({demo, shots});
  parser.addPositionalArgument(QStringLiteral("files"), QStringLiteral("a project, or pictures to begin with"),
                               QStringLiteral("[FILE...]"));
  parser.process(application);
  hseam::app::theme::apply(application);
  const QTemporaryDir aside;
  hseam::app::MainWindow window;
  window.show();
  if (parser.isSet(demo)) {
    // Drawing the views works on the scene: not on the one that somebody may be working on.
    const QString project = hseam::app::demoProject(parser.isSet(shots) ? aside.path() : hseam::app::demoFolder());
    if (!project.isEmpty()) window.desk().openProject(project);
  } else if (!parser.positionalArguments().isEmpty()) {
    window.desk().openFiles(parser.positionalArguments());
  }
  if (parser.isSet(shots)) return hseam::app::drawShots(window, parser.value(shots)) ? 0 : 1;
  return QApplication::exec();
}
