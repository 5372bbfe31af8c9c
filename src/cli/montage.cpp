// hseam montage BASE FRAME... --picks P.png --out OUT [--labels L.png] [--registered] [--mode pick|lightest]

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include "cli/command.h"
#include "core/frames/light.h"
#include "core/frames/montage.h"
#include "core/frames/registration.h"
#include "core/image/picture_file.h"

namespace hseam::cli {
namespace {

struct MontageOptions {
  std::string base, picks, out, labels, mode = "pick";
  std::vector<std::string> frames;
  bool registered = false;
};

// The frames on the base's pixels, in its light; those that are of no use are told and left out of the picture, but keep their
// number.
struct Laid {
  std::vector<frames::Frame> frames;
  Json told = Json::array();
};

base::Result<Laid> layFrames(Run& run, const MontageOptions& o) {
  Laid out;
  HSEAM_TRY(const image::Picture base, image::readPicture(o.base, run.memory(), run.executor(), {}));
  out.frames.emplace_back(base.pixels);
  std::optional<frames::BaseFrame> prepared;
  if (!o.registered) {
    auto made = run.work([&] { return frames::BaseFrame::of(base.pixels, run.executor()); });
    if (!made.ok()) return base::Error{made.error().code, o.base, made.error().detail};
    prepared = std::move(*made);
  }
  const bool keepsItsLight = o.mode == "lightest";
  for (const std::string& path : o.frames) {
    HSEAM_TRY(const image::Picture frame, image::readPicture(path, run.memory(), run.executor(), {}));
    HSEAM_DO(sameSize(base.pixels.size(), frame.pixels.size(), path));
    frames::Homography map;
    bool use = true;
    Json j{{"file", path}};
    if (prepared) {
      auto found = run.work([&] { return frames::registered(*prepared, frame.pixels, run.executor(), {}); });
      if (!found.ok()) return found.error();
      map = found->toBase;
      use = found->use;
      j["verdict"] = use ? "use" : "leave it out";
      if (!use) j["reason"] = found->reason;
    }
    auto laid = run.work([&]() -> base::Result<frames::Frame> {
      if (!use) {
        constexpr std::array<std::byte, 8> kNothing{};
        return frames::Frame(image::TiledImage::uniform(base.pixels.size(), image::PixelFormat::rgba16, kNothing, run.memory()));
      }
      frames::LightChange light;
      if (!keepsItsLight) {
        HSEAM_TRY(light, frames::lightChange(base.pixels, frame.pixels, map));
      }
      if (!light.known) light = {};
      j["gain_stops"] = light.gainStops;
      const bool asItIs =
          map == frames::Homography{} && std::abs(light.gainStops) + std::abs(light.redStops) + std::abs(light.blueStops) < 0.01;
      if (asItIs) return frames::Frame(frame.pixels);
      return frames::Frame(frame.pixels, map, base.pixels.size(), light);
    });
    if (!laid.ok()) return laid.error();
    out.frames.push_back(*laid);
    out.told.push_back(std::move(j));
  }
  return out;
}

base::Result<Json> compose(Run& run, const MontageOptions& o) {
  if (o.mode == "pick" && o.picks.empty())
    return base::Error{base::Code::invalid, "--picks",
                       "says which place comes from which picture; it is needed but for --mode lightest"};
  HSEAM_TRY(const Laid laid, layFrames(run, o));
  const base::Size size = laid.frames[0].size();
  image::TiledImage picks = image::uniformCoverage(size, 0, run.memory());
  if (!o.picks.empty()) {
    HSEAM_TRY(picks, image::readCoverage(o.picks, run.memory(), run.executor()));
    HSEAM_DO(sameSize(size, picks.size(), o.picks));
    if (picks.format() != image::PixelFormat::grey8)
      return base::Error{base::Code::unsupported, o.picks, "picks must have 8 bit: 0 = free, k = from picture k"};
  }
  auto made = run.work([&] {
    return o.mode == "pick" ? frames::montage(laid.frames, picks, frames::UnpickedOfBase::goes, run.executor(), run.progress())
                            : frames::lightest(laid.frames, run.executor(), run.progress());
  });
  if (!made.ok()) return base::Error{made.error().code, o.picks, made.error().detail};
  HSEAM_DO(image::writeTiled(o.out, made->picture));
  if (!o.labels.empty()) HSEAM_DO(image::writeTiled(o.labels, made->labels));
  return Json{{"frames", laid.told}, {"shares", made->shares}, {"seam_cost", made->seamCost}};
}

}  // namespace

void addMontage(Commands& commands) {
  const auto o = std::make_shared<MontageOptions>();
  CLI::App* sub =
      commands.add("montage", "one picture from several frames of a place, each part from the frame that is picked for it",
                   [o](Run& run) { return compose(run, *o); });
  sub->add_option("base", o->base, "the picture that stays as it is")->required();
  sub->add_option("frames", o->frames, "pictures of the same place, of the same size")->required();
  sub->add_option("--picks", o->picks, "8-bit grey: 0 = free, k = this place comes from picture k (1 = base)");
  sub->add_option("--out", o->out, "the picture")->required();
  sub->add_option("--labels", o->labels, "8-bit grey: k = this pixel comes from picture k");
  sub->add_flag("--registered", o->registered, "the frames lie on each other already");
  sub->add_option("--mode", o->mode, "pick, or lightest: at each place the lightest of all")
      ->check(CLI::IsMember({"pick", "lightest"}));
}

}  // namespace hseam::cli
