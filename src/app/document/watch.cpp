#include "app/document/watch.h"

namespace hseam::app {
namespace {

constexpr int kKeenMs = 250, kAtRestMs = 20'000;

}  // namespace

Watch::Watch(Desk& desk, QObject* parent) : QObject(parent), desk_(desk) {
  waiting_.setSingleShot(true);
  connect(&waiting_, &QTimer::timeout, this, &Watch::read);
  connect(&desk_, &Desk::historyChanged, this, &Watch::sceneChanged);
  connect(&desk_, &Desk::documentChanged, this, [this] {
    report_.reset();
    worker_.forget({});
    sceneChanged();
    emit changed();
  });
}

void Watch::setKeen(bool keen) {
  if (keen == keen_) return;
  keen_ = keen;
  if (!current_) sceneChanged();
}

void Watch::sceneChanged() {
  current_ = false;
  waiting_.start(keen_ ? kKeenMs : kAtRestMs);
}

void Watch::read() {
  struct Outcome {
    std::optional<findings::Report> report;
    QString failure;
  };
  worker_.ask<Outcome>(
      QStringLiteral("report"),
      [s = desk_.scene(), before = report_]() -> Outcome {
        base::InlineExecutor here;
        auto report = findings::reportOn(s, here, {}, before ? &*before : nullptr);
        if (!report.ok()) return {std::nullopt, QString::fromStdString(report.error().text())};
        return {std::move(report).value(), {}};
      },
      [this](const Outcome& o) {
        if (o.report) report_ = o.report;
        failure_ = o.failure;
        current_ = !waiting_.isActive();
        emit changed();
      });
}

}  // namespace hseam::app
