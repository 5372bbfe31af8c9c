// hseam: the same core without a window. One file a sub-command; the rules for all of them are here.

#include <unistd.h>
#include <CLI/CLI.hpp>
#include <cstdio>
#include <iostream>
#include <nlohmann/json.hpp>

#include "cli/command.h"

#include "core/base/json_text.h"
#include "core/base/log.h"
#include "core/base/machine.h"
#include "core/image/picture_file.h"

namespace hseam::cli {

Run::Run(const base::MachineShare& share)
    : executor_(base::makePool(share.threads)),
      memory_(image::TileMemory::create(base::chosenFor(share).pixelBytes)),
      threads_(share.threads) {}

base::Progress Run::progress() const {
  if (!isatty(STDERR_FILENO)) return {};
  return base::Progress(
      {}, [](double share) { std::fprintf(stderr, "\r%3d %%%s", int(share * 100), share >= 1 ? "\r     \r" : ""); });
}

CLI::App* Commands::add(const std::string& name, const std::string& description, Body body) {
  CLI::App* sub = app_.add_subcommand(name, description);
  sub->callback([this, body = std::move(body)] { chosen_ = body; });
  return sub;
}

base::Error named(base::Error error, const std::string& file) {
  if (error.where.empty()) error.where = file;
  return error;
}

base::Result<image::TiledImage> companion(Run& run, const std::string& path, base::Size size, const std::string& what) {
  HSEAM_TRY(image::TiledImage read, image::readCoverage(path, run.memory(), run.executor()));
  HSEAM_DO(sameSize(size, read.size(), path));
  if (image::isWide(read.format())) return base::Error{base::Code::unsupported, path, what + " must have 8 bit"};
  return read;
}

base::Status sameSize(base::Size picture, base::Size companion, const std::string& path) {
  if (picture == companion) return {};
  const auto text = [](base::Size s) { return std::to_string(s.width) + " × " + std::to_string(s.height); };
  return base::Error{base::Code::conflict, path,
                     "is " + text(companion) + " px, but must have the picture's size, " + text(picture) + " px"};
}

}  // namespace hseam::cli

int main(int argc, char** argv) {
  using namespace hseam;
  CLI::App app{"hseam: cutting out, compositing and handing over without a window", "hseam"};
  app.require_subcommand(1);
  app.fallthrough();
  bool json = false;
  base::MachineShare share;
  std::size_t memoryMb = 0;
  app.add_flag("--json", json, "print one JSON object on stdout");
  app.add_option("--threads", share.threads, "worker threads; 0 = one for every core")->check(CLI::Range(0, 256));
  app.add_option("--memory-mb", memoryMb, "MB of pixels in memory before those on the disk are let go; 0 = a third of the memory")
      ->check(CLI::Range(0, 1 << 20));
  std::string logLevel = "off";
  app.add_option("--log-level", logLevel, "what goes to hseam.log in the state folder: debug, info, warning, error or off (off)")
      ->check(CLI::IsMember({"debug", "info", "warning", "error", "off"}));
  cli::Commands commands(app);
  cli::addMatte(commands);
  cli::addCut(commands);
  cli::addSelect(commands);
  cli::addAlign(commands);
  cli::addMontage(commands);
  cli::addFill(commands);
  cli::addNew(commands);
  cli::addInfo(commands);
  cli::addRender(commands);
  cli::addExport(commands);
  cli::addCheck(commands);
  cli::addBelong(commands);
  cli::addPlan(commands);
  cli::addBatch(commands);
  try {
    app.parse(argc, argv);
  } catch (const CLI::ParseError& e) {
    return app.exit(e) == 0 ? 0 : 2;
  }
  base::beginLog("hseam", base::logLevelNamed(logLevel).value_or(base::LogLevel::off));
  std::string words;
  for (int i = 1; i < argc; ++i) words += std::string(i > 1 ? " " : "") + argv[i];
  base::log(base::LogLevel::info, words);
  share.pixelBytes = memoryMb << 20;
  cli::Run run(share);
  auto done = commands.chosen()(run);
  if (!done.ok()) {
    base::log(base::LogLevel::error, done.error().text());
    base::endLog();
    std::cerr << "hseam: " << done.error().text() << "\n";
    return 1;
  }
  base::log(base::LogLevel::info, "done, worked for " + std::to_string(run.workSeconds()) + " s");
  base::endLog();
  if (json) {
    cli::Json out = std::move(done).value();
    out["work_s"] = run.workSeconds();
    std::cout << base::jsonText(out) << "\n";
  } else if (done->contains("text")) {
    std::cout << (*done)["text"].get<std::string>();
  }
  return run.failedPart ? 1 : 0;
}
