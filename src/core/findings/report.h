#pragma once
// The report: readings of every cut-out against its surroundings, the findings that follow, and tightness.

#include <functional>
#include <map>
#include <memory>
#include <vector>

#include "core/base/progress.h"
#include "core/findings/found_floor.h"
#include "core/findings/kinds.h"
#include "core/findings/numbers.h"
#include "core/findings/remedy_ids.h"
#include "core/findings/words.h"
#include "core/scene/edit.h"

namespace hseam::findings {

/// What mends a finding. make may be slow (a new mask) and may run on any thread.
struct Remedy {
  RemedyId id;
  Words label;  // "Lift its shadows by 5.2 L*"
  std::function<base::Result<scene::Edit>(const scene::Scene&, base::Executor&)> make;
  Words onlyAsked = {};  // not empty: never made automatically, and why ("it would make a sharp subject soft")
};

/// What a person can say about the scene that a reading depends on.
enum class Asks { nothing, floor, light };

/// A reading of a layer against the scene.
struct Verdict {
  KindId kind = KindId::blackPoint;
  scene::LayerId layer;
  std::string layerName;
  bool available = false;
  Words reason;        // why it is not available
  double reading = 0;  // layer − scene, or layer / scene; the layer's alone where a kind has no counterpart in the scene
  double spread = 0;
  double target = 0;
  double tolerance = 0;
  double excess = 0;    // 1: just out
  double severity = 0;  // 0..1: how visible
  base::Rect region;    // scene px
  Words sentence;       // what it is, with its numbers
  std::vector<Remedy> remedies;
  std::vector<Remedy> sceneRemedies;  // they adjust the scene to the layer instead
  Asks asks = Asks::nothing;          // what it depends on and nobody has said
  bool quiet = false;                 // dismissed by the user and not clearly worse since, or its kind is off
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
  double tightness = 100;             // of the scene; the worst layer counts most
  /// For the next report, to reuse what has not changed.
  std::map<scene::LayerId, std::shared_ptr<const JudgedLayer>> judged;
  FoundFloor floor;    // of a scene in which nobody has drawn it
  int judgedAnew = 0;  // number of layers that were not reused
};

/// Judges every cut-out of the scene. before: an earlier report (may be null), of any scene; layers whose Depends are equal are
/// reused from it. Errors: what rendering says, cancelled.
base::Result<Report> reportOn(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress,
                              const Report* before = nullptr);
/// What lowers a layer's tightness: each finding with its own part, "halo −31, cast −12". Empty if nothing does.
std::string makeUpOf(const Report& report, scene::LayerId layer);
/// The layers that are judged: visible pictures that cover a part of the canvas. Fast.
std::vector<scene::LayerId> judgedLayers(const scene::Scene& scene);

/// The report of `hseam check --json` (docs/findings-json.md).
std::string reportJson(const Report& report, double workS);
/// A picture in a report: its caption, and its file name or data: URL.
struct ReportPicture {
  std::string words, source;
};
/// The report as an HTML page. pictures: of the findings, in their order (an empty source: none). views: of the scene.
std::string reportHtml(const Report& report, const std::string& title, const std::vector<ReportPicture>& pictures,
                       const std::vector<ReportPicture>& views);

}  // namespace hseam::findings
