// render_bench: the renderer at 24 megapixels beside a pass that only reads the same bytes and writes as many, and beside
// libvips, in the same run. A failed render aborts.

#include <benchmark/benchmark.h>
#include <vips/vips.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <map>

#include "core/matte/edge_readings.h"
#include "core/paint/stroke.h"
#include "core/path/cover.h"
#include "core/path/fit.h"
#include "core/render/inverse_warp.h"
#include "core/render/renderer.h"
#include "core/render/rows.h"

namespace {

using namespace hseam;

// 24 megapixels; the smaller sizes show how it scales.
constexpr base::Size kFull{6000, 4000};

std::shared_ptr<image::TileMemory> memory() {
  static const auto shared = image::TileMemory::create(std::size_t(6) << 30);
  return shared;
}

base::Executor& pool() {
  static const auto shared = base::makePool(2);
  return *shared;
}

image::TiledImage made(base::Size size, int channels, const std::function<double(int x, int y, int c)>& value) {
  const auto format = channels == 1 ? image::PixelFormat::grey8 : image::PixelFormat::rgb8;
  auto image =
      image::tiledFromRows(size, format, memory(), pool(), {}, [&](int first, int count, std::byte* rows) -> base::Status {
        pool().forEach(count, [&](int y) {
          std::byte* row = rows + std::size_t(y) * std::size_t(size.width) * std::size_t(channels);
          for (int x = 0; x < size.width; ++x) {
            for (int c = 0; c < channels; ++c) *row++ = std::byte(int(value(x, first + y, c)));
          }
        });
        return {};
      });
  return std::move(image).value();
}

image::TiledImage picture(base::Size size, int seed) {
  return made(size, 3, [=](int x, int y, int c) {
    return 128 + 90 * std::sin(float(x + seed * 77) / 55.f + float(c)) + (x * 7 + y * 3) % 20;
  });
}

// A ring: four pixels in a hundred are fractional, half of the others shows.
image::TiledImage mask(base::Size size) {
  const float w = float(size.width), h = float(size.height), radius = h * 0.42f, soft = 0.04f * w * h / (6.2832f * radius);
  return made(size, 1, [=](int x, int y, int) {
    return 255 * std::clamp((radius - std::hypot(float(x) - w / 2, float(y) - h / 2)) / soft + 0.5f, 0.f, 1.f);
  });
}

const image::TiledImage& fullPicture(int seed) {
  static std::map<int, image::TiledImage> all;
  auto& p = all[seed];
  if (p.isNull()) p = picture(kFull, seed);
  return p;
}
const image::TiledImage& fullMask() {
  static const image::TiledImage m = mask(kFull);
  return m;
}

bool isCurve(int layer) {
  return layer % 5 == 4;
}
constexpr scene::BlendMode kModes[] = {scene::BlendMode::normal, scene::BlendMode::multiply, scene::BlendMode::screen,
                                       scene::BlendMode::softLight};

// Pictures, all but the backmost masked, in changing modes; every fifth layer is a curve. The canvas shows the part
// `canvas` of them.
scene::Scene sceneOf(int layers, scene::Mixing mixing, base::Size canvas) {
  scene::Scene s;
  s.canvas = canvas;
  s.mixing = mixing;
  for (int i = 0; i < layers; ++i) {
    scene::Layer l;
    l.id = {std::uint64_t(i + 1)};
    if (isCurve(i)) {
      l.content = scene::AdjustmentContent{scene::Curves{{{0, 0.02}, {0.5, 0.46}, {1, 0.97}}, {}, {}, {}}};
    } else {
      scene::PictureContent p;
      p.source = fullPicture(i);
      l.content = std::move(p);
      if (i > 0) l.mask.coverage = fullMask();
      l.mode = kModes[i % 4];
    }
    s.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
  }
  return s;
}

void rate(benchmark::State& state, base::Size size) {
  state.counters["Mpx/s"] =
      benchmark::Counter(double(size.width) * size.height / 1e6, benchmark::Counter::kIsIterationInvariantRate);
}

// (a) What the memory allows: on two threads, every byte of the same pictures and masks is read once, and as many bytes are
// written as the composite writes.
void streamed(benchmark::State& state, const scene::Scene& s) {
  std::vector<std::uint32_t> out(std::size_t(kFull.width) * kFull.height);
  for (auto _ : state) {
    const int columns = (kFull.width + 255) / 256, rows = (kFull.height + 255) / 256;
    pool().forEach(columns * rows, [&](int t) {
      const int column = t % columns, row = t / columns;
      std::uint64_t sum = 0;
      const auto read = [&](const image::TiledImage& i) {
        const auto pin = image::pin(i.level(0).tile(column, row)).value();
        if (pin.isUniform()) return;
        const auto* words = reinterpret_cast<const std::uint64_t*>(pin.data());
        for (std::size_t k = 0, n = image::kTilePixels * image::bytesOf(i.format()) / 8; k < n; ++k) sum += words[k];
      };
      for (const auto& l : s.layers) {
        if (const auto* p = l->picture()) read(p->source);
        if (l->mask.acts()) read(l->mask.coverage);
      }
      const int right = std::min(kFull.width, column * 256 + 256), bottom = std::min(kFull.height, row * 256 + 256);
      for (int y = row * 256; y < bottom; ++y)
        std::fill(out.begin() + long(y) * kFull.width + column * 256, out.begin() + long(y) * kFull.width + right,
                  std::uint32_t(sum));
    });
    benchmark::DoNotOptimize(out.data());
    benchmark::ClobberMemory();
  }
  rate(state, kFull);
}
void stream(benchmark::State& state) {
  streamed(state, sceneOf(int(state.range(0)), scene::Mixing::linear, kFull));
}
BENCHMARK(stream)->Arg(4)->Arg(10)->Unit(benchmark::kMillisecond)->UseRealTime();

void composited(benchmark::State& state, const scene::Scene& s, base::Executor& executor) {
  render::Renderer renderer;
  std::vector<std::uint32_t> out(std::size_t(s.canvas.width) * std::size_t(s.canvas.height));
  const std::size_t width = std::size_t(s.canvas.width);
  for (auto _ : state) {
    const auto done =
        renderer.renderTo(s, base::Rect::of(s.canvas), 0, executor, [&](const base::Rect& part, const render::Planes& p) {
          for (int y = 0; y < part.height; ++y)
            render::packRgb32(p, y * part.width, part.width, out.data() + std::size_t(part.y + y) * width + std::size_t(part.x));
        });
    if (!done.ok()) std::abort();
    benchmark::DoNotOptimize(out.data());
    benchmark::ClobberMemory();
  }
  rate(state, s.canvas);
}

void composite(benchmark::State& state) {
  composited(state, sceneOf(int(state.range(0)), scene::Mixing(state.range(1)), kFull), pool());
}
BENCHMARK(composite)
    ->ArgNames({"layers", "encoded"})
    ->Args({1, 0})
    ->Args({2, 0})
    ->Args({4, 0})
    ->Args({10, 0})
    ->Args({20, 0})
    ->Args({10, 1})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

// Twenty layers as a poster has them: nine pictures, eight adjustments, two cast shadows, a background out of focus.
scene::Scene poster() {
  scene::Scene s = sceneOf(9, scene::Mixing::linear, kFull);
  std::erase_if(s.layers, [](const scene::LayerRef& l) { return l->adjustment() != nullptr; });
  std::uint64_t id = 100;
  const auto add = [&](std::size_t at, auto content) {
    scene::Layer l;
    l.id = {id++};
    l.content = std::move(content);
    s.layers.insert(s.layers.begin() + long(at), std::make_shared<const scene::Layer>(std::move(l)));
  };
  for (int k = 0; s.layers.size() < 9; ++k) {
    scene::PictureContent p;
    p.source = fullPicture(k);
    add(s.layers.size(), std::move(p));
    scene::Layer masked = *s.layers.back();
    masked.mask.coverage = fullMask();
    s.layers.back() = std::make_shared<const scene::Layer>(std::move(masked));
  }
  const auto caster = s.layers[3]->id;
  add(1, scene::AdjustmentContent{scene::with(scene::parametric(scene::AdjustmentId::defocus), "radius", 12)});
  for (int k = 0; k < 2; ++k) {
    scene::CastShadow cast;
    cast.foot = {kFull.width / 2.0, kFull.height * 0.9};
    cast.light.azimuthDeg = k == 0 ? -150 : 120;
    add(2, scene::LightContent{caster, cast});
  }
  const scene::Adjustment all[] = {scene::Curves{{{0, 0.02}, {0.5, 0.46}, {1, 0.97}}, {}, {}, {}},
                                   scene::Levels{0.02, 0.98, 1.1, 0, 1},
                                   scene::Exposure{0.2},
                                   scene::Saturation{-0.1},
                                   scene::ColourBalance{{0.05, 0}, {}, {0, 0.05}},
                                   scene::parametric(scene::AdjustmentId::vivid),
                                   scene::with(scene::parametric(scene::AdjustmentId::warmth), "mired", 30),
                                   scene::Curves{{{0, 0}, {0.3, 0.33}, {1, 1}}, {}, {}, {}}};
  for (const auto& a : all) add(s.layers.size(), scene::AdjustmentContent{a});
  return s;
}
void posterStream(benchmark::State& state) {
  streamed(state, poster());
}
BENCHMARK(posterStream)->Unit(benchmark::kMillisecond)->UseRealTime();
void posterComposite(benchmark::State& state) {
  composited(state, poster(), pool());
}
BENCHMARK(posterComposite)->Iterations(1)->Unit(benchmark::kMillisecond)->UseRealTime();

void compositeBySize(benchmark::State& state) {
  composited(state, sceneOf(10, scene::Mixing::linear, {int(state.range(0)), int(state.range(0)) * 2 / 3}), pool());
}
BENCHMARK(compositeBySize)->ArgName("width")->Arg(750)->Arg(1500)->Arg(3000)->Unit(benchmark::kMillisecond)->UseRealTime();

void compositeByThreads(benchmark::State& state) {
  const auto threads = base::makePool(int(state.range(0)));
  composited(state, sceneOf(10, scene::Mixing::linear, kFull), *threads);
}
BENCHMARK(compositeByThreads)->ArgName("threads")->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond)->UseRealTime();

