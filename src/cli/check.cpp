// hseam check PROJECT and hseam measure IMAGE

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/findings/report.h"
#include "core/image/picture_file.h"
#include "core/measure/banding.h"
#include "core/measure/exposure.h"
#include "core/measure/grain.h"
#include "core/measure/halo.h"
#include "core/measure/jaggedness.h"
#include "core/measure/light_direction.h"
#include "core/measure/sharpness.h"
#include "core/measure/tones.h"
#include "core/store/project_file.h"

namespace hseam::cli {
namespace {

base::Result<Json> check(Run& run, const std::string& path) {
  HSEAM_TRY(const auto opened, store::ProjectFile::openToRead(path, run.memory(), run.executor()));
  HSEAM_TRY(const findings::Report report,
            run.work([&] { return findings::reportOn(opened.history.scene(), run.executor(), run.progress()); }));
  Json j = Json::parse(findings::reportJson(report, run.workSeconds()));
  std::string text;
  for (const findings::Verdict& v : report.findings) text += v.sentence + "\n";
  if (report.findings.empty()) text = "Nothing gives it away.\n";
  char tightness[64];
  std::snprintf(tightness, sizeof tightness, "Tightness %.0f of 100\n", report.tightness);
  j["text"] = text + tightness;
  return j;
}

Json available(const measure::Reading& r, const char* unit) {
  if (!r.available) return {{"told", false}, {"why", r.reason}, {"unit", unit}};
  return {{"told", true}, {"value", r.value}, {"spread", r.spread}, {"unit", unit}};
}

base::Result<image::Raster<float>> coloursOf(const image::TiledImage& picture) {
  const base::Size size = picture.size();
  HSEAM_TRY(const auto pixels, image::readFloat(picture, 0, base::Rect::of(size)));
  image::Raster<float> colours(size.width, size.height, 4, 1.f);
  const int channels = pixels.channels();
  for (std::size_t i = 0; i < pixels.pixels(); ++i) {
    const float* from = pixels.samples().data() + i * std::size_t(channels);
    for (std::size_t c = 0; c < 3; ++c) colours.samples()[4 * i + c] = from[channels < 3 ? 0 : c];
    if (channels == 2 || channels == 4) colours.samples()[4 * i + 3] = from[channels - 1];
  }
  return colours;
}

struct Pictures {
  std::string image, mask, against;
};
base::Result<Json> readings(Run& run, const Pictures& paths) {
  const std::string &path = paths.image, &maskPath = paths.mask;
  HSEAM_TRY(const image::Picture picture, image::readPicture(path, run.memory(), run.executor(), {}));
  const base::Size size = picture.pixels.size();
  const base::Rect all = base::Rect::of(size);
  image::TiledImage mask;
  if (!maskPath.empty()) {
    HSEAM_TRY(mask, image::readCoverage(maskPath, run.memory(), run.executor()));
    HSEAM_DO(sameSize(size, mask.size(), maskPath));
  }
  HSEAM_TRY(image::Raster<float> colours, coloursOf(picture.pixels));
  image::Raster<float> other;
  if (!paths.against.empty()) {
    HSEAM_TRY(const image::Picture second, image::readPicture(paths.against, run.memory(), run.executor(), {}));
    HSEAM_DO(sameSize(size, second.pixels.size(), paths.against));
    HSEAM_TRY(other, coloursOf(second.pixels));
  }
  if (!mask.isNull()) {
    HSEAM_TRY(const auto cover, image::readFloat(mask, 0, all));
    for (std::size_t i = 0; i < cover.pixels(); ++i) colours.samples()[4 * i + 3] *= cover.samples()[i];
  }
  return run.work([&]() -> base::Result<Json> {
    const auto inside = measure::inside(colours, 0.98f, mask.isNull() ? 0 : 2);
    const measure::Part part{colours, inside};
    const measure::Population p = measure::populationOf(part, double(size.width) * size.height > 4e6 ? 2 : 1);
    const measure::Tones t = measure::tonesOf(p);
    const measure::Cast light = measure::illuminantOf(part);
    const measure::Grain grain = measure::grainOf(part);
    Json j = {{"width", size.width},
              {"height", size.height},
              {"black_point", available(t.black, "L*")},
              {"mid_tone", available(t.mid, "L*")},
              {"white_point", available(t.white, "L*")},
              {"saturation", available(measure::saturationOf(p), "C*ab")},
              {"grain", available(measure::grainLevel(grain), "of 1, encoded")},
              {"sharpness", available(measure::sharpnessOf(part).typical, "px, standard deviation")}};
    j["light"] = light.available ? Json{{"told", true}, {"a", light.a}, {"b", light.b}, {"unit", "a*b* of a grey of L* 60"}}
                                 : Json{{"told", false}};
    Json tones = Json::array();
    for (std::size_t i = 0; i < grain.sigma.size(); ++i)
      tones.push_back({{"sigma", grain.sigma[i]}, {"places", grain.places[i]}});
    j["grain_by_tone"] = tones;
    j["banding"] = available(measure::bandingOf(part), "share of smooth slopes");
    double clippedLow = 0, clippedHigh = 0, n = 0;
    for (std::size_t i = 0; i < inside.pixels(); ++i) {
      if (inside.samples()[i] == 0) continue;
      const float* c = colours.samples().data() + 4 * i;
      clippedLow += std::max({c[0], c[1], c[2]}) <= 0.5f / 255;
      clippedHigh += std::min({c[0], c[1], c[2]}) >= 254.5f / 255;
      n += 1;
    }
    j["clipping"] = {{"black_percent", n > 0 ? 100 * clippedLow / n : 0}, {"white_percent", n > 0 ? 100 * clippedHigh / n : 0}};
    if (!mask.isNull() || image::hasAlpha(picture.pixels.format())) {
      const auto outline = measure::outlineOf(colours);
      j["edge_softness"] = available(measure::softnessOf(outline), "px, 10-90 %");
      j["halo"] = available(measure::haloOf(colours, outline).size, "CIEDE2000");
      double most = 0;
      const auto left = measure::leftoversOf(colours);
      for (const auto& l : left) most = std::max(most, l.areaPx);
      j["jaggedness"] = available(measure::jaggednessOf(colours, outline), "px, root of the mean square");
      j["light_direction"] = available(measure::lightDirectionOf(colours, outline), "degrees clockwise from above");
      j["leftovers"] = {{"told", true}, {"count", left.size()}, {"largest_px2", most}, {"unit", "px2"}};
    }
    if (other.pixels() > 0) {
      const measure::ExposureGain gain = measure::exposureBetween(colours, other, inside);
      j["exposure"] = available(gain.stops, "stops that the other picture has more");
      j["white_balance"] = {{"red", available(gain.red, "stops against green")},
                            {"blue", available(gain.blue, "stops against green")}};
    }
    return j;
  });
}

}  // namespace

void addCheck(Commands& commands) {
  auto project = std::make_shared<std::string>();
  commands.add("check", "what gives a project's scene away", [project](Run& run) { return check(run, *project); })
      ->add_option("project", *project, "NAME.hseam")
      ->required();
  auto paths = std::make_shared<Pictures>();
  CLI::App* measure = commands.add("measure", "the readings of one picture", [paths](Run& run) { return readings(run, *paths); });
  measure->add_option("image", paths->image, "picture")->required();
  measure->add_option("--mask", paths->mask, "grey picture of the same size: what of it is measured");
  measure->add_option("--against", paths->against, "another picture of the same place: exposure and white balance between them");
}

}  // namespace hseam::cli
