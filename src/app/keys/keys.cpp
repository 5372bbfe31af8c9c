#include "app/keys/keys.h"

#include <QSettings>
#include <QShortcut>
#include <QWidget>
#include <algorithm>

namespace hseam::app {
namespace {

QString settingOf(const QString& id) {
  return QStringLiteral("keys/") + id;
}

}  // namespace

Keys::Keys(QWidget* window) : QObject(window), window_(window) {}

void Keys::add(const QString& id, const QString& words, const QKeySequence& byDefault, const std::function<void()>& act,
               const std::vector<QKeySequence>& also) {
  const QVariant kept = QSettings().value(settingOf(id));
  const QKeySequence now = kept.isValid() ? QKeySequence(kept.toString(), QKeySequence::PortableText) : byDefault;
  auto* shortcut = new QShortcut(now, window_);
  connect(shortcut, &QShortcut::activated, this, [act] { act(); });
  for (const QKeySequence& more : also) {
    auto* other = new QShortcut(more, window_);
    connect(other, &QShortcut::activated, this, [act] { act(); });
  }
  actions_.push_back({id, words, byDefault, now, shortcut});
}

QString Keys::clash(const QKeySequence& keys, const QString& id) const {
  if (keys.isEmpty()) return {};
  for (const Action& a : actions_) {
    if (a.id == id || a.now.isEmpty()) continue;
    if (a.now.matches(keys) != QKeySequence::NoMatch || keys.matches(a.now) != QKeySequence::NoMatch) return a.words;
  }
  return {};
}

void Keys::set(const QString& id, const QKeySequence& keys) {
  for (Action& a : actions_) {
    if (a.id != id) continue;
    a.now = keys;
    a.shortcut->setKey(keys);
    if (keys == a.byDefault) {
      QSettings().remove(settingOf(id));
    } else {
      QSettings().setValue(settingOf(id), keys.toString(QKeySequence::PortableText));
    }
  }
}

void Keys::resetAll() {
  for (const Action& a : std::vector<Action>(actions_)) set(a.id, a.byDefault);
}

QString Keys::text(const QString& id) const {
  const auto found = std::find_if(actions_.begin(), actions_.end(), [&](const Action& a) { return a.id == id; });
  return found == actions_.end() ? QString() : found->now.toString(QKeySequence::NativeText);
}

}  // namespace hseam::app
