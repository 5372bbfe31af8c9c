#include "core/scene/fill.h"

#include <algorithm>

namespace hseam::scene {
namespace {

bool isColour(const std::array<double, 3>& c) {
  return std::all_of(c.begin(), c.end(), [](double v) { return v >= 0 && v <= 1; });
}

struct Fits {
  bool operator()(const SolidFill& f) const { return isColour(f.colour); }
  bool operator()(const GradientFill& f) const {
    double before = -1;
    for (const GradientFill::Stop& s : f.stops) {
      if (!(s.at > before && s.at >= 0 && s.at <= 1 && s.coverage >= 0 && s.coverage <= 1) || !isColour(s.colour)) return false;
      before = s.at;
    }
    const auto near = [](base::Point p) { return p.x > -1e7 && p.x < 1e7 && p.y > -1e7 && p.y < 1e7; };
    return f.stops.size() >= 2 && f.stops.size() <= 12 && near(f.from) && near(f.to);
  }
  bool operator()(const NoiseFill& f) const {
    return f.sizePx >= 1 && f.sizePx <= 4000 && f.octaves >= 1 && f.octaves <= 8 && isColour(f.dark) && isColour(f.light);
  }
};

}  // namespace

const char* fillName(const Fill& fill) {
  static constexpr const char* kNames[] = {"colour", "gradient", "noise"};
  return kNames[fill.index()];
}

base::Status validFill(const FillContent& f) {
  const auto wrong = [&](const char* what) { return base::Error{base::Code::invalid, fillName(f.fill), what}; };
  if (!std::visit(Fits{}, f.fill)) return wrong("one of its values is out of range");
  if (f.lettering) {
    if (const auto ok = text::valid(*f.lettering); !ok.ok()) return ok.error();
  }
  if (f.bend) {
    const base::Rect& box = f.bend->box;
    if (!f.lettering) return wrong("only words are bent");
    if (box.width < 1 || box.height < 1 || box.width > 1000000 || box.height > 1000000) return wrong("its bend is out of range");
    if (const auto ok = validWarp(f.bend->warp, {box.width, box.height}); !ok.ok()) return ok.error();
  }
  if (f.stroke && (path::fault(f.stroke->along) || !path::fits(f.stroke->style))) return wrong("its stroke is out of range");
  return {};
}

}  // namespace hseam::scene
