// keep_bench: what keeping one brush stroke costs on the disk, at 24 megapixels with one layer and with ten. Counts every byte
// that this process hands to a write call, with the log's way back into the file, beside the packed size of the tiles that the
// stroke changed (mask and the levels above it).

#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <numbers>
#include <set>
#include <string>

#include "core/paint/stroke.h"
#include "core/scene/edit.h"
#include "core/store/project_file.h"
#include "core/store/tile_codec.h"

namespace {

using namespace hseam;

constexpr base::Size kSize{6000, 4000};
constexpr int kStrokes = 40;

// wchar of proc(5): what was passed to write calls, before any cache.
std::int64_t bytesHandedOver() {
  std::ifstream io("/proc/self/io");
  std::string word;
  std::int64_t value = 0;
  while (io >> word >> value) {
    if (word == "wchar:") return value;
  }
  return 0;
}

// A subject's mask: a soft edge of some 9000 px.
image::TiledImage roundMask(const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  auto made = image::tiledFromRows(kSize, image::PixelFormat::grey8, memory, executor, {},
                                   [](int first, int count, std::byte* rows) -> base::Status {
                                     for (int y = 0; y < count; ++y) {
                                       for (int x = 0; x < kSize.width; ++x) {
                                         const double d = std::hypot(x - 3000.0, first + y - 2000.0);
                                         *rows++ = std::byte(int(255 * std::clamp((1450 - d) / 8 + 0.5, 0.0, 1.0)));
                                       }
                                     }
                                     return {};
                                   });
  return std::move(made).value();
}

scene::Scene sceneOf(int layers, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  scene::Scene s;
  s.canvas = kSize;
  for (int i = 1; i <= layers; ++i) {
    const std::byte grey[] = {std::byte(20 * i), std::byte(90), std::byte(200 - 10 * i)};
    scene::Layer l;
    l.id = {std::uint64_t(i)};
    l.name = "picture " + std::to_string(i);
    scene::PictureContent p;
    p.source = image::TiledImage::uniform(kSize, image::PixelFormat::rgb8, grey, memory);
    l.content = std::move(p);
    l.mask.coverage = roundMask(memory, executor);
    s.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
  }
  return s;
}

std::set<image::TileRef> tilesOf(const image::TiledImage& image) {
  std::set<image::TileRef> all;
  for (int n = 0; n < image.levelCount(); ++n) {
    const auto& level = image.level(n);
    for (int row = 0; row < level.rows; ++row) {
      for (int column = 0; column < level.columns; ++column) all.insert(level.tile(column, row));
    }
  }
  return all;
}

std::int64_t packedChange(const image::TiledImage& before, const image::TiledImage& after) {
  const auto old = tilesOf(before);
  std::int64_t sum = 0;
  for (const auto& tile : tilesOf(after)) {
    if (old.contains(tile) || tile->uniform()) continue;
    const auto pin = image::pin(tile);
    sum += std::int64_t(store::packTile({pin->data(), image::kTilePixels}, 1).size());
  }
  return sum;
}

int run(int layers, const std::string& path) {
  const auto executor = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(1) << 30);
  auto opened = store::ProjectFile::create(path, sceneOf(layers, memory, *executor), "begin", memory, *executor);
  if (!opened.ok()) return std::fprintf(stderr, "%s\n", opened.error().text().c_str()), 1;
  scene::Scene now = opened->history.scene();
  std::int64_t packed = 0, worst = 0;
  const std::int64_t before = bytesHandedOver();
  for (int i = 0; i < kStrokes; ++i) {
    const std::uint64_t id = std::uint64_t(i % layers) + 1;
    const auto& mask = scene::findLayer(now, {id})->mask.coverage;
    paint::Stroke stroke(mask, {120, 0.5, 0.9}, paint::Pressure::none, 0, false);
    const double x = 500 + 120.0 * i, y = 2000 + 1200 * std::sin(i * 0.9);
    for (int k = 0; k <= 40; ++k) {
      const double a = k * std::numbers::pi / 20;
      static_cast<void>(stroke.to({{x + 180 * std::cos(a), y + 140 * std::sin(a)}, 1}, *executor).ok());
    }
    const std::int64_t change = packedChange(mask, stroke.image());
    auto next = scene::apply(now, scene::SetMask{{id}, stroke.image(), "stroke"});
    now = std::move(next).value();
    const std::int64_t at = bytesHandedOver();
    const auto kept = opened->file->keep({now, "stroke"}, "SetMask", i);
    if (!kept.ok()) return std::fprintf(stderr, "%s\n", kept.error().text().c_str()), 1;
    packed += change;
    worst = std::max(worst, bytesHandedOver() - at);
  }
  const auto closed = opened->file->close();
  const double written = double(bytesHandedOver() - before) / kStrokes, changed = double(packed) / kStrokes;
  std::printf(
      "%2d layers: changed tiles %.1f KiB packed, written %.1f KiB a stroke (worst before the end %.1f); allowed %.1f KiB\n",
      layers, changed / 1024, written / 1024, double(worst) / 1024, (2 * changed) / 1024 + 32);
  return closed.ok() ? 0 : 1;
}

}  // namespace

int main() {
  namespace fs = std::filesystem;
  std::string pattern = (fs::temp_directory_path() / "hseam-keep-XXXXXX").string();
  if (!mkdtemp(pattern.data())) return 1;
  int failed = 0;
  for (const int layers : {1, 10}) failed |= run(layers, pattern + "/strokes" + std::to_string(layers) + ".hseam");
  std::error_code ignored;
  fs::remove_all(pattern, ignored);
  return failed;
}
