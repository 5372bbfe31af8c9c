#include "reference/composite.h"

#include <algorithm>
#include <cmath>

#include "test_main.h"

namespace hseam::reference {
namespace {

using Rgb = std::array<double, 3>;
using scene::BlendMode;
using scene::Layer;
using scene::Mixing;
using scene::Scene;

double lin(double e) {
  return e <= 0.04045 ? e / 12.92 : std::pow((e + 0.055) / 1.055, 2.4);
}
double enc(double l) {
  return l <= 0.0031308 ? 12.92 * l : 1.055 * std::pow(l, 1 / 2.4) - 0.055;
}

double one(BlendMode mode, double b, double s) {
  b = std::clamp(b, 0.0, 1.0);  // rounding of what came before
  s = std::clamp(s, 0.0, 1.0);
  switch (mode) {
    case BlendMode::multiply:
      return b * s;
    case BlendMode::screen:
      return 1 - (1 - b) * (1 - s);
    case BlendMode::overlay:
      return b <= 0.5 ? 2 * b * s : 1 - 2 * (1 - b) * (1 - s);
    case BlendMode::softLight: {
      if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
      const double d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : std::sqrt(b);
      return b + (2 * s - 1) * (d - b);
    }
    case BlendMode::hardLight:
      return one(BlendMode::overlay, s, b);
    case BlendMode::darken:
      return std::min(b, s);
    case BlendMode::lighten:
      return std::max(b, s);
    case BlendMode::colorDodge:
      return b == 0 ? 0 : (s == 1 ? 1 : std::min(1.0, b / (1 - s)));
    case BlendMode::colorBurn:
      return b == 1 ? 1 : (s == 0 ? 0 : 1 - std::min(1.0, (1 - b) / s));
    case BlendMode::difference:
      return std::abs(b - s);
    case BlendMode::exclusion:
      return b + s - 2 * b * s;
    case BlendMode::add:
      return enc(std::min(1.0, lin(b) + lin(s)));
    case BlendMode::subtract:
      return enc(std::max(0.0, lin(b) - lin(s)));
    case BlendMode::divide:
      return s == 0 ? (b > 0 ? 1 : 0) : enc(std::min(1.0, lin(b) / lin(s)));
    default:
      return s;
  }
}

double saturation(const Rgb& c) {
  return *std::max_element(c.begin(), c.end()) - *std::min_element(c.begin(), c.end());
}

// The text's SetSat by its own three cases: the largest gets s, the middle its share, the smallest 0.
Rgb withSaturation(const Rgb& c, double s) {
  std::array<std::size_t, 3> order{0, 1, 2};
  std::sort(order.begin(), order.end(), [&](std::size_t x, std::size_t y) { return c[x] < c[y]; });
  Rgb out{};
  if (c[order[2]] > c[order[0]]) {
    out[order[1]] = (c[order[1]] - c[order[0]]) * s / (c[order[2]] - c[order[0]]);
    out[order[2]] = s;
  }
  return out;
}

double lum(const Rgb& c) {
  return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
}

Rgb withLum(Rgb c, double l) {
  const double d = l - lum(c);
  for (double& v : c) v += d;
  if (c[0] == c[1] && c[1] == c[2]) return {l, l, l};
  const double y = lum(c), n = *std::min_element(c.begin(), c.end()), x = *std::max_element(c.begin(), c.end());
  for (double& v : c) {
    if (n < 0) v = y + (v - y) * y / (y - n);
  }
  for (double& v : c) {
    if (x > 1) v = y + (v - y) * (1 - y) / (x - y);
  }
  return c;
}

// One value of an 8- or 16-bit picture.
class Samples {
 public:
  explicit Samples(const image::TiledImage& image)
      : raster_(test::must(image::readFloat(image, 0, base::Rect::of(image.size())))) {}
  double at(int x, int y, int c) const { return double(raster_.at(x, y)[c]); }
  int channels() const { return raster_.channels(); }

 private:
  image::Raster<float> raster_;
};

class Painter {
 public:
  Painter(const Scene& scene, const base::Rect& area)
      : scene_(scene), area_(area), count_(std::size_t(area.width) * std::size_t(area.height)) {}