// Each picture scaled and turned a little: the way through the resampler.
void compositePlaced(benchmark::State& state) {
  scene::Scene s = sceneOf(4, scene::Mixing::linear, {3000, 2000});
  for (auto& l : s.layers) {
    if (!l->picture()) continue;
    scene::Layer moved = *l;
    auto& at = std::get<scene::PictureContent>(moved.content).placement;
    at.scale = 0.43;
    at.rotationDeg = double(state.range(0));
    l = std::make_shared<const scene::Layer>(std::move(moved));
  }
  composited(state, s, pool());
}
BENCHMARK(compositePlaced)->ArgName("degrees")->Arg(0)->Arg(3)->Unit(benchmark::kMillisecond)->UseRealTime();

// A bent picture with a mask as the window shows it at fit: by its corners alone, and by a grid.
void compositeBent(benchmark::State& state) {
  scene::Scene s = sceneOf(2, scene::Mixing::linear, kFull);
  scene::Layer bent = *s.layers[1];
  auto warp = std::make_shared<scene::Warp>();
  if (state.range(0) == 1) {
    *warp = scene::withGrid({}, kFull, 4, 4);
    for (std::size_t i = 0; i < warp->grid.size(); ++i)
      warp->grid[i].x += 60 * std::sin(double(i)), warp->grid[i].y += 40 * std::cos(double(i));
  }
  warp->corners = {{200, 100}, {5900, 0}, {6000, 4000}, {0, 3900}};
  std::get<scene::PictureContent>(bent.content).warp = warp;
  bent.mode = scene::BlendMode::normal;
  s.layers[1] = std::make_shared<const scene::Layer>(std::move(bent));
  const int level = 2;
  render::Renderer renderer;
  for (auto _ : state) {
    const auto done = renderer.renderTo(s, base::Rect::of(render::canvasAt(s, level)), level, pool(),
                                        [](const base::Rect&, const render::Planes& p) { benchmark::DoNotOptimize(p.alpha()); });
    if (!done.ok()) std::abort();
  }
}
BENCHMARK(compositeBent)->ArgName("grid")->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->UseRealTime();

