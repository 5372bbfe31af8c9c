#pragma once
// What the sub-commands of hseam share.

#include <chrono>
#include <functional>
#include <memory>
#include <nlohmann/json_fwd.hpp>
#include <string>

#include "core/base/executor.h"
#include "core/base/geometry.h"
#include "core/base/machine.h"
#include "core/base/progress.h"
#include "core/image/tiled_image.h"

namespace CLI {
class App;
}

namespace hseam::cli {

using Json = nlohmann::json;

/// The tools of one run. Made after the command line is read.
class Run {
 public:
  explicit Run(const base::MachineShare& share);
  /// As given on the command line; 0: none were.
  int threadsAsked() const { return threads_; }
  /// Set by a command whose work was done in part: exit code 1, with all that it has to tell.
  bool failedPart = false;
  base::Executor& executor() { return *executor_; }
  const std::shared_ptr<image::TileMemory>& memory() const { return memory_; }
  /// Shows percentages on stderr when that is a terminal.
  base::Progress progress() const;
  /// Computing time: what runs inside work(), without start, reading and writing.
  template <class F>
  auto work(const F& f) {
    const auto from = std::chrono::steady_clock::now();
    auto result = f();
    workSeconds_ += std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    return result;
  }
  double workSeconds() const { return workSeconds_; }

 private:
  std::unique_ptr<base::Executor> executor_;
  std::shared_ptr<image::TileMemory> memory_;
  double workSeconds_ = 0;
  int threads_;
};

/// A sub-command's work: returns what --json prints (work_s is added), or the error of exit code 1.
using Body = std::function<base::Result<Json>(Run&)>;

/// Where each sub-command registers itself: sets up its options on a new sub-command and says what to do.
class Commands {
 public:
  explicit Commands(CLI::App& app) : app_(app) {}
  CLI::App* add(const std::string& name, const std::string& description, Body body);
  const Body& chosen() const { return chosen_; }

 private:
  CLI::App& app_;
  Body chosen_;
};

void addMatte(Commands& commands);
void addCut(Commands& commands);
void addSelect(Commands& commands);
void addAlign(Commands& commands);
void addMontage(Commands& commands);
void addFill(Commands& commands);
void addNew(Commands& commands);
void addInfo(Commands& commands);
void addRender(Commands& commands);
void addExport(Commands& commands);
void addCheck(Commands& commands);
void addBelong(Commands& commands);
void addPlan(Commands& commands);
void addBatch(Commands& commands);

/// The same error, told of that file where it names none.
base::Error named(base::Error error, const std::string& file);

/// A grey picture of 8 bits that belongs to a picture of that size. what: "a trimap", "hints". Errors: conflict (another size),
/// unsupported (16 bits), what reading says.
base::Result<image::TiledImage> companion(Run& run, const std::string& path, base::Size size, const std::string& what);

/// An error unless a companion raster has the picture's size.
base::Status sameSize(base::Size picture, base::Size companion, const std::string& path);

}  // namespace hseam::cli
