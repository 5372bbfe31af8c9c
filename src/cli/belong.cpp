// hseam belong PROJECT [--layer NAME] [--only KINDS] [--scene-to-subject] [--strength S]

#include <CLI/CLI.hpp>
#include <chrono>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/findings/belong.h"
#include "core/store/project_file.h"

namespace hseam::cli {
namespace {

struct BelongWords {
  std::string project, layer;
  std::vector<std::string> only;
  bool sceneToSubject = false;
  double strength = 1;
};

base::Result<std::vector<scene::LayerId>> chosenLayers(const scene::Scene& scene, const BelongWords& o) {
  std::vector<scene::LayerId> chosen;
  for (const scene::LayerId id : findings::judgedLayers(scene)) {
    if (o.layer.empty() || scene::findLayer(scene, id)->name == o.layer) chosen.push_back(id);
  }
  if (chosen.empty())
    return base::Error{base::Code::notFound, o.project,
                       o.layer.empty() ? "has no layer that is judged" : "has no judged layer of the name " + o.layer};
  return chosen;
}

base::Status knownKinds(const std::vector<std::string>& only) {
  for (const std::string& kind : only) {
    const auto& all = findings::kinds();
    if (std::none_of(all.begin(), all.end(), [&](const findings::Kind& k) { return kind == k.key; }))
      return base::Error{base::Code::invalid, kind, "is no kind of finding (docs/findings-json.md has them)"};
  }
  return {};
}

// Into the project's file and history.
base::Status keep(store::ProjectFile::Opened& opened, const scene::Edit& edit) {
  HSEAM_TRY(scene::Scene next, scene::apply(opened.history.scene(), edit));
  const auto now = std::chrono::duration_cast<std::chrono::milliseconds>(std::chrono::system_clock::now().time_since_epoch());
  scene::Step step{std::move(next), scene::describe(opened.history.scene(), edit), now.count(), scene::editKind(edit)};
  HSEAM_DO(opened.file->keep(step, step.kind, opened.history.current()));
  opened.history.push(std::move(step));
  return {};
}

Json jsonOf(const findings::Belonging& done, const std::string& layer) {
  Json told = {{"layer", layer}, {"steps", Json::array()}, {"tightness_before", done.before}, {"tightness_after", done.after}};
  for (const auto& s : done.steps) {
    Json line = {{"kind", s.kind}, {"remedy", s.label}, {"before", s.before}, {"done", s.done}};
    s.done ? line["after"] = s.after : line["why"] = s.why;
    told["steps"].push_back(std::move(line));
  }
  return told;
}

std::string textOf(const findings::Belonging& done, const std::string& layer) {
  std::string text;
  char numbers[64];
  for (const auto& s : done.steps) {
    std::snprintf(numbers, sizeof numbers, s.done ? "%.2f -> %.2f" : "%.2f", s.before, s.after);
    text += layer + ": " + s.label + " (" + findings::kindOf(s.kind).name + " " + numbers + ")" +
            (s.done ? "" : ", left alone: " + s.why) + "\n";
  }
  if (done.edit.edits.empty()) return text + layer + ": there is nothing that this could mend\n";
  std::snprintf(numbers, sizeof numbers, "%.0f -> %.0f of 100", done.before, done.after);
  return text + layer + ": tightness " + numbers + "\n";
}

base::Result<Json> mend(Run& run, const BelongWords& o) {
  HSEAM_DO(knownKinds(o.only));
  HSEAM_TRY(auto opened, store::ProjectFile::open(o.project, run.memory(), run.executor()));
  HSEAM_TRY(const auto layers, chosenLayers(opened.history.scene(), o));
  Json j = {{"layers", Json::array()}};
  std::string text;
  for (const scene::LayerId id : layers) {
    const std::string name = scene::findLayer(opened.history.scene(), id)->name;
    HSEAM_TRY(const auto done, run.work([&] {
      return findings::belong(opened.history.scene(), id, {{}, o.only, o.sceneToSubject, o.strength}, run.executor(),
                              run.progress());
    }));
    if (!done.edit.edits.empty()) HSEAM_DO(keep(opened, done.edit));
    j["layers"].push_back(jsonOf(done, name));
    text += textOf(done, name);
  }
  HSEAM_DO(opened.file->close());
  j["text"] = text;
  return j;
}

}  // namespace

void addBelong(Commands& commands) {
  auto o = std::make_shared<BelongWords>();
  CLI::App* c = commands.add("belong", "mend what gives a project's cut-outs away, one undoable step a layer",
                             [o](Run& run) { return mend(run, *o); });
  c->add_option("project", o->project, "NAME.hseam")->required();
  c->add_option("--layer", o->layer, "the layer's name; without it, every cut-out");
  c->add_option("--only", o->only, "kinds of findings, with commas between")->delimiter(',');
  c->add_flag("--scene-to-subject", o->sceneToSubject,
              "tones, colours, grain and sharpness: change what lies behind the layer instead of the layer");
  c->add_option("--strength", o->strength, "how strongly the steps that are layers of their own show, 0 to 1 (1)")
      ->check(CLI::Range(0.0, 1.0));
}

}  // namespace hseam::cli
