#pragma once

#include <QString>

namespace hseam::app {

class MainWindow;

/// Where the user's own demo scene lies.
QString demoFolder();

enum class DemoScene { poster, noon };
/// The demo scene's project in a folder, made by hseam from demo/poster.json or demo/noon.json if it is not there yet; empty if
/// that failed (the reason went to stderr).
QString demoProject(const QString& folder, DemoScene which = DemoScene::poster);

/// Frames of one place that come with the program: a puppet in five places, a room lit by five lamps.
enum class DemoFrames { stage, room };
/// An untitled scene of them; they are brought onto one another aside.
void openDemoFrames(MainWindow& window, DemoFrames which);

/// Goes through the main views of the open scene and writes a PNG of each; for docs and for looking without a display.
bool drawShots(MainWindow& window, const QString& folder);

}  // namespace hseam::app
