#include "core/tasks/keep.h"

#include <chrono>
#include <filesystem>

#include "core/store/scene_description.h"

namespace hseam::tasks {

base::Result<Made> makeProject(const std::string& path, const MakeOptions& options,
                               const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                               const base::Progress& progress) {
  namespace fs = std::filesystem;
  std::error_code problem;
  if (fs::exists(path, problem) && !options.replace) return base::Error{base::Code::conflict, path, "exists already"};
  HSEAM_TRY(const store::Described described, store::readDescription(options.description, memory, executor, progress));
  const std::string part = store::partBeside(path);
  store::removeProject(part);
  {
    HSEAM_TRY(const auto opened,
              store::ProjectFile::create(part, described.scene, "from " + fs::path(options.description).filename().string(),
                                         memory, executor));
    for (const std::string& file : described.sourceFiles) {
      HSEAM_TRY(const std::string key, opened.file->addSourceFile(file));
    }
    HSEAM_DO(opened.file->close());
  }
  HSEAM_DO(store::replaceProject(part, path));
  return Made{int(scene::allLayers(described.scene).size()), described.warnings};
}

base::Status keep(store::ProjectFile::Opened& project, const scene::Edit& edit) {
  HSEAM_TRY(scene::Scene next, scene::apply(project.history.scene(), edit));
  const auto now = std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch());
  scene::Step step{std::move(next), scene::describe(project.history.scene(), edit), now.count(), scene::editKind(edit)};
  HSEAM_DO(project.file->keep(step, step.kind, project.history.current()));
  project.history.push(std::move(step));
  return {};
}

}  // namespace hseam::tasks
