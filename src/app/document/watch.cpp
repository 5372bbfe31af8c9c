#include "app/document/watch.h"

namespace hseam::app {
namespace {

constexpr int kKeenMs = 250, kAtRestMs = 20'000;

}  // namespace

Watch::Watch(Session& session, Lane& background, QObject* parent) : QObject(parent), session_(session), background_(background) {
  waiting_.setSingleShot(true);
  connect(&waiting_, &QTimer::timeout, this, &Watch::read);
  connect(&session_, &Session::historyChanged, this, &Watch::sceneChanged);
  connect(&session_, &Session::replaced, this, [this] {
    report_.reset();
    background_.stopAll();
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
  background_.start<Outcome>(
      QStringLiteral("report"),
      [s = session_.scene(), before = report_](base::Executor&, const base::Progress& progress) -> base::Result<Outcome> {
        base::InlineExecutor here;  // the pool is for what somebody waits for
        auto report = findings::reportOn(s, here, progress, before ? &*before : nullptr);
        if (report.ok()) return Outcome{std::move(report).value(), {}};
        if (report.error().code == base::Code::cancelled) return report.error();
        return Outcome{std::nullopt, QString::fromStdString(report.error().text())};
      },
      [this](const Outcome& o) {
        if (o.report) report_ = o.report;
        failure_ = o.failure;
        current_ = !waiting_.isActive();
        emit changed();
      });
}

}  // namespace hseam::app