// What every step of dragging a bend asks for first: the way back through a grid of 4 × 4, and through eight tacks.
void inverseWarp(benchmark::State& state) {
  scene::Warp warp;
  if (state.range(0) == 0) {
    warp = scene::withGrid({}, kFull, 4, 4);
    warp.grid[7].x += 150;
  }
  for (int k = 0; state.range(0) > 0 && k < 8; ++k) {
    const base::Point at{kFull.width * (0.2 + 0.2 * (k % 4)), kFull.height * (k < 4 ? 0.3 : 0.7)};
    warp.tacks.push_back({at, {at.x + (k == 5 ? 150 : 0), at.y}});
  }
  for (auto _ : state) {
    const render::InverseWarp way(warp, kFull, int(state.range(1)));
    benchmark::DoNotOptimize(way.bounds());
  }
}
BENCHMARK(inverseWarp)
    ->ArgNames({"tacks", "level"})
    ->Args({0, 0})
    ->Args({0, 2})
    ->Args({8, 0})
    ->Args({8, 2})
    ->Unit(benchmark::kMillisecond);

// One event of a stroke on one thread, as the window does it.
void stroke(benchmark::State& state) {
  base::InlineExecutor here;
  const auto& m = fullMask();
  paint::Stroke s(m, {double(state.range(0)), 0.6, 1}, paint::Pressure::none, 0, false);
  double t = 0;
  for (auto _ : state) {
    t += 0.05;
    if (!s.to({{1000 + 600 * std::sin(t), 1000 + 500 * std::cos(1.3 * t)}, 1}, here).ok()) std::abort();
  }
}
BENCHMARK(stroke)->Arg(20)->Arg(200)->Arg(1000)->Unit(benchmark::kMillisecond);