  void paint(const std::vector<scene::LayerRef>& layers, std::vector<Pixel>& canvas) {
    for (std::size_t i = 0; i < layers.size(); ++i) {
      std::size_t end = i + 1;
      while (end < layers.size() && layers[end]->clip) ++end;
      if (layers[i]->hidden) {
        i = end - 1;
        continue;
      }
      if (layers[i]->adjustment()) {
        for (; i < end; ++i) {
          if (!layers[i]->hidden) single(*layers[i], canvas);
        }
        --i;
        continue;
      }
      if (end == i + 1 && layers[i]->group() && !layers[i]->group()->isolated) {
        open(*layers[i], canvas);
        continue;
      }
      // A base with what is confined to it.
      std::vector<Pixel> base = own(*layers[i]);
      std::vector<Pixel> inside = base;
      for (Pixel& p : inside) p.alpha = 1;
      for (std::size_t k = i + 1; k < end; ++k) {
        if (!layers[k]->hidden) single(*layers[k], inside);
      }
      for (std::size_t p = 0; p < count_; ++p) {
        canvas[p] = laid(canvas[p], inside[p].colour, base[p].alpha, layers[i]->opacity, layers[i]->mode, scene_.mixing);
      }
      i = end - 1;
    }
  }

 private:
  // The W3C text's group that is not isolated. The group's own alpha is found by painting its layers on nothing: adjustments
  // and colours do not change it.
  void open(const Layer& l, std::vector<Pixel>& canvas) {
    const std::vector<double> mask = maskOf(l);
    const std::vector<Pixel> before = canvas;
    std::vector<Pixel> after = canvas, alone(count_);
    paint(l.group()->layers, after);
    paint(l.group()->layers, alone);
    for (std::size_t p = 0; p < count_; ++p) {
      const Pixel &b = before[p], &n = after[p];
      if (l.mode == BlendMode::normal) {
        // Between before and after, weighted by alpha: encoded by the opacity, then as light by the mask.
        Pixel x = n;
        x.alpha = (1 - l.opacity) * b.alpha + l.opacity * n.alpha;
        for (std::size_t c = 0; c < 3 && x.alpha > 0; ++c)
          x.colour[c] = ((1 - l.opacity) * b.alpha * b.colour[c] + l.opacity * n.alpha * n.colour[c]) / x.alpha;
        Pixel& out = canvas[p];
        out.alpha = (1 - mask[p]) * b.alpha + mask[p] * x.alpha;
        for (std::size_t c = 0; c < 3 && out.alpha > 0; ++c) {
          const bool light = scene_.mixing == Mixing::linear;
          const auto to = [&](double v) { return light ? lin(v) : v; };
          const double sum = ((1 - mask[p]) * b.alpha * to(b.colour[c]) + mask[p] * x.alpha * to(x.colour[c])) / out.alpha;
          out.colour[c] = light ? enc(sum) : sum;
        }
        continue;
      }
      const double own = alone[p].alpha;
      if (own <= 0) continue;
      Rgb colour{};
      for (std::size_t c = 0; c < 3; ++c)
        colour[c] = std::clamp(n.colour[c] + (n.colour[c] - b.colour[c]) * (b.alpha / own - b.alpha), 0.0, 1.0);
      canvas[p] = laid(b, colour, own * mask[p], l.opacity, l.mode, scene_.mixing);
    }
  }

  void single(const Layer& l, std::vector<Pixel>& canvas) {
    if (l.group() && !l.group()->isolated) return open(l, canvas);
    const std::vector<double> mask = maskOf(l);
    if (const auto* a = l.adjustment()) {
      const scene::AdjustmentFunction f(a->adjustment);
      for (std::size_t p = 0; p < count_; ++p) {
        if (canvas[p].alpha <= 0) continue;
        const Pixel opaque{canvas[p].colour, 1};
        canvas[p].colour = laid(opaque, f(canvas[p].colour), mask[p], l.opacity, l.mode, scene_.mixing).colour;
      }
      return;
    }
    const std::vector<Pixel> source = own(l);
    for (std::size_t p = 0; p < count_; ++p)
      canvas[p] = laid(canvas[p], source[p].colour, source[p].alpha, l.opacity, l.mode, scene_.mixing);
  }

