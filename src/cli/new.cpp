// hseam new PROJECT --scene S.json

#include <CLI/CLI.hpp>
#include <filesystem>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/store/project_file.h"
#include "core/store/scene_description.h"

namespace hseam::cli {
namespace {

struct NewOptions {
  std::string project, scene;
  bool force = false;
};

base::Result<Json> make(Run& run, const NewOptions& o) {
  namespace fs = std::filesystem;
  std::error_code problem;
  if (fs::exists(o.project, problem) && !o.force)
    return base::Error{base::Code::conflict, o.project, "exists already; --force replaces it"};
  HSEAM_TRY(const store::Described described, store::readDescription(o.scene, run.memory(), run.executor(), run.progress()));
  // Made beside the place and moved there whole, so that a failure leaves what was there.
  const std::string part = store::partBeside(o.project);
  store::removeProject(part);
  {
    HSEAM_TRY(const auto opened,
              store::ProjectFile::create(part, described.scene, "from " + fs::path(o.scene).filename().string(), run.memory(),
                                         run.executor()));
    for (const std::string& file : described.sourceFiles) {
      HSEAM_TRY(const std::string key, opened.file->addSourceFile(file));
    }
    HSEAM_DO(opened.file->close());
  }
  HSEAM_DO(store::replaceProject(part, o.project));
  Json j = {{"layers", scene::allLayers(described.scene).size()}};
  for (const std::string& w : described.warnings) j["warnings"].push_back(w);
  return j;
}

}  // namespace

void addNew(Commands& commands) {
  auto o = std::make_shared<NewOptions>();
  CLI::App* c = commands.add("new", "make a project from a scene description", [o](Run& run) { return make(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--scene", o->scene, "the description, JSON (docs/scene-json.md)")->required();
  c->add_flag("--force", o->force, "replace an existing project");
}

}  // namespace hseam::cli
