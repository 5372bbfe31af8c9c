#pragma once

#include <QKeySequence>
#include <QObject>
#include <functional>
#include <vector>

class QShortcut;
class QWidget;

namespace hseam::app {

/// Every key of the window: what it does, what it is by default, and what the user made it. Kept in the settings.
class Keys : public QObject {
  Q_OBJECT

 public:
  struct Action {
    QString id;     // "undo"; never shown
    QString words;  // "take back the last step"
    QKeySequence byDefault, now;
    QShortcut* shortcut;
  };
  explicit Keys(QWidget* window);
  /// also: further keys that always do the same.
  void add(const QString& id, const QString& words, const QKeySequence& byDefault, const std::function<void()>& act,
           const std::vector<QKeySequence>& also = {});
  const std::vector<Action>& all() const { return actions_; }
  /// The words of the action that has these keys already (or keys that begin with them); empty if none but `id` itself.
  QString clash(const QKeySequence& keys, const QString& id) const;
  /// No keys: the action has none.
  void set(const QString& id, const QKeySequence& keys);
  void resetAll();
  /// "Ctrl+Z", for tooltips.
  QString text(const QString& id) const;

 private:
  QWidget* window_;
  std::vector<Action> actions_;
};

/// The list of all keys with a field to change each.
void showKeys(Keys& keys, QWidget* parent);

}  // namespace hseam::app