  std::vector<double> maskOf(const Layer& l) const {
    std::vector<double> out(count_, 1.0);
    if (!l.mask.enabled || l.mask.coverage.isNull() || l.picture()) return out;
    const Samples m(l.mask.coverage);
    for (std::size_t p = 0; p < count_; ++p) out[p] = m.at(area_.x + int(p) % area_.width, area_.y + int(p) / area_.width, 0);
    return out;
  }

  // A picture's or a group's own pixels on the canvas; alpha is its coverage with the mask.
  std::vector<Pixel> own(const Layer& l) {
    std::vector<Pixel> out(count_);
    if (const auto* g = l.group()) {
      paint(g->layers, out);
      const std::vector<double> mask = maskOf(l);
      for (std::size_t p = 0; p < count_; ++p) out[p].alpha *= mask[p];
      return out;
    }
    const auto* picture = l.picture();
    const Samples colours(picture->shown());
    const bool masked = l.mask.enabled && !l.mask.coverage.isNull();
    const Samples mask(masked ? l.mask.coverage : picture->shown());
    const int dx = int(picture->placement.x), dy = int(picture->placement.y);
    const base::Size size = picture->source.size();
    for (int y = 0; y < area_.height; ++y) {
      for (int x = 0; x < area_.width; ++x) {
        const int px = area_.x + x - dx, py = area_.y + y - dy;
        if (px < 0 || py < 0 || px >= size.width || py >= size.height) continue;
        Pixel& o = out[std::size_t(y) * std::size_t(area_.width) + std::size_t(x)];
        for (int c = 0; c < 3; ++c) o.colour[std::size_t(c)] = colours.at(px, py, c);
        o.alpha = (colours.channels() == 4 ? colours.at(px, py, 3) : 1.0) * (masked ? mask.at(px, py, 0) : 1.0);
      }
    }
    return out;
  }

  const Scene& scene_;
  base::Rect area_;
  std::size_t count_;
};

}  // namespace

Rgb blend(BlendMode mode, const Rgb& b, const Rgb& s) {
  if (mode == BlendMode::hue) return withLum(withSaturation(s, saturation(b)), lum(b));
  if (mode == BlendMode::saturation) return withLum(withSaturation(b, saturation(s)), lum(b));
  if (mode == BlendMode::color) return withLum(s, lum(b));
  if (mode == BlendMode::luminosity) return withLum(b, lum(s));
  return {one(mode, b[0], s[0]), one(mode, b[1], s[1]), one(mode, b[2], s[2])};
}

Pixel laid(const Pixel& b, const Rgb& source, double a, double o, BlendMode mode, Mixing mixing) {
  const double alphaX = o + b.alpha * (1 - o);
  const Rgb mixed = blend(mode, b.colour, source);
  Pixel out;
  out.alpha = (1 - a) * b.alpha + a * alphaX;
  if (out.alpha <= 0) return out;
  for (std::size_t c = 0; c < 3; ++c) {
    const double x =
        alphaX > 0 ? (o * ((1 - b.alpha) * source[c] + b.alpha * mixed[c]) + (1 - o) * b.alpha * b.colour[c]) / alphaX : 0;
    if (mixing == Mixing::encoded) {
      out.colour[c] = ((1 - a) * b.alpha * b.colour[c] + a * alphaX * x) / out.alpha;
    } else {
      out.colour[c] = enc(((1 - a) * b.alpha * lin(b.colour[c]) + a * alphaX * lin(x)) / out.alpha);
    }
  }
  return out;
}

std::vector<Pixel> composite(const Scene& scene) {
  return composite(scene, base::Rect::of(scene.canvas));
}

std::vector<Pixel> composite(const Scene& scene, const base::Rect& area) {
  std::vector<Pixel> canvas(std::size_t(area.width) * std::size_t(area.height));
  Painter(scene, area).paint(scene.layers, canvas);
  return canvas;
}

}  // namespace hseam::reference
