// render_bench: the renderer beside a pass that only reads the same bytes and writes the result, in the same run. Each figure is
// checked against nothing having gone wrong: a failed render aborts.

#include <benchmark/benchmark.h>

#include <cmath>
#include <cstdio>
#include <cstdlib>

#include "core/paint/stroke.h"
#include "core/render/renderer.h"

namespace {

using namespace hseam;

constexpr int kSide = 2048;

std::shared_ptr<image::TileMemory> memory() {
  static const auto shared = image::TileMemory::create(std::size_t(4) << 30);
  return shared;
}

base::Executor& pool() {
  static const auto shared = base::makePool(0);
  return *shared;
}

image::TiledImage picture(int channels, int seed) {
  image::Raster<std::uint8_t> r(kSide, kSide, channels);
  for (int y = 0; y < kSide; ++y) {
    for (int x = 0; x < kSide; ++x) {
      for (int c = 0; c < channels; ++c)
        r.at(x, y)[c] = std::uint8_t(128 + 90 * std::sin((x + seed * 77) / 55.0 + c) + (x * 7 + y * 3) % 20);
    }
  }
  return image::tiledFromRaster(r, channels == 1 ? image::PixelFormat::grey8 : image::PixelFormat::rgb8, memory(), pool())
      .value();
}

// A soft disc: about four pixels in a hundred are fractional.
image::TiledImage mask() {
  image::Raster<std::uint8_t> r(kSide, kSide);
  for (int y = 0; y < kSide; ++y) {
    for (int x = 0; x < kSide; ++x)
      *r.at(x, y) = std::uint8_t(255 * std::clamp((800 - std::hypot(x - kSide / 2.0, y - kSide / 2.0)) / 34 + 0.5, 0.0, 1.0));
  }
  return image::tiledFromRaster(r, image::PixelFormat::grey8, memory(), pool()).value();
}

scene::Scene sceneOf(int layers, scene::Mixing mixing) {
  scene::Scene s;
  s.canvas = {kSide, kSide};
  s.mixing = mixing;
  const auto m = mask();
  for (int i = 0; i < layers; ++i) {
    scene::Layer l;
    l.id = {std::uint64_t(i + 1)};
    if (i > 0 && i % 4 == 3) {
      l.content = scene::AdjustmentContent{scene::Curves{{{0, 0.02}, {0.5, 0.46}, {1, 0.97}}, {}, {}, {}}};
    } else {
      scene::PictureContent p;
      p.source = picture(3, i);
      l.content = std::move(p);
      if (i > 0) l.mask.coverage = m;
      constexpr scene::BlendMode kModes[] = {scene::BlendMode::normal, scene::BlendMode::multiply, scene::BlendMode::screen};
      l.mode = kModes[i % 3];
    }
    s.layers.push_back(std::make_shared<const scene::Layer>(std::move(l)));
  }
  return s;
}

void composite(benchmark::State& state) {
  const scene::Scene s = sceneOf(int(state.range(0)), scene::Mixing(state.range(1)));
  render::Renderer renderer;
  for (auto _ : state) {
    auto out = renderer.render(s, {0, 0, kSide, kSide}, 0, pool());
    if (!out.ok()) std::abort();
    benchmark::DoNotOptimize(out->samples().data());
  }
  state.counters["Mpx/s"] = benchmark::Counter(double(kSide) * kSide / 1e6, benchmark::Counter::kIsIterationInvariantRate);
}
BENCHMARK(composite)
    ->Args({4, int(scene::Mixing::linear)})
    ->Args({4, int(scene::Mixing::encoded)})
    ->Args({10, int(scene::Mixing::linear)})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

// The physical limit beside it: the same pictures and masks read once and the same floats written once, on as many threads.
void stream(benchmark::State& state) {
  const int layers = int(state.range(0));
  const std::size_t perLayer = std::size_t(kSide) * kSide * 4;
  std::vector<std::vector<std::uint8_t>> sources(std::size_t(layers), std::vector<std::uint8_t>(perLayer, 7));
  std::vector<float> out(std::size_t(kSide) * kSide * 4);
  for (auto _ : state) {
    pool().forEach(kSide / 32, [&](int strip) {
      const std::size_t from = std::size_t(strip) * 32 * kSide * 4, to = from + std::size_t(32) * kSide * 4;
      for (std::size_t i = from; i < to; ++i) {
        std::uint32_t sum = 0;
        for (const auto& source : sources) sum += source[i];
        out[i] = float(sum);
      }
    });
    benchmark::DoNotOptimize(out.data());
    benchmark::ClobberMemory();
  }
  state.counters["Mpx/s"] = benchmark::Counter(double(kSide) * kSide / 1e6, benchmark::Counter::kIsIterationInvariantRate);
}
BENCHMARK(stream)->Arg(4)->Arg(10)->Unit(benchmark::kMillisecond)->UseRealTime();

// One event of a stroke on one thread, as the window does it.
void stroke(benchmark::State& state) {
  base::InlineExecutor here;
  const auto m = mask();
  paint::Stroke s(m, {double(state.range(0)), 0.6, 1}, paint::Pressure::none, 0, false);
  double t = 0;
  for (auto _ : state) {
    t += 0.05;
    if (!s.to({{1000 + 600 * std::sin(t), 1000 + 500 * std::cos(1.3 * t)}, 1}, here).ok()) std::abort();
  }
}
BENCHMARK(stroke)->Arg(20)->Arg(200)->Arg(1000)->Unit(benchmark::kMillisecond);

}  // namespace

BENCHMARK_MAIN();
