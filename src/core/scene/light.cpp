#include "core/scene/light.h"

#include <cmath>

namespace hseam::scene {
namespace {

bool within(double v, double low, double high) {
  return v >= low && v <= high;
}
bool isLightColour(const Colour3& c) {
  return within(c[0], 0, 1) && within(c[1], 0, 1) && within(c[2], 0, 1);
}
bool isPlace(base::Point p) {
  return within(p.x, -1e7, 1e7) && within(p.y, -1e7, 1e7);
}
bool fits(const LightFrom& l) {
  return within(l.azimuthDeg, -180, 180) && within(l.elevationDeg, 1, 90) && within(l.sizeDeg, 0, 60);
}

struct LightFits {
  bool operator()(const CastShadow& s) const {
    return fits(s.light) && isPlace(s.foot) && within(s.density, 0, 1) && within(s.fadeHeights, 0.2, 100) &&
           isLightColour(s.colour) && within(s.wallY, 0, 1e7);
  }
  bool operator()(const ContactShadow& s) const {
    for (const base::Point& p : s.line) {
      if (!isPlace(p)) return false;
    }
    return s.line.size() <= 10000 && within(s.widthPx, 0.5, 400) && within(s.density, 0, 1) && within(s.flatness, 0.05, 1) &&
           isLightColour(s.colour);
  }
  bool operator()(const Shading& s) const {
    return fits(s.light) && within(s.roundPx, 2, 1000) && within(s.lights, 0, 1) && within(s.darks, 0, 1);
  }
  bool operator()(const EdgeLight& s) const {
    return fits(s.light) && within(s.widthPx, 0.5, 400) && within(s.softness, 0, 1) && within(s.lit, 0, 1) &&
           within(s.dark, 0, 1) && isLightColour(s.litColour) && isLightColour(s.darkColour);
  }
};

}  // namespace

const char* lightName(const LightKind& kind) {
  static constexpr const char* kNames[] = {"cast shadow", "contact shadow", "shading", "lit edge"};
  return kNames[kind.index()];
}

base::Status validLight(const LightContent& light) {
  if (std::visit(LightFits{}, light.kind)) return {};
  return base::Error{base::Code::invalid, lightName(light.kind), "one of its values is out of range"};
}

}  // namespace hseam::scene
