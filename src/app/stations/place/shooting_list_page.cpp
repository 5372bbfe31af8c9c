#include "app/stations/place/shooting_list_page.h"

#include <QLabel>
#include <QPdfWriter>
#include <QPushButton>
#include <QSaveFile>
#include <QTextDocument>
#include <QVBoxLayout>

#include "app/widgets/ask_file.h"
#include "app/widgets/builders.h"

namespace hseam::app {

ShootingListPage::ShootingListPage(Desk& desk)
    : Page(desk, {"shooting-list", tr("Shooting list"),
                  tr("How each part of this scene has to be photographed: camera height, tilt, lens, distance, light")}) {
  auto* c = column();
  c->addWidget(quietLabel(tr("Plan the scene with any pictures as stand-ins; the list follows from where they stand.")));
  shown_ = new QLabel;
  shown_->setWordWrap(true);
  shown_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
  shown_->setAccessibleName(tr("The shooting list"));
  shown_->setToolTip(tr("Can be selected and copied"));
  c->addWidget(shown_);
  save_ = button(tr("Save the list…"), tr("A page to be printed: PDF, HTML or plain text, by its ending"), [this] { save(); });
  c->addWidget(save_);
}

void ShootingListPage::refresh() {
  auto list = tasks::shootingList(desk_.session.scene());
  save_->setEnabled(list.ok());
  if (!list.ok()) {
    shown_->setText(QString::fromStdString(list.error().text()));
    return;
  }
  list_ = std::move(list).value();
  QString text = QString::fromStdString(tasks::shootingListText(list_)).trimmed();
  shown_->setText(text.replace(QLatin1Char('\n'), QStringLiteral("\n\n")));
}

void ShootingListPage::save() {
  const QString path = askWhereToWrite(this, tr("Save the shooting list"), desk_.session.title() + tr(" shots.pdf"),
                                       {QStringLiteral(".pdf"), QStringLiteral(".html"), QStringLiteral(".txt")},
                                       tr("Shooting list (*.pdf *.html *.txt)"));
  if (!path.isEmpty()) write(path);
}

void ShootingListPage::write(const QString& path) {
  const std::string title = tr("Shots for %1").arg(desk_.session.title()).toStdString();
  QSaveFile file(path);
  bool written = file.open(QIODevice::WriteOnly);
  if (written && path.endsWith(QStringLiteral(".txt"), Qt::CaseInsensitive)) {
    file.write(QByteArray::fromStdString(tasks::shootingListText(list_)));
  } else if (written) {
    const QByteArray html = QByteArray::fromStdString(tasks::shootingListHtml(list_, title));
    if (path.endsWith(QStringLiteral(".html"), Qt::CaseInsensitive)) {
      file.write(html);
    } else {
      QTextDocument page;
      page.setHtml(QString::fromUtf8(html));
      QPdfWriter writer(&file);
      writer.setPageOrientation(QPageLayout::Landscape);
      page.print(&writer);
    }
  }
  written = written && file.commit();
  if (written) {
    emit desk_.messages.said(tr("The list is in %1").arg(path));
  } else {
    emit desk_.messages.refused(tr("%1 cannot be written: %2").arg(path, file.errorString()));
  }
}

}  // namespace hseam::app
