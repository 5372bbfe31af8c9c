// hseam info PROJECT

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/store/project_file.h"

namespace hseam::cli {
namespace {

Json layerJson(const scene::Scene& s, const scene::LayerRef& l) {
  Json j = {{"name", l->name},     {"opacity", l->opacity}, {"blend", scene::blendModeName(l->mode)},
            {"hidden", l->hidden}, {"clip", l->clip},       {"has_mask", !l->mask.coverage.isNull()}};
  if (const auto* p = l->picture()) {
    j["image"] = p->sourceName;
    j["width"] = p->source.size().width;
    j["height"] = p->source.size().height;
    j["position"] = {p->placement.x, p->placement.y};
    j["scale"] = p->placement.scale;
    j["rotation_deg"] = p->placement.rotationDeg;
  } else if (const auto* a = l->adjustment()) {
    j["adjust"] = scene::adjustmentName(a->adjustment);
  } else if (const auto* light = l->light()) {
    j["light"] = scene::lightName(light->kind);
  } else if (const auto* f = l->fill()) {
    j["fill"] = scene::fillName(f->fill);
  } else {
    j["group"] = Json::array();
    for (const scene::LayerRef& child : l->group()->layers) j["group"].push_back(layerJson(s, child));
  }
  return j;
}

base::Result<Json> tell(Run& run, const std::string& path) {
  HSEAM_TRY(const auto opened, store::ProjectFile::openToRead(path, run.memory(), run.executor()));
  const scene::Scene& s = opened.history.scene();
  Json j = {{"width", s.canvas.width},
            {"height", s.canvas.height},
            {"mixing", s.mixing == scene::Mixing::linear ? "linear" : "encoded"},
            {"steps", opened.history.count()},
            {"current_step", opened.history.current()},
            {"layers", Json::array()}};
  std::string text = std::to_string(s.canvas.width) + " × " + std::to_string(s.canvas.height) + " px, step " +
                     std::to_string(opened.history.current()) + " of " + std::to_string(opened.history.count() - 1) +
                     "; back to front:\n";
  for (const scene::LayerRef& l : s.layers) {
    j["layers"].push_back(layerJson(s, l));
    text += "  " + l->name + "\n";
  }
  j["text"] = text;
  return j;
}

}  // namespace

void addInfo(Commands& commands) {
  auto path = std::make_shared<std::string>();
  commands.add("info", "tell what is in a project", [path](Run& run) { return tell(run, *path); })
      ->add_option("project", *path, "NAME.hseam")
      ->required();
}

}  // namespace hseam::cli
