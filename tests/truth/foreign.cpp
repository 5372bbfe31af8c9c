#include "truth/foreign.h"

#include <algorithm>
#include <cstdio>
#include <cstdlib>
#include <filesystem>

#include "core/image/picture_file.h"
#include "truth/must.h"

namespace hseam::truth {
namespace {

namespace fs = std::filesystem;
using image::Raster;

std::string quoted(const std::string& text) {
  std::string out = "'";
  for (const char c : text) out += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return out + "'";
}

}  // namespace

std::string foreignFolder() {
  const char* set = std::getenv("HSEAM_PHOTOS");
  return set && fs::exists(fs::path(set) / "make_cases.py") ? set : std::string();
}

std::vector<ForeignPhoto> foreignPhotos(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                                        base::Executor& executor) {
  std::vector<ForeignPhoto> all;
  for (const auto& entry : fs::directory_iterator(fs::path(folder) / "photos")) {
    if (entry.path().extension() != ".jpg") continue;
    fs::path mask = entry.path();
    mask.replace_extension(".mask.png");
    const auto counted = must(image::readCoverage(mask.string(), memory, executor));
    all.push_back({entry.path().stem().string(), must(image::readPicture(entry.path().string(), memory, executor, {})).pixels,
                   must(image::read8(counted, 0, base::Rect::of(counted.size())))});
  }
  std::sort(all.begin(), all.end(), [](const ForeignPhoto& a, const ForeignPhoto& b) { return a.name < b.name; });
  return all;
}

bool makeForeignCases(const std::string& folder, const std::string& into, int seed) {
  const std::string command = "/usr/bin/python3 " + quoted((fs::path(folder) / "make_cases.py").string()) + " " + quoted(into) +
                              " --seed " + std::to_string(seed) + " >/dev/null 2>&1";
  return std::system(command.c_str()) == 0;
}

std::vector<std::string> foreignCaseFolders(const std::string& made) {
  std::vector<std::string> all;
  for (const auto& entry : fs::directory_iterator(made)) {
    if (fs::exists(entry.path() / "alpha.png")) all.push_back(entry.path().string());
  }
  std::sort(all.begin(), all.end());
  return all;
}

ForeignCase readForeignCase(const std::string& folder, const std::shared_ptr<image::TileMemory>& memory,
                            base::Executor& executor) {
  const auto colours = [&](const char* file) {
    return must(image::readPicture(folder + "/" + file, memory, executor, {})).pixels;
  };
  const auto grey = [&](const char* file) { return must(image::readCoverage(folder + "/" + file, memory, executor)); };
  ForeignCase c;
  c.name = fs::path(folder).filename().string();
  c.picture = colours("composite.png");
  c.selection = grey("selection.png");
  const base::Rect whole = base::Rect::of(c.picture.size());
  c.rgb = must(image::readFloat(c.picture, 0, whole));
  c.alpha = must(image::readFloat(grey("alpha.png"), 0, whole));
  c.colours = must(image::readFloat(colours("foreground.png"), 0, whole));
  c.band = must(image::read8(grey("trimap.png"), 0, whole));
  return c;
}

double intersectionOverUnion(const image::TiledImage& coverage, const Raster<std::uint8_t>& mask) {
  const auto found = must(image::read8(coverage, 0, base::Rect::of(coverage.size())));
  double both = 0, either = 0;
  for (std::size_t i = 0; i < mask.samples().size(); ++i) {
    if (mask.samples()[i] > 64 && mask.samples()[i] < 192) continue;
    const bool a = found.samples()[i] >= 128, b = mask.samples()[i] >= 192;
    both += a && b, either += a || b;
  }
  return either > 0 ? both / either : 0;
}

}  // namespace hseam::truth
