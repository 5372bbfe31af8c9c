#include "core/tasks/belong.h"

namespace hseam::tasks {
namespace {

using base::Code;
using base::Error;
using base::Result;

Result<std::vector<scene::LayerId>> chosenLayers(const scene::Scene& scene, const std::string& name) {
  std::vector<scene::LayerId> chosen;
  for (const scene::LayerId id : findings::judgedLayers(scene)) {
    if (name.empty() || scene::findLayer(scene, id)->name == name) chosen.push_back(id);
  }
  if (!chosen.empty()) return chosen;
  return Error{Code::notFound, name,
               name.empty() ? "there is no layer that is judged" : "is the name of no layer that is judged"};
}

Result<std::vector<findings::KindId>> kindsNamed(const std::vector<std::string>& keys) {
  std::vector<findings::KindId> out;
  for (const std::string& key : keys) {
    const auto kind = findings::kindNamed(key);
    if (!kind) return Error{Code::invalid, key, "is no kind of finding (docs/findings-json.md has them)"};
    out.push_back(*kind);
  }
  return out;
}

}  // namespace

base::Status belong(const scene::Scene& scene, const BelongOptions& options, base::Executor& executor,
                    const base::Progress& progress, const std::function<base::Status(const LayerBelongs&)>& told) {
  findings::BelongOptions how;
  HSEAM_TRY(how.only, kindsNamed(options.only));
  how.sceneToSubject = options.sceneToSubject;
  how.strength = options.strength;
  HSEAM_TRY(const auto layers, chosenLayers(scene, options.layer));
  scene::Scene now = scene;
  for (std::size_t i = 0; i < layers.size(); ++i) {
    const double from = double(i) / double(layers.size()), to = double(i + 1) / double(layers.size());
    LayerBelongs one{layers[i], scene::findLayer(now, layers[i])->name, {}};
    HSEAM_TRY(one.done, findings::belong(now, layers[i], how, executor, progress.part(from, to)));
    HSEAM_DO(told(one));
    if (!one.done.edit.edits.empty()) {
      HSEAM_TRY(now, scene::apply(now, one.done.edit));
    }
  }
  return {};
}

}  // namespace hseam::tasks
