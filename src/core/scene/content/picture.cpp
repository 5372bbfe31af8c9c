#include "core/scene/content/picture.h"

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/scene/content/kind.h"
#include "core/scene/edit.h"
#include "core/scene/json_side.h"
#include "core/scene/made_record.h"
#include "core/scene/permission_record.h"

namespace hseam::scene {

using Json = nlohmann::json;

namespace {

const PictureContent& pictureOf(const Layer& l) {
  return *l.picture();
}
base::Error wrongPicture(const Layer& layer, const char* what) {
  return {base::Code::invalid, layer.name, what};
}

// The parts of a cut by their key; null pictures are left out.
struct CutPart {
  const char* key;
  image::TiledImage Cutout::*picture;
};
constexpr CutPart kCutParts[] = {{"selection", &Cutout::selection}, {"hints", &Cutout::hints},   {"band", &Cutout::band},
                                 {"alpha", &Cutout::alpha},         {"shaped", &Cutout::shaped}, {"clean", &Cutout::clean}};

Json aboutJson(const image::Metadata& m) {
  Json j = Json::object();
  for (const auto& [key, value] : {std::pair("camera", &m.camera),
                                   {"lens", &m.lens},
                                   {"takenAt", &m.takenAt},
                                   {"title", &m.title},
                                   {"creator", &m.creator},
                                   {"rights", &m.rights},
                                   {"sourceType", &m.sourceType}}) {
    if (!value->empty()) j[key] = *value;
  }
  for (const auto& [key, value] : {std::pair("exposureS", m.exposureS),
                                   {"aperture", m.aperture},
                                   {"focalMm", m.focalMm},
                                   {"focal35Mm", m.focal35Mm},
                                   {"iso", double(m.iso)}}) {
    if (value > 0) j[key] = value;
  }
  return j;
}
image::Metadata aboutFrom(const Json& j) {
  image::Metadata m;
  m.camera = j.value("camera", "");
  m.lens = j.value("lens", "");
  m.takenAt = j.value("takenAt", "");
  m.title = j.value("title", "");
  m.creator = j.value("creator", "");
  m.rights = j.value("rights", "");
  m.sourceType = j.value("sourceType", "");
  m.exposureS = j.value("exposureS", 0.0);
  m.aperture = j.value("aperture", 0.0);
  m.focalMm = j.value("focalMm", 0.0);
  m.focal35Mm = j.value("focal35Mm", 0.0);
  m.iso = int(std::clamp(j.value("iso", 0.0), 0.0, 1e8));
  return m;
}

Json pictureJson(const PictureContent& p, const RecordOut& out) {
  Json cut = {{"useClean", p.cutout->useClean}, {"recipe", p.cutout->recipe}};
  for (const CutPart& part : kCutParts) {
    if (const auto& picture = (*p.cutout).*part.picture; !picture.isNull()) cut[part.key] = out.image(picture);
  }
  if (!p.cutout->edgePlan.empty()) cut["edgePlan"] = p.cutout->edgePlan;
  for (const NamedSelection& n : p.cutout->saved) cut["saved"].push_back({{"name", n.name}, {"coverage", out.image(n.coverage)}});
  Json j = {{"source", out.image(p.source)},
            {"sourceName", p.sourceName},
            {"sourceHash", p.sourceHash},
            {"placement", placementJson(p.placement)},
            {"cut", cut}};
  if (p.byHand) j["byHand"] = true;
  if (p.horizonY) j["horizonY"] = *p.horizonY;
  if (p.warp) j["warp"] = toJson(*p.warp);
  if (!p.reference.isNull()) j["reference"] = out.image(p.reference);
  if (p.realHeightM > 0) j["realHeightM"] = p.realHeightM;
  if (p.about != image::Metadata{}) j["about"] = aboutJson(p.about);
  if (p.permission) j["permission"] = permissionJson(*p.permission);
  if (p.frames) j["frames"] = toJson(*p.frames, out);
  return j;
}

base::Result<PictureContent> pictureFrom(const Json& j, const RecordIn& in) {
  PictureContent p;
  HSEAM_TRY(p.source, in.image(j.at("source").get<std::string>()));
  p.sourceName = j.at("sourceName").get<std::string>();
  p.sourceHash = j.at("sourceHash").get<std::string>();
  p.about = aboutFrom(j.value("about", Json::object()));
  if (j.contains("permission")) p.permission = permissionFrom(j.at("permission"));
  p.placement = placementFrom(j.at("placement"));
  if (j.contains("warp")) p.warp = std::make_shared<const Warp>(warpFromJson(j.at("warp")));
  p.realHeightM = j.value("realHeightM", 0.0);
  p.byHand = j.value("byHand", false);
  if (j.contains("horizonY")) p.horizonY = j.at("horizonY").get<double>();
  if (j.contains("reference")) {
    HSEAM_TRY(p.reference, in.image(j.at("reference").get<std::string>()));
  }
  if (j.contains("frames")) {
    HSEAM_TRY(FrameSet set, frameSetFrom(j.at("frames"), in));
    p.frames = std::make_shared<const FrameSet>(std::move(set));
  }
  const Json& cut = j.at("cut");
  Cutout& kept = p.cutout.edit();
  kept.useClean = cut.at("useClean").get<bool>();
  kept.recipe = cut.at("recipe").get<std::string>();
  kept.edgePlan = cut.value("edgePlan", "");
  for (const Json& n : cut.value("saved", Json::array())) {
    NamedSelection& named = kept.saved.emplace_back(NamedSelection{n.at("name").get<std::string>(), {}});
    HSEAM_TRY(named.coverage, in.image(n.at("coverage").get<std::string>()));
  }
  for (const CutPart& part : kCutParts) {
    if (!cut.contains(part.key)) continue;
    HSEAM_TRY(kept.*part.picture, in.image(cut.at(part.key).get<std::string>()));
  }
  return p;
}

base::Status validPicture(const Scene& scene, const Layer& l) {
  const auto* p = l.picture();
  if (p->source.isNull()) return wrongPicture(l, "a picture layer needs a picture");
  if (!(p->placement.scale >= 1e-4 && p->placement.scale <= 1e4))
    return wrongPicture(l, "the scale must lie within 0.0001 to 10000");
  if (!validPlacement(p->placement)) return wrongPicture(l, "the placement is out of reach");
  if (p->byHand && p->source.format() != image::PixelFormat::rgba8)
    return wrongPicture(l, "what is painted on must be 8-bit RGBA");
  const base::Size size = p->source.size();
  const Cutout& c = *p->cutout;
  for (const image::TiledImage* i : {&c.selection, &c.hints, &c.band, &c.alpha, &c.shaped}) {
    if (i->isNull()) continue;
    if (i->size() != size || i->format() != image::PixelFormat::grey8)
      return wrongPicture(l, "a part of the cut does not fit the picture");
  }
  for (const NamedSelection& kept : c.saved) {
    if (kept.coverage.isNull() || kept.coverage.size() != size || kept.coverage.format() != image::PixelFormat::grey8)
      return wrongPicture(l, "a saved selection does not fit the picture");
  }
  if (!c.clean.isNull() && (c.clean.size() != size || c.clean.format() != p->source.format())) {
    return wrongPicture(l, "the clean colours do not fit the picture");
  }
  if (p->warp) {
    if (const auto ok = validWarp(*p->warp, size); !ok.ok()) return base::Error{ok.error().code, l.name, ok.error().detail};
  }
  if (p->permission) {
    if (const auto ok = validPermission(*p->permission); !ok.ok()) return base::Error{ok.error().code, l.name, ok.error().detail};
  }
  if (p->frames) HSEAM_DO(validFrameSet(*p->frames, size, l.name));
  if (p->horizonY && !(std::abs(*p->horizonY) < 1e6)) return wrongPicture(l, "its horizon is out of reach");
  if (!p->reference.isNull() && (p->reference.size() != scene.canvas || p->reference.format() != image::PixelFormat::grey8))
    return wrongPicture(l, "what it is compared with does not fit the canvas");
  if (!(p->realHeightM >= 0 && p->realHeightM <= 10000)) return wrongPicture(l, "the real height must lie within 0 to 10000 m");
  return {};
}

// Resampling spreads the edge by its kernel's reach.
base::Rect pictureBounds(const Scene&, const Layer& l) {
  const PictureContent& p = pictureOf(l);
  const base::Size size = p.source.size();
  const base::Rect own = p.warp ? boundsOf(*p.warp, size) : base::Rect::of(size);
  return base::boundsOf(p.placement.toScene(size), own).grown(3);
}

// Selections, hints and bands do not show.
bool pictureLooksSame(const Layer& la, const Layer& lb) {
  const PictureContent &a = pictureOf(la), &b = pictureOf(lb);
  const bool sameBend = a.warp == b.warp || (a.warp && b.warp && *a.warp == *b.warp);
  return sameBend && a.shown().stamp() == b.shown().stamp() && a.placement == b.placement;
}

void pictureImages(const Layer& l, const std::function<void(const image::TiledImage&)>& visit) {
  const PictureContent& p = pictureOf(l);
  const auto seen = [&](const image::TiledImage& i) {
    if (!i.isNull()) visit(i);
  };
  seen(p.source);
  for (const CutPart& part : kCutParts) seen((*p.cutout).*part.picture);
  for (const NamedSelection& kept : p.cutout->saved) seen(kept.coverage);
  seen(p.reference);
  if (p.frames) forEachImage(*p.frames, visit);
}

// A placement such that its map is `m` after the old one: the picture's middle decides where it goes.
Placement followedPlacement(const Placement& p, base::Size picture, const base::Affine& m) {
  const base::Point middle = m.map(p.toScene(picture).map({picture.width / 2.0, picture.height / 2.0}));
  Placement out = p;
  out.scale = p.scale * m.scale();
  out.rotationDeg = std::remainder(p.rotationDeg + m.turnDeg(), 360);
  out.x = middle.x - out.scale * picture.width / 2;
  out.y = middle.y - out.scale * picture.height / 2;
  return out;
}

// Its mask lies on it; only what it is compared with lies on the canvas.
base::Result<std::vector<AnyEdit>> pictureWithCanvas(const Layer& l, const CanvasMap& map) {
  const PictureContent& p = pictureOf(l);
  std::vector<AnyEdit> edits{{SetPlacement{l.id, followedPlacement(p.placement, p.source.size(), map.toNew)}}};
  if (MaskNumbers n = l.mask.numbers; n.heldAt) {
    n.heldAt = followedPlacement(*n.heldAt, p.source.size(), map.toNew);
    edits.push_back({SetMaskNumbers{l.id, std::move(n), "with the canvas"}});
  }
  if (!p.reference.isNull()) {
    HSEAM_TRY(image::TiledImage reference, map.resampled(p.reference, true));
    edits.push_back({SetReference{l.id, std::move(reference)}});
  }
  return edits;
}

// Marks on a canvas of another size stay behind.
void copiedPicture(Layer& l, const std::function<void(LayerId&)>&, base::Size canvas) {
  auto& p = std::get<PictureContent>(l.content);
  if (!p.reference.isNull() && p.reference.size() != canvas) p.reference = {};
}

}  // namespace

const ContentKind PictureContent::kKind{
    .key = "picture",
    .casts = true,
    .valid = validPicture,
    .bounds = pictureBounds,
    .grid = [](const Layer& l) -> std::optional<PixelGrid> {
      const PictureContent& p = pictureOf(l);
      return PixelGrid{p.source.size(), p.placement.toScene(p.source.size())};
    },
    .looksSame = pictureLooksSame,
    .forEachImage = pictureImages,
    .follows = [](const Layer&) { return LayerId{}; },
    .copied = copiedPicture,
    .write = [](const Layer& l, const RecordOut& out, Json& j) { j["picture"] = pictureJson(pictureOf(l), out); },
    .read = [](const Json& j, const RecordIn& in, Layer& l) -> base::Status {
      HSEAM_TRY(l.content, pictureFrom(j.at("picture"), in));
      return {};
    },
    .withCanvas = pictureWithCanvas};

}  // namespace hseam::scene
