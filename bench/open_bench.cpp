// open_bench make PROJECT: a project of ten pictures of 24 megapixels and 5,000 brush strokes.
// open_bench open PROJECT: how long it takes, and how much memory, from opening it to its scene at fit; in a process of its own.

#include <sys/resource.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <string>

#include "core/paint/stroke.h"
#include "core/render/renderer.h"
#include "core/scene/edit.h"
#include "core/store/project_file.h"

namespace {

using namespace hseam;

constexpr base::Size kSize{6000, 4000};
constexpr int kLayers = 10, kStrokes = 5000, kFitLevel = 2;

image::TiledImage pictureOf(int seed, int channels, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor) {
  const auto format = channels == 1 ? image::PixelFormat::grey8 : image::PixelFormat::rgb8;
  auto made =
      image::tiledFromRows(kSize, format, memory, executor, {}, [&](int first, int count, std::byte* rows) -> base::Status {
        for (int y = first; y < first + count; ++y) {
          for (int x = 0; x < kSize.width; ++x) {
            for (int c = 0; c < channels; ++c) {
              const double soft = channels == 1
                                      ? 255 * std::clamp((1450 - std::hypot(x - 3000.0, y - 2000.0)) / 8 + 0.5, 0.0, 1.0)
                                      : 128 + 90 * std::sin((x + seed * 31) / (40.0 + c)) * std::cos(y / 53.0);
              *rows++ = std::byte(int(soft) + (channels == 1 ? 0 : (x * 7 + y * 13 + seed) % 5));
            }
          }
        }
        return {};
      });
  return std::move(made).value();
}

int make(const std::string& path) {
  const auto executor = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(1) << 30);
  scene::Scene s;
  s.canvas = kSize;
  auto opened = store::ProjectFile::create(path, s, "begin", memory, *executor);
  if (!opened.ok()) return std::fprintf(stderr, "%s\n", opened.error().text().c_str()), 1;
  int step = 0;
  const auto keep = [&](const scene::Edit& edit) {
    s = scene::apply(s, edit).value();
    return opened->file->keep({s, scene::describe(s, edit)}, scene::editKind(edit), step++);
  };
  for (int i = 1; i <= kLayers; ++i) {
    scene::Layer l;
    l.id = {std::uint64_t(i)};
    l.name = "picture " + std::to_string(i);
    scene::PictureContent p;
    p.source = pictureOf(i, 3, memory, *executor);
    l.content = std::move(p);
    l.mask.coverage = pictureOf(i, 1, memory, *executor);
    if (!keep(scene::AddLayer{std::move(l), {}, -1}).ok()) return 1;
  }
  for (int i = 0; i < kStrokes; ++i) {
    const scene::LayerId id{std::uint64_t(i % kLayers) + 1};
    paint::Stroke stroke(scene::findLayer(s, id)->mask.coverage, {90, 0.5, 0.9}, paint::Pressure::none, 0, false);
    const double x = 300 + i * 37 % 5400, y = 300 + i * 91 % 3400;
    static_cast<void>(stroke.to({{x, y}, 1}, *executor).ok());
    static_cast<void>(stroke.to({{x + 120, y + 40}, 1}, *executor).ok());
    if (!keep(scene::SetMask{id, stroke.image(), "painted"}).ok()) return 1;
  }
  return opened->file->close().ok() ? 0 : 1;
}

int open(const std::string& path) {
  using Clock = std::chrono::steady_clock;
  const auto from = Clock::now();
  const auto executor = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(8) << 30);
  auto opened = store::ProjectFile::open(path, memory, *executor);
  if (!opened.ok()) return std::fprintf(stderr, "%s\n", opened.error().text().c_str()), 1;
  const auto isOpen = Clock::now();
  render::Renderer renderer;
  const scene::Scene& s = opened->history.scene();
  const auto shown = renderer.render(s, base::Rect::of(render::canvasAt(s, kFitLevel)), kFitLevel, *executor);
  const auto isShown = Clock::now();
  const auto seconds = [](auto a, auto b) { return std::chrono::duration<double>(b - a).count(); };
  rusage used{};
  getrusage(RUSAGE_SELF, &used);
  std::printf("%d steps: open %.3f s, shown at fit %.3f s, peak %.0f MB\n", opened->history.count(), seconds(from, isOpen),
              seconds(from, isShown), double(used.ru_maxrss) / 1024);
  return shown.ok() ? 0 : 1;
}

}  // namespace

int main(int argc, char** argv) {
  const std::string way = argc == 3 ? argv[1] : "";
  if (way == "make") return make(argv[2]);
  if (way == "open") return open(argv[2]);
  std::fprintf(stderr, "usage: open_bench make|open PROJECT\n");
  return 2;
}
