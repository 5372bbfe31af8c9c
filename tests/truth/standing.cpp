#include "truth/standing.h"

#include <algorithm>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/image/picture_file.h"
#include "core/render/renderer.h"
#include "core/scene/floor.h"
#include "truth/distance.h"
#include "truth/must.h"
#include "truth/picture_layer.h"

namespace hseam::truth {
namespace {

using image::Raster;

double lightOf(const Raster<float>& r, std::size_t i) {
  const float* v = r.samples().data() + i * std::size_t(r.channels());
  const auto linear = [](float e) { return e <= 0.04045f ? e / 12.92 : std::pow((double(e) + 0.055) / 1.055, 2.4); };
  return 0.2126 * linear(v[0]) + 0.7152 * linear(v[1]) + 0.0722 * linear(v[2]);
}

// Of the floor: what a subject takes from its light.
double darkerBy(const Raster<float>& with, const Raster<float>& without, const Raster<float>& where) {
  double a = 0, b = 0;
  for (std::size_t i = 0; i < where.samples().size(); ++i) {
    if (where.samples()[i] > 0.5f) a += lightOf(with, i), b += lightOf(without, i);
  }
  return b > 0 ? 1 - a / b : 0;
}

// Of the floor, what touches the lowest eighth of a subject.
Raster<float> touching(const Raster<float>& subject, const Raster<float>& floor) {
  int top = subject.height(), bottom = 0;
  for (int y = 0; y < subject.height(); ++y) {
    const float* row = subject.row(y);
    if (std::any_of(row, row + subject.width(), [](float v) { return v > 0.5f; }))
      top = std::min(top, y), bottom = std::max(bottom, y);
  }
  const int tall = bottom - top, reach = std::max(3, tall / 20);
  Raster<float> out(subject.width(), subject.height());
  for (int y = bottom - tall / 8; y <= bottom; ++y) {
    for (int x = 0; x < subject.width(); ++x) {
      if (*subject.at(x, y) <= 0.5f) continue;
      for (int v = std::max(0, y - reach); v <= std::min(subject.height() - 1, y + reach); ++v) {
        for (int u = std::max(0, x - reach); u <= std::min(subject.width() - 1, x + reach); ++u) {
          if (*floor.at(u, v) > 0.5f) *out.at(u, v) = 1;
        }
      }
    }
  }
  return out;
}

}  // namespace

std::vector<Standing> standingSubjects(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                       base::Executor& executor) {
  namespace fs = std::filesystem;
  std::vector<fs::path> names;
  for (const auto& entry : fs::directory_iterator(folder)) {
    if (fs::exists(entry.path() / "facts.json")) names.push_back(entry.path());
  }
  std::sort(names.begin(), names.end());
  const auto answers = nlohmann::json::parse(std::ifstream(fs::path(folder) / "shown.json"));
  const auto point = [](const nlohmann::json& j) { return base::Point{j.at(0).get<double>(), j.at(1).get<double>()}; };
  std::vector<Standing> all;
  for (const fs::path& path : names) {
    const auto facts = nlohmann::json::parse(std::ifstream(path / "facts.json"));
    const auto read = [&](const char* name) {
      return must(image::readPicture((path / name).string(), memory, executor, {})).pixels;
    };
    const auto floats = [](const image::TiledImage& t) { return must(image::readFloat(t, 0, base::Rect::of(t.size()))); };
    const image::TiledImage ground = read("ground.jpg"),
                            mask = must(image::readCoverage((path / "alpha.png").string(), memory, executor));
    Standing s;
    s.name = path.filename().string();
    s.scene.canvas = ground.size();
    s.scene.layers = {pictureLayer(1, "place", ground, {}), pictureLayer(2, "subject", read("colours.jpg"), mask)};
    s.layer = {2};
    s.floor = {facts.at("horizon_y"), 0, facts.at("camera").at("height_m"), facts.at("camera").at("angle_deg")};
    if (const auto answer = answers.find(s.name); answer != answers.end()) {
      s.shadowless = !answer->value("casts", true);
      if (!s.shadowless) s.shown = {point(answer->at("foot")), point(answer->at("top")), point(answer->at("tip"))};
    }
    if (const auto& sun = facts.at("sun"); sun.is_array()) {
      const double x = sun[0], y = sun[1], z = sun[2];
      s.sunFrom.azimuthDeg = std::atan2(x, -z) * 180 / M_PI;
      s.sunFrom.elevationDeg = std::atan2(y, std::hypot(x, z)) * 180 / M_PI;
    }
    s.truth = floats(read("truth.jpg"));
    s.ground = floats(ground);
    const Raster<float> cover = floats(mask);
    const std::array<double, 2> foot = facts.at("foot_m");
    const double tall = facts.at("subject_m");
    s.subject = s.near = s.contact = Raster<float>(cover.width(), cover.height());
    const scene::FloorCamera camera(s.floor, s.scene.canvas);
    for (int y = 0; y < cover.height(); ++y) {
      for (int x = 0; x < cover.width(); ++x) {
        *s.subject.at(x, y) = *cover.at(x, y) > 0.9f ? 1.f : 0.f;
        const auto at = camera.floorAt({x + 0.5, y + 0.5});
        const double far = at ? std::hypot((*at)[0] - foot[0], (*at)[2] - foot[1]) : 1e9;
        const bool own = *cover.at(x, y) > 0.02f;
        *s.near.at(x, y) = far < tall && !own ? 1.f : 0.f;
      }
    }
    s.contact = touching(s.subject, s.near);
    all.push_back(std::move(s));
  }
  return all;
}

FromTruth fromTruth(const Standing& of, const scene::Scene& scene, base::Executor& executor) {
  render::Renderer renderer;
  const auto shown = must(renderer.render(scene, base::Rect::of(scene.canvas), 0, executor));
  FromTruth out;
  out.subject = meanDistance(shown, of.truth, of.subject);
  out.floor = meanDistance(shown, of.truth, of.near);
  out.contact = darkerBy(shown, of.ground, of.contact);
  out.trueContact = darkerBy(of.truth, of.ground, of.contact);
  return out;
}

}  // namespace hseam::truth
