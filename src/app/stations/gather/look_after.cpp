#include "app/stations/gather/look_after.h"

#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/widgets/ask_file.h"
#include "app/widgets/builders.h"

namespace hseam::app {

LookAfter::LookAfter(Desk& desk, Workspace& workspace)
    : Page(desk, {"look-after", tr("Look after this project"), tr("Copies, an archive with all sources, a slimmed copy")}),
      workspace_(workspace),
      report_(quietLabel({})) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  const auto ask = [this](const QString& title, const QString& suffix, const QString& ending, const QString& filter) {
    return askWhereToWrite(this, title, desk_.session.title() + suffix + ending, {ending}, filter);
  };
  const QString hseam = QStringLiteral(".hseam"), projects = tr("Hidden Seam project (*.hseam)");
  column->addWidget(rowOf({
      button(tr("Save a copy…"), tr("A whole copy with every step; the work goes on in this one"),
             [=, this] {
               if (const QString path = ask(tr("Save a copy"), tr(" copy"), hseam, projects); !path.isEmpty())
                 workspace_.saveCopy(path);
             }),
      button(tr("Archive…"), tr("One zip with the project, every source file as it came, and a list of them"),
             [=, this] {
               const QString path =
                   ask(tr("Archive with all sources"), tr(" archive"), QStringLiteral(".zip"), tr("Archive (*.zip)"));
               if (!path.isEmpty()) workspace_.archive(path);
             }),
  }));
  report_->setAccessibleName(tr("What a slimmed copy drops"));
  column->addWidget(report_);
  column->addWidget(
      button(tr("Save a slimmed copy…"), tr("Only the scene as it is now; this project keeps everything"), [=, this] {
        if (const QString path = ask(tr("Save a slimmed copy"), tr(" slim"), hseam, projects); !path.isEmpty())
          workspace_.slim(path);
      }));
  connect(&workspace_, &Workspace::slimReported, report_, &QLabel::setText);
}

void LookAfter::refresh() {
  workspace_.askSlimReport();
}

}  // namespace hseam::app
