// hseam new PROJECT --scene S.json

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/tasks/keep.h"

namespace hseam::cli {
namespace {

struct NewWords {
  std::string project;
  tasks::MakeOptions how;
};

base::Result<Json> make(Run& run, const NewWords& o) {
  auto made = tasks::makeProject(o.project, o.how, run.memory(), run.executor(), run.progress());
  if (!made.ok()) {
    base::Error e = made.error();
    if (e.code == base::Code::conflict && e.where == o.project) e.detail += "; --force replaces it";
    return e;
  }
  Json j = {{"layers", made->layers}};
  for (const std::string& w : made->warnings) j["warnings"].push_back(w);
  return j;
}

}  // namespace

void addNew(Commands& commands) {
  auto o = std::make_shared<NewWords>();
  CLI::App* c = commands.add("new", "make a project from a scene description", [o](Run& run) { return make(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--scene", o->how.description, "the description, JSON (docs/scene-json.md)")->required();
  c->add_flag("--force", o->how.replace, "replace an existing project");
}

}  // namespace hseam::cli
