// hseam belong PROJECT [--layer NAME] [--only KINDS] [--scene-to-subject] [--strength S]

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/tasks/belong.h"
#include "core/tasks/keep.h"

namespace hseam::cli {
namespace {

using findings::Figure;
using findings::textOf;

struct BelongWords {
  std::string project;
  tasks::BelongOptions how;
};

Json jsonOf(const tasks::LayerBelongs& layer) {
  const findings::Belonging& done = layer.done;
  Json told = {
      {"layer", layer.name}, {"steps", Json::array()}, {"tightness_before", done.before}, {"tightness_after", done.after}};
  for (const auto& s : done.steps) {
    Json line = {{"kind", findings::keyOf(s.kind)}, {"remedy", s.label.text()}, {"before", s.before}, {"done", s.done}};
    s.done ? line["after"] = s.after : line["why"] = s.why.text();
    told["steps"].push_back(std::move(line));
  }
  return told;
}

std::string linesOf(const tasks::LayerBelongs& layer) {
  std::string text;
  for (const auto& s : layer.done.steps) {
    text += layer.name + ": " + s.label.text() + " (" + findings::kindOf(s.kind).name + " " + textOf(Figure{s.before, 2}) +
            (s.done ? " -> " + textOf(Figure{s.after, 2}) + ")" : "), left alone: " + s.why.text()) + "\n";
  }
  if (layer.done.edit.edits.empty()) return text + layer.name + ": there is nothing that this could mend\n";
  return text + layer.name + ": tightness " + textOf(Figure{layer.done.before, 0}) + " -> " +
         textOf(Figure{layer.done.after, 0}) + " of 100\n";
}

base::Result<Json> mend(Run& run, const BelongWords& o) {
  HSEAM_TRY(auto opened, store::ProjectFile::open(o.project, run.memory(), run.executor()));
  Json j = {{"layers", Json::array()}};
  std::string text;
  const auto done = run.work([&] {
    return tasks::belong(opened.history.scene(), o.how, run.executor(), run.progress(),
                         [&](const tasks::LayerBelongs& layer) -> base::Status {
                           if (!layer.done.edit.edits.empty()) HSEAM_DO(tasks::keep(opened, layer.done.edit));
                           j["layers"].push_back(jsonOf(layer));
                           text += linesOf(layer);
                           return {};
                         });
  });
  if (!done.ok()) return named(done.error(), o.project);
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
  c->add_option("--layer", o->how.layer, "the layer's name; without it, every cut-out");
  c->add_option("--only", o->how.only, "kinds of findings, with commas between")->delimiter(',');
  c->add_flag("--scene-to-subject", o->how.sceneToSubject,
              "tones, colours, grain and sharpness: change what lies behind the layer instead of the layer");
  c->add_option("--strength", o->how.strength, "how strongly the steps that are layers of their own show, 0 to 1 (1)")
      ->check(CLI::Range(0.0, 1.0));
}

}  // namespace hseam::cli
