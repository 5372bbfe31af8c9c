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

/// Goes through the main views of the open scene and writes a PNG of each; for docs and for looking without a display.
bool drawShots(MainWindow& window, const QString& folder);

}  // namespace hseam::app
