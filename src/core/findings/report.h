#pragma once
// What gives a scene away: readings of every cut-out against what it is set into, and what follows from them.

#include <functional>
#include <map>
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/findings/kinds.h"
#include "core/findings/numbers.h"
#include "core/findings/remedy_ids.h"
#include "core/findings/words.h"
#include "core/scene/edit.h"

namespace hseam::findings {

/// What mends a finding. Making the Edit may take work (a mask without its leftovers): any thread.
struct Remedy {
  RemedyId id;
  Words label;  // "Lift its shadows by 5.2 L*"
  std::function<base::Result<scene::Edit>(const scene::Scene&, base::Executor&)> make;
  Words onlyAsked = {};  // not empty: why nobody but a person makes it ("it would make a sharp subject soft")
};

/// A reading of a layer against the scene.
struct Verdict {
  KindId kind = KindId::blackPoint;
  scene::LayerId layer;
  std::string layerName;
  bool available = false;
  Words reason;        // not available: why it can't be told
  double reading = 0;  // layer − scene, or layer / scene; where a kind has no other side, the layer's own
  double spread = 0;
  double target = 0;
  double tolerance = 0;
  double excess = 0;    // 1: just out
  double severity = 0;  // 0..1: how visible
  base::Rect region;    // scene px
  Words sentence;       // what it is, with its numbers
  std::vector<Remedy> remedies;
  std::vector<Remedy> sceneRemedies;  // the other way round: what lies behind the layer is brought to it
  bool asksForFloor = false;          // rests on where the floor lies, which nobody has said
  bool quiet = false;                 // answered by the user, and not clearly worse since; or its kind is off
  bool out() const { return available && excess > 1; }
};

struct LayerTightness {
  scene::LayerId layer;
  std::string name;
  double tightness = 100;  // 0..100
};

/// What the user said of a finding.
struct Answer {
  KindId kind = KindId::blackPoint;
  std::string layerName, reason;
  bool wrong = false;
};

struct JudgedLayer;

struct Report {
  std::vector<Verdict> findings;  // what is out and not quiet, the most visible first
  std::vector<Verdict> readings;  // all, quiet and in tolerance ones too
  std::vector<LayerTightness> layers;
  std::vector<Answer> answered;
  std::vector<LayerNumbers> numbers;  // of each layer that was judged
  double tightness = 100;             // of the scene: its layers' worst counts most
  /// What the next report can go on from.
  std::map<scene::LayerId, std::shared_ptr<const JudgedLayer>> judged;
  int judgedAnew = 0;  // how many layers could not be taken over
};

/// Judges every cut-out of the scene. before: an earlier report, of whatever scene: layers for which nothing has changed that
/// they are judged by are taken over from it. Null: none. Errors: what rendering says, cancelled.
base::Result<Report> reportOn(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress,
                              const Report* before = nullptr);
/// What a layer's tightness is made of: its findings and what each takes off by itself: "halo −31, cast −12"; empty: nothing
/// does.
std::string makeUpOf(const Report& report, scene::LayerId layer);
/// The layers that are judged: visible pictures that cover a part of the canvas. Cheap.
std::vector<scene::LayerId> judgedLayers(const scene::Scene& scene);

/// The report of `hseam check --json` (docs/findings-json.md).
std::string reportJson(const Report& report, double workS);
/// A picture of a report: its words, and where it is (a file's name or a data: address).
struct ReportPicture {
  std::string words, source;
};
/// A page to be read and kept. pictures: of the findings, in their order (an empty source: none). views: of the scene.
std::string reportHtml(const Report& report, const std::string& title, const std::vector<ReportPicture>& pictures,
                       const std::vector<ReportPicture>& views);

}  // namespace hseam::findings
