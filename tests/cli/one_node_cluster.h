#pragma once
// A Slurm cluster of this machine alone, for tests: its own key, ports and folder, ended with the object.

#include <QProcess>
#include <QTemporaryDir>
#include <memory>
#include <vector>

namespace hseam::test {

class OneNodeCluster {
 public:
  OneNodeCluster();
  ~OneNodeCluster();
  /// Empty: it runs. Else why not, in a sentence.
  const QString& problem() const { return problem_; }
  /// With what its commands find it.
  QProcessEnvironment environment() const;

 private:
  QString at(const QString& name) const { return dir_.filePath(name); }
  void configure();
  void start(const QString& program, const QStringList& arguments);
  bool idle() const;
  QTemporaryDir dir_;
  std::vector<std::unique_ptr<QProcess>> daemons_;
  QString problem_;
};

}  // namespace hseam::test
