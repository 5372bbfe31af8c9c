// hseam check PROJECT and hseam measure IMAGE [--mask M] [--against OTHER]

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/findings/report.h"
#include "core/image/picture_file.h"
#include "core/store/project_file.h"
#include "core/tasks/measure.h"

namespace hseam::cli {
namespace {

base::Result<Json> check(Run& run, const std::string& path) {
  HSEAM_TRY(const auto opened, store::ProjectFile::openToRead(path, run.memory(), run.executor()));
  HSEAM_TRY(const findings::Report report,
            run.work([&] { return findings::reportOn(opened.history.scene(), run.executor(), run.progress()); }));
  Json j = Json::parse(findings::reportJson(report, run.workSeconds()));
  std::string text;
  for (const findings::Verdict& v : report.findings) text += v.sentence.text() + "\n";
  if (report.findings.empty()) text = "Nothing gives it away.\n";
  j["text"] = text + "Tightness " + findings::textOf(findings::Figure{report.tightness, 0}) + " of 100\n";
  return j;
}

Json readingJson(const measure::Reading& r, const char* unit) {
  if (!r.available) return {{"told", false}, {"why", r.reason}, {"unit", unit}};
  return {{"told", true}, {"value", r.value}, {"spread", r.spread}, {"unit", unit}};
}

Json numbersJson(const tasks::PictureNumbers& n) {
  Json j = {{"black_point", readingJson(n.tones.black, "L*")},
            {"mid_tone", readingJson(n.tones.mid, "L*")},
            {"white_point", readingJson(n.tones.white, "L*")},
            {"saturation", readingJson(n.saturation, "C*ab")},
            {"grain", readingJson(measure::grainLevel(n.grain), "of 1, encoded")},
            {"sharpness", readingJson(n.sharpnessPx, "px, standard deviation")},
            {"banding", readingJson(n.banding, "share of smooth slopes")},
            {"clipping", {{"black_percent", 100 * n.blackShare}, {"white_percent", 100 * n.whiteShare}}},
            {"grain_by_tone", Json::array()}};
  j["light"] = n.light.available ? Json{{"told", true}, {"a", n.light.a}, {"b", n.light.b}, {"unit", "a*b* of a grey of L* 60"}}
                                 : Json{{"told", false}};
  j["horizon"] = readingJson(n.horizon.y, "px from the top, in the middle column");
  if (n.horizon.y.available) j["horizon"]["tilt_deg"] = n.horizon.tiltDeg, j["horizon"]["lines"] = n.horizon.lines;
  for (std::size_t i = 0; i < n.grain.sigma.size(); ++i)
    j["grain_by_tone"].push_back({{"sigma", n.grain.sigma[i]}, {"places", n.grain.places[i]}});
  if (n.edge) {
    j["edge_softness"] = readingJson(n.edge->softnessPx, "px, 10-90 %");
    j["halo"] = readingJson(n.edge->halo, "CIEDE2000");
    j["jaggedness"] = readingJson(n.edge->jaggednessPx, "px, root of the mean square");
    j["light_direction"] = readingJson(n.edge->lightDirection, "degrees clockwise from above");
    j["leftovers"] = {{"told", true}, {"count", n.edge->leftovers}, {"largest_px2", n.edge->largestLeftoverPx2}, {"unit", "px2"}};
  }
  if (n.against) {
    j["exposure"] = readingJson(n.against->stops, "stops that the other picture has more");
    j["white_balance"] = {{"red", readingJson(n.against->red, "stops against green")},
                          {"blue", readingJson(n.against->blue, "stops against green")}};
  }
  return j;
}

struct MeasureWords {
  std::string image, mask, against;
};
base::Result<Json> readings(Run& run, const MeasureWords& o) {
  HSEAM_TRY(const image::Picture picture, image::readPicture(o.image, run.memory(), run.executor(), {}));
  const base::Size size = picture.pixels.size();
  image::TiledImage mask, against;
  if (!o.mask.empty()) {
    HSEAM_TRY(mask, image::readCoverage(o.mask, run.memory(), run.executor()));
    HSEAM_DO(sameSize(size, mask.size(), o.mask));
  }
  if (!o.against.empty()) {
    HSEAM_TRY(const image::Picture second, image::readPicture(o.against, run.memory(), run.executor(), {}));
    HSEAM_DO(sameSize(size, second.pixels.size(), o.against));
    against = second.pixels;
  }
  HSEAM_TRY(const tasks::PictureNumbers n, run.work([&] { return tasks::measured(picture.pixels, mask, against); }));
  Json j = numbersJson(n);
  j["width"] = size.width;
  j["height"] = size.height;
  return j;
}

}  // namespace

void addCheck(Commands& commands) {
  auto project = std::make_shared<std::string>();
  commands.add("check", "what gives a project's scene away", [project](Run& run) { return check(run, *project); })
      ->add_option("project", *project, "NAME.hseam")
      ->required();
  auto o = std::make_shared<MeasureWords>();
  CLI::App* measure = commands.add("measure", "the readings of one picture", [o](Run& run) { return readings(run, *o); });
  measure->add_option("image", o->image, "picture")->required();
  measure->add_option("--mask", o->mask, "grey picture of the same size: what of it is measured");
  measure->add_option("--against", o->against, "another picture of the same place: exposure and white balance between them");
}

}  // namespace hseam::cli
