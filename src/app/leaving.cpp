#include "app/leaving.h"

#include <QEventLoop>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>

#include "app/document/document.h"
#include "app/widgets/ask_file.h"

namespace hseam::app {
namespace {

// The copy is written on the keeper's thread; the window waits here and nothing else is done meanwhile.
base::Status copied(Document& document, const QString& path) {
  QEventLoop loop;
  base::Status outcome;
  document.copy(path, [&](const base::Status& done) {
    outcome = done;
    loop.quit();
  });
  loop.exec(QEventLoop::ExcludeUserInputEvents);
  return outcome;
}

}  // namespace

bool mayLeave(QWidget* parent, Document& document) {
  QString problem;
  while (!document.flush()) {
    const Keeper::Waiting waiting = document.waiting();
    QMessageBox box(parent);
    box.setIcon(QMessageBox::Warning);
    box.setWindowTitle(QObject::tr("Not everything is kept"));
    box.setText(waiting.steps == 1 ? QObject::tr("One step is not on the disk yet.")
                                   : QObject::tr("%1 steps are not on the disk yet.").arg(waiting.steps));
    box.setInformativeText(problem.isEmpty() ? waiting.why : problem);
    const QPushButton* again = box.addButton(QObject::tr("Try again"), QMessageBox::AcceptRole);
    const QPushButton* elsewhere = box.addButton(QObject::tr("Keep a copy elsewhere…"), QMessageBox::ActionRole);
    const QPushButton* giveUp = box.addButton(
        waiting.steps == 1 ? QObject::tr("Give this step up") : QObject::tr("Give these %1 steps up").arg(waiting.steps),
        QMessageBox::DestructiveRole);
    QPushButton* stay = box.addButton(QObject::tr("Go on working"), QMessageBox::RejectRole);
    box.setDefaultButton(stay);
    box.setEscapeButton(stay);
    box.exec();
    if (box.clickedButton() == again) continue;
    if (box.clickedButton() == giveUp) {
      document.giveUp();
      return true;
    }
    if (box.clickedButton() != elsewhere) return false;
    const QString ending = QStringLiteral(".hseam");
    const QString path =
        askWhereToWrite(parent, QObject::tr("Keep a copy"), QFileInfo(document.path()).completeBaseName() + ending, {ending},
                        QObject::tr("Hidden Seam project (*.hseam)"));
    if (path.isEmpty()) continue;
    const base::Status done = copied(document, path);
    if (done.ok()) {
      document.giveUp();  // they are in the copy
      return true;
    }
    problem = QString::fromStdString(done.error().text());
  }
  return true;
}

}  // namespace hseam::app
