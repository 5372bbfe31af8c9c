// adjust_bench: every adjustment and effect at its usual numbers, in nanoseconds a pixel of one thread, beside a pass that only
// reads and writes the same planes, and the soft blur beside OpenCV's, in the same run.

#include <benchmark/benchmark.h>

#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/render/adjust.h"
#include "core/render/effects/effect.h"

namespace {

using namespace hseam;

constexpr int kSide = 1024;

render::Planes made() {
  render::Planes p(kSide * kSide);
  std::uint32_t noise = 1;
  for (int i = 0; i < p.count(); ++i) {
    for (int c = 0; c < 3; ++c) {
      noise = noise * 1664525u + 1013904223u;
      p.colour(c)[i] =
          std::clamp(0.5f + 0.35f * std::sin(float(i % kSide) / 40.f + float(c)) + float(noise >> 24) / 2550.f, 0.f, 1.f);
    }
    p.alpha()[i] = 1;
  }
  return p;
}

void perPixel(benchmark::State& state) {
  state.counters["ns/px"] =
      benchmark::Counter(double(state.iterations()) * kSide * kSide, benchmark::Counter::kIsRate | benchmark::Counter::kInvert);
}

void memoryPass(benchmark::State& state) {
  const render::Planes from = made();
  render::Planes to = made();
  for (auto _ : state) {
    to = from;
    benchmark::DoNotOptimize(to.alpha());
  }
  perPixel(state);
}
BENCHMARK(memoryPass)->Unit(benchmark::kMillisecond);

void adjustment(benchmark::State& state, const scene::Adjustment& a) {
  const render::Planes from = made();
  render::Planes to = made();
  const render::BakedAdjustment baked(a);
  for (auto _ : state) {
    baked.apply(from, to);
    benchmark::DoNotOptimize(to.alpha());
  }
  perPixel(state);
}

void effect(benchmark::State& state, const scene::ParametricAdjustment& n) {
  const render::Planes from = made();
  render::Planes to = made();
  const render::EffectWindow window{{0, 0, kSide, kSide}, 0, {kSide, kSide}};
  for (auto _ : state) {
    to = from;
    render::applyEffect(n, window, to, &from);
    benchmark::DoNotOptimize(to.alpha());
  }
  perPixel(state);
}

// The same blur of four planes, light and coverage left out.
void openCvGaussian(benchmark::State& state) {
  render::Planes p = made();
  const double sigma = double(state.range(0));
  for (auto _ : state) {
    for (int c = 0; c < 4; ++c) {
      cv::Mat plane(kSide, kSide, CV_32F, p.colour(c)), out;
      cv::GaussianBlur(plane, out, cv::Size(), sigma, sigma, cv::BORDER_REPLICATE);
      benchmark::DoNotOptimize(out.data);
    }
  }
  perPixel(state);
}
BENCHMARK(openCvGaussian)->Arg(4)->Arg(20)->Arg(60)->Unit(benchmark::kMillisecond);

}  // namespace

int main(int argc, char** argv) {
  cv::setNumThreads(1);
  benchmark::RegisterBenchmark("curves", [](benchmark::State& s) {
    adjustment(s, scene::Curves{{{0, 0}, {0.4, 0.5}, {1, 1}}, {}, {}, {}});
  })->Unit(benchmark::kMillisecond);
  for (const auto& k : scene::adjustmentKinds()) {
    const scene::ParametricAdjustment n = scene::parametric(k.id);
    if (scene::looksAround(scene::Adjustment(n))) {
      benchmark::RegisterBenchmark(k.key, [n](benchmark::State& s) { effect(s, n); })->Unit(benchmark::kMillisecond);
    } else {
      benchmark::RegisterBenchmark(k.key, [n](benchmark::State& s) { adjustment(s, n); })->Unit(benchmark::kMillisecond);
    }
  }
  for (const int sigma : {4, 20, 60})
    benchmark::RegisterBenchmark(("gaussian/" + std::to_string(sigma)).c_str(), [sigma](benchmark::State& s) {
      effect(s, with(scene::parametric(scene::AdjustmentId::gaussian), "sigma", sigma));
    })->Unit(benchmark::kMillisecond);
  for (const int radius : {5, 20, 50, 100})
    benchmark::RegisterBenchmark(("defocus/" + std::to_string(radius)).c_str(), [radius](benchmark::State& s) {
      effect(s, with(scene::parametric(scene::AdjustmentId::defocus), "radius", radius));
    })->Unit(benchmark::kMillisecond);
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
}