// (b) The same pictures through a well-kept peer: a composite of the pictures that are not curves, alpha from the same mask,
// libvips' own modes. Its curves would be maplut calls; they are left out, in its favour.
void libvips(benchmark::State& state) {
  const int layers = int(state.range(0));
  const auto flat = [](const image::TiledImage& i) { return image::read8(i, 0, base::Rect::of(i.size())).value(); };
  std::vector<image::Raster<std::uint8_t>> kept;
  std::vector<VipsImage*> in;
  std::vector<int> modes;
  const auto wrap = [&](image::Raster<std::uint8_t> r) {
    kept.push_back(std::move(r));
    const auto& k = kept.back();
    return vips_image_new_from_memory(k.samples().data(), k.samples().size(), k.width(), k.height(), k.channels(),
                                      VIPS_FORMAT_UCHAR);
  };
  kept.reserve(std::size_t(layers) + 1);
  for (int i = 0; i < layers; ++i) {
    if (isCurve(i)) continue;
    image::Raster<std::uint8_t> colours = flat(fullPicture(i));
    image::Raster<std::uint8_t> withAlpha(colours.width(), colours.height(), 4, 255);
    const image::Raster<std::uint8_t> m = flat(fullMask());
    for (std::size_t p = 0; p < colours.pixels(); ++p) {
      for (std::size_t c = 0; c < 3; ++c) withAlpha.samples()[p * 4 + c] = colours.samples()[p * 3 + c];
      if (i > 0) withAlpha.samples()[p * 4 + 3] = m.samples()[p];
    }
    in.push_back(wrap(std::move(withAlpha)));
    in.back()->Type = VIPS_INTERPRETATION_sRGB;
    constexpr int kTheirs[] = {VIPS_BLEND_MODE_OVER, VIPS_BLEND_MODE_MULTIPLY, VIPS_BLEND_MODE_SCREEN,
                               VIPS_BLEND_MODE_SOFT_LIGHT};
    if (in.size() > 1) modes.push_back(kTheirs[i % 4]);
  }
  for (auto _ : state) {
    VipsImage *joined = nullptr, *bytes = nullptr;
    if (vips_composite(in.data(), &joined, int(in.size()), modes.data(), nullptr) || vips_cast_uchar(joined, &bytes, nullptr))
      vips_error_exit("libvips");
    std::size_t size = 0;
    void* memory = vips_image_write_to_memory(bytes, &size);
    if (!memory) std::abort();
    g_free(memory);
    g_object_unref(bytes);
    g_object_unref(joined);
  }
  for (VipsImage* i : in) g_object_unref(i);
  rate(state, kFull);
}
BENCHMARK(libvips)->ArgName("layers")->Arg(10)->Iterations(1)->Unit(benchmark::kMillisecond)->UseRealTime();

// ------------------------------------------------------------------ the edge of a 24 megapixel cut, one thread

void unrollOutline(benchmark::State& state) {
  for (auto _ : state) {
    auto outline = matte::unrolled(fullMask());
    if (!outline.ok()) std::abort();
    state.counters["px"] = double(outline->places.size());
  }
}
BENCHMARK(unrollOutline)->Unit(benchmark::kMillisecond);

// What the ribbon shows at once in a window of 1280 px.
void ribbonPart(benchmark::State& state) {
  const auto outline = matte::unrolled(fullMask());
  const auto& colours = fullPicture(0);
  if (!outline.ok() || outline->places.size() < 600) std::abort();
  for (auto _ : state) {
    if (!matte::edgeStrip(*outline, 0, 580, 24, fullMask(), colours, {0.2, 0.6, 0.3}).ok()) std::abort();
    if (!matte::edgeReadings(*outline, 0, 580, fullMask(), colours, colours).ok()) std::abort();
  }
}
BENCHMARK(ribbonPart)->Unit(benchmark::kMillisecond);

void pathCoverage(benchmark::State& state) {
  path::Path p;
  auto contours = path::contours(fullMask(), 100);
  if (!contours.ok() || contours->empty()) std::abort();
  p.outlines.push_back(path::fitted(contours->front().points, 1).outline);
  for (auto _ : state) {
    if (!path::coverage(p, kFull, memory(), pool()).ok()) std::abort();
  }
  state.counters["nodes"] = double(p.outlines[0].nodes.size());
}
BENCHMARK(pathCoverage)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace

int main(int argc, char** argv) {
  if (VIPS_INIT(argv[0])) return 1;
  vips_concurrency_set(2);
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
