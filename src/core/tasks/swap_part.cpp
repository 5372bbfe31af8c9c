#include "core/tasks/swap_part.h"

#include <algorithm>
#include <cmath>
#include <opencv2/imgproc.hpp>

#include "core/frames/frame.h"
#include "core/frames/registration.h"
#include "core/frames/seam_labels.h"
#include "core/image/lab.h"
#include "core/image/rgb.h"
#include "core/image/transfer.h"

namespace hseam::tasks {
namespace {

using base::Code;
using base::Error;
using base::Rect;
using base::Result;
using frames::Frame;
using frames::Homography;
using image::PixelFormat;
using image::Raster;
using image::TiledImage;

constexpr double kRoomShare = 1.0 / 6;  // of the root of the part's area
constexpr int kLeastRoom = 6;
constexpr double kSearch = 0.6;  // of the part's longer side: how far off it is looked for
constexpr double kMostTurn = 40, kMostScale = 1.6;
constexpr std::size_t kLeastPlaces = 8;

Homography homographyOf(const base::Affine& m) {
  return {{m.a, m.b, m.e, m.c, m.d, m.f, 0, 0, 1}};
}
Homography shift(double x, double y) {
  return {{1, 0, x, 0, 1, y, 0, 0, 1}};
}

// The best similarity, about the middle of a window.
Homography similarityOf(const frames::Drift& d, base::Size window) {
  const double cx = window.width / 2.0, cy = window.height / 2.0, a = d.rotationDeg * M_PI / 180;
  const double c = d.scale * std::cos(a), s = d.scale * std::sin(a);
  return {{c, -s, cx + d.dx - c * cx + s * cy, s, c, cy + d.dy - s * cx - c * cy, 0, 0, 1}};
}

// The part within a window of the base: what is chosen, and how far the seam may run beyond it.
struct Part {
  Rect box, window;
  cv::Mat chosen, room;  // of the window
  int roomPx = 0;
};

Result<Part> partOf(const TiledImage& part, double roomPx) {
  HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(part, 0, Rect::of(part.size())));
  const cv::Mat chosen = cv::Mat(read.height(), read.width(), CV_8U, const_cast<std::uint8_t*>(read.row(0))) > 127;
  const cv::Rect box = cv::boundingRect(chosen);
  if (box.empty()) return Error{Code::invalid, "", "nothing is chosen"};
  Part out;
  out.box = {box.x, box.y, box.width, box.height};
  out.roomPx = roomPx > 0 ? int(std::lround(roomPx))
                          : std::max(kLeastRoom, int(kRoomShare * std::sqrt(double(cv::countNonZero(chosen(box))))));
  const int around = std::max(2 * out.roomPx, int(kSearch * std::max(box.width, box.height)));
  out.window = out.box.grown(around).intersected(Rect::of(part.size()));
  out.chosen = chosen(cv::Rect(out.window.x, out.window.y, out.window.width, out.window.height)).clone();
  cv::Mat distance;
  cv::distanceTransform(~out.chosen, distance, cv::DIST_L2, cv::DIST_MASK_5);
  out.room = (distance <= float(out.roomPx)) & ~out.chosen;
  return out;
}

TiledImage tiled(const cv::Mat& grey, const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                 base::Status& status) {
  Raster<std::uint8_t> r(grey.cols, grey.rows, 1);
  for (int y = 0; y < grey.rows; ++y) std::copy_n(grey.ptr<std::uint8_t>(y), grey.cols, r.row(y));
  auto made = image::tiledFromRaster(r, PixelFormat::grey8, memory, executor);
  if (!made.ok()) status = made.error();
  return made.ok() ? *made : TiledImage();
}

Raster<std::uint8_t> eightBit(const Raster<float>& rgb) {
  Raster<std::uint8_t> out(rgb.width(), rgb.height(), 3);
  std::transform(rgb.samples().begin(), rgb.samples().end(), out.samples().begin(),
                 [](float v) { return image::wholeOf<std::uint8_t>(v * 255); });
  return out;
}

// Where the part of the other picture lies: px of the window of the other one, as its placement puts it → px of the base's
// window. Only what is within the part and its room is recognised, so that a wall behind a head that has turned says nothing.
Result<std::optional<frames::Registration>> recognised(const Raster<float>& base, const Raster<float>& other, const Part& part,
                                                       const std::shared_ptr<image::TileMemory>& memory, base::Executor& executor,
                                                       const base::Progress& progress) {
  Raster<float> inside = base;
  cv::Mat shown(base.height(), base.width(), CV_32FC3, inside.row(0));
  const cv::Mat within = part.chosen | part.room;
  // Beyond it the colours of its rim fade away, without an edge of their own.
  cv::Mat weight, sum;
  within.convertTo(weight, CV_32F, 1 / 255.0);
  cv::Mat three;
  cv::merge(std::vector<cv::Mat>{weight, weight, weight}, three);
  sum = shown.mul(three);
  const double wide = std::max(4.0, part.roomPx / 2.0);
  cv::GaussianBlur(sum, sum, {}, wide);
  cv::GaussianBlur(three, three, {}, wide);
  const cv::Scalar mean = cv::mean(shown, within);
  for (int i = 0; i < int(within.total()); ++i) {
    if (within.ptr<std::uint8_t>()[i]) continue;
    const float w = three.ptr<cv::Vec3f>()[i][0];
    for (int c = 0; c < 3; ++c) {
      const float far = float(mean[c]);
      shown.ptr<cv::Vec3f>()[i][c] = w > 1e-4f ? (sum.ptr<cv::Vec3f>()[i][c] + 0.02f * far) / (w + 0.02f) : far;
    }
  }
  HSEAM_TRY(const TiledImage a, image::tiledFromRaster(eightBit(inside), PixelFormat::rgb8, memory, executor));
  HSEAM_TRY(const TiledImage b, image::tiledFromRaster(eightBit(other), PixelFormat::rgb8, memory, executor));
  const auto prepared = frames::BaseFrame::of(a, executor);
  // A part without any detail is no error: it lies where it was placed.
  if (!prepared.ok() && prepared.error().code == Code::invalid) return std::optional<frames::Registration>();
  if (!prepared.ok()) return prepared.error();
  HSEAM_TRY(frames::Registration r, frames::registered(*prepared, b, executor, progress));
  if (!r.found) return std::optional<frames::Registration>();
  const auto fit = std::size_t(std::count_if(r.landmarks.begin(), r.landmarks.end(), [](const auto& l) { return l.fits; }));
  const frames::Drift d = frames::driftOf(r.toBase, a.size());
  const bool plausible =
      fit >= kLeastPlaces && std::abs(d.rotationDeg) < kMostTurn && d.scale < kMostScale && d.scale > 1 / kMostScale;
  return plausible ? std::optional(std::move(r)) : std::nullopt;
}

// CIEDE2000 between the means over a mask, in light.
std::optional<double> toneBetween(const Raster<float>& a, const Raster<float>& b, const cv::Mat& mask) {
  double sum[2][3] = {}, n = 0;
  const auto channels = std::size_t(b.channels());
  for (int i = 0; i < int(mask.total()); ++i) {
    const float *p = a.samples().data() + std::size_t(i) * 3, *q = b.samples().data() + std::size_t(i) * channels;
    if (!mask.ptr<std::uint8_t>()[i] || (channels == 4 && q[3] <= 0)) continue;
    for (std::size_t c = 0; c < 3; ++c)
      sum[0][c] += double(image::fastLinear(p[c])), sum[1][c] += double(image::fastLinear(q[c]));
    n += 1;
  }
  if (n < 20) return std::nullopt;
  const auto lab = [&](const double(&s)[3]) {
    return image::labFromEncoded(
        {image::encodedFromLinear(s[0] / n), image::encodedFromLinear(s[1] / n), image::encodedFromLinear(s[2] / n)});
  };
  return image::deltaE2000(lab(sum[0]), lab(sum[1]));
}

// The seam's mask on the window, 0..255, soft by a px.
Result<cv::Mat> seamOf(const TiledImage& base, const Frame& part, const Part& where, base::Executor& executor,
                       const base::Progress& progress) {
  base::Status status;
  // The middle of what is chosen is sure; everything beyond the room stays.
  cv::Mat depth, picks(where.chosen.size(), CV_8U, cv::Scalar(1));
  cv::distanceTransform(where.chosen, depth, cv::DIST_L2, cv::DIST_MASK_5);
  picks.setTo(0, where.chosen | where.room);
  picks.setTo(2, depth > float(std::min(3, where.roomPx / 2)));
  const TiledImage said = tiled(picks, base.memory(), executor, status);
  HSEAM_DO(status);
  HSEAM_TRY(const frames::SeamLabels found,
            frames::seamLabels({Frame(base), part}, said, frames::UnpickedOfBase::stays, executor, progress));
  HSEAM_TRY(const Raster<std::uint8_t> labels, image::read8(found.labels, 0, Rect::of(base.size())));
  cv::Mat mask = cv::Mat(labels.height(), labels.width(), CV_8U, const_cast<std::uint8_t*>(labels.row(0))) == 2;
  cv::GaussianBlur(mask, mask, {}, 0.8);
  return mask;
}

// Where the other picture is masked, it does not show here either.
base::Status maskedBy(const TiledImage& otherMask, const Homography& toOther, cv::Mat& mask) {
  HSEAM_TRY(const Raster<float> read, image::readFloat(otherMask, 0, Rect::of(otherMask.size())));
  for (int y = 0; y < mask.rows; ++y) {
    for (int x = 0; x < mask.cols; ++x) {
      const base::Point p = toOther.map({x + 0.5, y + 0.5});
      const int u = int(std::floor(p.x)), v = int(std::floor(p.y));
      const bool there = u >= 0 && v >= 0 && u < read.width() && v < read.height();
      auto& m = mask.at<std::uint8_t>(y, x);
      m = there ? image::wholeOf<std::uint8_t>(float(m) * *read.at(u, v)) : std::uint8_t(0);
    }
  }
  return {};
}

// What is taken out of the other one's light; nothing where its tone would not come nearer by it.
Result<frames::LightChange> lightOf(const TiledImage& theirs, const Homography& map, const TiledImage& ownWindow,
                                    const Raster<float>& colours, const Part& part, bool match, base::Executor& executor,
                                    PartSwap& out) {
  const base::Size window = ownWindow.size();
  HSEAM_TRY(const Raster<float> moved, Frame(theirs, map, window, {}).read(0, Rect::of(window)));
  out.toneBefore = toneBetween(colours, moved, part.room);
  out.toneAfter = out.toneBefore;
  if (!match) return frames::LightChange{};
  HSEAM_TRY(const TiledImage movedWindow,
            image::tiledFromRaster(eightBit(image::rgbOf(moved)), PixelFormat::rgb8, ownWindow.memory(), executor));
  HSEAM_TRY(const frames::LightChange light, frames::lightChange(ownWindow, movedWindow, {}));
  if (!light.known) return frames::LightChange{};
  HSEAM_TRY(const Raster<float> lit, Frame(theirs, map, window, light).read(0, Rect::of(window)));
  const auto tone = toneBetween(colours, lit, part.room);
  if (!tone || !out.toneBefore || *tone >= *out.toneBefore) return frames::LightChange{};
  out.toneAfter = tone;
  out.gainStops = light.gainStops;
  return light;
}

// On the whole grid of the base's picture: the mask can be painted wider by hand. window: where the mask lies in it.
Result<scene::Layer> layerOf(const scene::Layer& base, const scene::Layer& other, const Frame& part, const Rect& window,
                             const cv::Mat& mask, base::Executor& executor, const base::Progress& progress) {
  const scene::PictureContent &p = *base.picture(), &q = *other.picture();
  scene::PictureContent content;
  HSEAM_TRY(content.source, frames::onBase(part, executor, progress));
  content.sourceName = q.sourceName;
  content.sourceHash = q.sourceHash;
  content.about = q.about;
  content.permission = q.permission;
  content.placement = p.placement;
  content.warp = p.warp;
  Raster<std::uint8_t> onWindow(window.width, window.height, 1);
  for (int y = 0; y < window.height; ++y) std::copy_n(mask.ptr<std::uint8_t>(y), window.width, onWindow.row(y));
  scene::Layer l;
  l.name = base.name + ", part of " + other.name;
  l.content = std::move(content);
  const auto nothing = image::uniformCoverage(part.size(), 0, p.source.memory());
  HSEAM_TRY(l.mask.coverage, image::withPixels(nothing, window, onWindow, executor));
  return l;
}

// In front of the base and of what is confined to it; that is repeated for the part.
void putInFront(const scene::Scene& scene, const scene::Layer& base, scene::Layer part, PartSwap& out) {
  std::uint64_t fresh = scene::freeId(scene).value;
  part.id = out.layer = {fresh++};
  out.edit.label = "swap a part of " + base.name;
  const scene::Position at = *scene::positionOf(scene, base.id);
  const scene::Layer* parent = scene::findLayer(scene, at.parent);
  const scene::GroupContent* group = parent ? parent->group() : nullptr;
  const auto& list = group ? group->layers : scene.layers;
  int index = at.index + 1;
  std::vector<scene::Layer> confined;
  for (; std::size_t(index) < list.size() && list[std::size_t(index)]->clip; ++index) {
    if (list[std::size_t(index)]->adjustment()) confined.push_back(*list[std::size_t(index)]);
  }
  out.edit.edits.push_back({scene::AddLayer{std::move(part), at.parent, index++}});
  for (scene::Layer& a : confined) {
    a.id = {fresh++};
    out.edit.edits.push_back({scene::AddLayer{std::move(a), at.parent, index++}});
    ++out.adjustments;
  }
}

}  // namespace

