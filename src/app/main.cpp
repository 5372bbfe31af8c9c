// hidden-seam [--demo | --noon | --frames stage|room] [--shots DIR] [FILE...]

#include <QCommandLineParser>
#include <QSettings>
#include <QTemporaryDir>

#include "app/application.h"
#include "app/demo.h"
#include "app/document/machine_settings.h"
#include "app/first_steps.h"
#include "app/main_window.h"
#include "app/theme/theme.h"
#include "core/base/log.h"
#include "core/base/machine.h"

int main(int argc, char** argv) {
  hseam::app::Application application(argc, argv);
  QApplication::setOrganizationName(QStringLiteral("hidden-seam"));
  QApplication::setApplicationName(QStringLiteral("hidden-seam"));
  QApplication::setApplicationVersion(QStringLiteral("0.1.0"));
  QCommandLineParser parser;
  parser.setApplicationDescription(QStringLiteral("Compositing whose seams are measured"));
  parser.addHelpOption();
  parser.addVersionOption();
  const QCommandLineOption demo(QStringLiteral("demo"), QStringLiteral("open the demo scene, made anew if it is not there yet"));
  const QCommandLineOption noon(QStringLiteral("noon"),
                                QStringLiteral("open the second demo scene, at noon, made anew if it is not there yet"));
  const QCommandLineOption frames(
      QStringLiteral("frames"),
      QStringLiteral("open frames of one place: stage (a puppet in five places) or room (lit by five lamps)"),
      QStringLiteral("which"));
  const QCommandLineOption shots(QStringLiteral("shots"), QStringLiteral("draw every main view into this folder and end"),
                                 QStringLiteral("folder"));
  const QCommandLineOption lookOption(QStringLiteral("look"), QStringLiteral("dark or light, for this time"),
                                      QStringLiteral("look"));
  const QCommandLineOption size(QStringLiteral("size"), QStringLiteral("size of the window, as 1280x800"),
                                QStringLiteral("size"));
  const QCommandLineOption logLevel(
      QStringLiteral("log-level"),
      QStringLiteral("what goes to hidden-seam.log in the state folder: debug, info, warning, error "
                     "or off"),
      QStringLiteral("level"), QStringLiteral("info"));
  parser.addOptions({demo, noon, frames, shots, lookOption, size, logLevel});
  parser.addPositionalArgument(QStringLiteral("files"), QStringLiteral("a project, or pictures to begin with"),
                               QStringLiteral("[FILE...]"));
  parser.process(application);
  namespace base = hseam::base;
  const auto least = base::logLevelNamed(parser.value(logLevel).toStdString());
  if (!least) parser.showHelp(2);
  base::beginLog("hidden-seam", *least);
  base::log(base::LogLevel::info, "begins, version " + QApplication::applicationVersion().toStdString() +
                                      ", pixels in memory up to " +
                                      std::to_string(base::chosenFor(hseam::app::machineSettings()).pixelBytes >> 20) + " MB");
  using Look = hseam::app::theme::Look;
  const QString kept = parser.isSet(shots) ? QString() : QSettings().value(QStringLiteral("look")).toString();
  const QString asked = parser.isSet(lookOption) ? parser.value(lookOption) : kept;
  hseam::app::theme::apply(application, asked == QStringLiteral("light") ? Look::light : Look::dark);
  const QTemporaryDir aside;
  hseam::app::MainWindow window;
  const QStringList sides = parser.value(size).split(QLatin1Char('x'));
  if (sides.size() == 2) window.resize(sides[0].toInt(), sides[1].toInt());
  window.show();
  QObject::connect(&application, &hseam::app::Application::outOfMemory, &window, [&window] {
    emit window.desk().messages.refused(
        QObject::tr("There is not enough memory for this. Close other programs and do it again; "
                    "everything finished is kept."));
  });
  if (parser.isSet(demo) || parser.isSet(noon)) {
    // Drawing the views works on the scene, which is the first one: not on the one that somebody may be working on.
    const QString project = hseam::app::demoProject(
        parser.isSet(shots) ? aside.path() : hseam::app::demoFolder(),
        parser.isSet(noon) && !parser.isSet(shots) ? hseam::app::DemoScene::noon : hseam::app::DemoScene::poster);
    if (!project.isEmpty()) window.workspace().openProject(project);
    if (!parser.isSet(shots) && parser.isSet(demo) && hseam::app::FirstSteps::wanted()) window.firstSteps().begin();
  } else if (parser.isSet(frames)) {
    hseam::app::openDemoFrames(
        window, parser.value(frames) == QStringLiteral("room") ? hseam::app::DemoFrames::room : hseam::app::DemoFrames::stage);
  } else if (!parser.positionalArguments().isEmpty()) {
    window.workspace().openFiles(parser.positionalArguments());
  }
  const int ended = parser.isSet(shots) ? (hseam::app::drawShots(window, parser.value(shots)) ? 0 : 1) : QApplication::exec();
  base::log(base::LogLevel::info, "ends");
  base::endLog();
  return ended;
}
