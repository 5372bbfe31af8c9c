#include "app/stations/hand_over/permission_question.h"

#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>

#include "app/widgets/builders.h"
#include "core/base/log.h"

namespace hseam::app {
namespace {

bool same(const std::vector<scene::UnclearPermission>& a, const std::vector<scene::UnclearPermission>& b) {
  return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& x, const auto& y) {
    return x.layer == y.layer && x.why == y.why && x.until == y.until && x.name == y.name;
  });
}

}  // namespace

PermissionQuestion::PermissionQuestion(QWidget* parent) : QWidget(parent), list_(new QLabel), word_(new QLineEdit) {
  auto* c = new QVBoxLayout(this);
  c->setContentsMargins(0, 0, 0, 0);
  c->setSpacing(6);
  list_->setWordWrap(true);
  list_->setAccessibleName(tr("What stands against handing over"));
  list_->setToolTip(tr("Permissions are noted in Gather, under Permission, or found wanting here"));
  c->addWidget(list_);
  word_->setAccessibleName(tr("Type permitted to hand it over all the same"));
  word_->setToolTip(tr("Note the permissions in Gather, or type the word \"permitted\": you answer for it, and it is logged"));
  word_->setPlaceholderText(tr("type: permitted"));
  connect(word_, &QLineEdit::textChanged, this, &PermissionQuestion::changed);
  c->addWidget(word_);
  hide();
}

void PermissionQuestion::ask(const scene::Scene& scene) {
  auto now = scene::unclearPermissions(scene, scene::today());
  if (same(now, unclear_)) return;
  unclear_ = std::move(now);
  word_->clear();
  list_->setText(tr("Before it is handed over:") + QLatin1Char('\n') + QString::fromStdString(scene::sentences(unclear_, "\n")));
  setVisible(!unclear_.empty());
}

bool PermissionQuestion::answered() const {
  return unclear_.empty() || word_->text().trimmed().compare(tr("permitted"), Qt::CaseInsensitive) == 0;
}

void PermissionQuestion::handedOver(const QString& file) {
  if (unclear_.empty()) return;
  base::log(base::LogLevel::warning, QStringLiteral("handed over as %1, confirmed by typing: %2")
                                         .arg(file, QString::fromStdString(scene::sentences(unclear_, "; ")))
                                         .toStdString());
}

void PermissionQuestion::askAgain() {
  word_->clear();
}

}  // namespace hseam::app
