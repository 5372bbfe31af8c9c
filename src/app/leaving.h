#pragma once
// Leaving a project whose last steps could not be written.

class QWidget;

namespace hseam::app {

class Document;

/// Waits until everything is on the disk; where the disk refuses, asks: try again, keep a whole copy elsewhere, give the waiting
/// steps up, or stay. True: the project may be left.
bool mayLeave(QWidget* parent, Document& document);

}  // namespace hseam::app