Result<PartSwap> swapPart(const scene::Scene& scene, scene::LayerId baseId, const TiledImage& chosen, scene::LayerId otherId,
                          const SwapOptions& options, base::Executor& executor, const base::Progress& progress) {
  const scene::Layer *base = scene::findLayer(scene, baseId), *other = scene::findLayer(scene, otherId);
  if (!base || !other) return Error{Code::notFound, "", "the layer is gone"};
  if (!base->picture() || !other->picture() || baseId == otherId)
    return Error{Code::invalid, other->name, "a part is taken from another picture"};
  const scene::PictureContent &p = *base->picture(), &q = *other->picture();
  const TiledImage &own = p.shown(), &theirs = q.shown();
  if (chosen.size() != own.size()) return Error{Code::conflict, base->name, "what is chosen does not fit the picture"};
  HSEAM_TRY(const Part part, partOf(chosen, options.roomPx));
  const Rect& w = part.window;
  const base::Size window{w.width, w.height};
  // px of the other picture → px of the window, as both are placed.
  const auto sceneToOwn = p.placement.toScene(own.size()).inverse();
  if (!sceneToOwn) return Error{Code::invalid, base->name, "it is placed without a size"};
  const Homography placed =
      shift(-w.x, -w.y).after(homographyOf(*sceneToOwn).after(homographyOf(q.placement.toScene(theirs.size()))));

  HSEAM_TRY(const Raster<float> here, image::readFloat(own, 0, w));
  const Raster<float> colours = image::rgbOf(here);
  HSEAM_TRY(const TiledImage ownWindow, image::tiledFromRaster(eightBit(colours), PixelFormat::rgb8, own.memory(), executor));
  const Frame asPlaced(theirs, placed, window, {});
  HSEAM_TRY(const Raster<float> there, asPlaced.read(0, Rect::of(window)));
  if (std::none_of(there.samples().begin(), there.samples().end(), [](float v) { return v > 0; }))
    return Error{Code::invalid, other->name, "it does not reach to where the part lies"};
  progress.report(0.1);

  PartSwap out;
  Homography map = placed;
  if (options.align) {
    HSEAM_TRY(const auto found, recognised(colours, image::rgbOf(there), part, own.memory(), executor, progress.part(0.1, 0.5)));
    if (found) {
      // About the part's middle, so that turn and size do not read as a shift.
      const Rect box{part.box.x - w.x, part.box.y - w.y, part.box.width, part.box.height};
      const frames::Drift whole = frames::driftOf(found->toBase, window);
      const Homography similar = similarityOf(whole, window);
      out.aligned = true;
      out.moved = frames::driftOf(shift(-box.x, -box.y).after(similar.after(shift(box.x, box.y))), {box.width, box.height});
      out.residualPx = found->residualPx;
      map = similar.after(placed);
    }
  }
  HSEAM_TRY(const frames::LightChange light, lightOf(theirs, map, ownWindow, colours, part, options.matchTone, executor, out));
  const Frame final(theirs, map, window, light);
  HSEAM_TRY(cv::Mat mask, seamOf(ownWindow, final, part, executor, progress.part(0.5, 0.7)));
  if (other->mask.acts()) HSEAM_DO(maskedBy(other->mask.coverage, map.inverse(), mask));

  HSEAM_TRY(scene::Layer layer, layerOf(*base, *other, Frame(theirs, shift(w.x, w.y).after(map), own.size(), light), w, mask,
                                        executor, progress.part(0.7, 1)));
  putInFront(scene, *base, std::move(layer), out);
  return out;
}

}  // namespace hseam::tasks
