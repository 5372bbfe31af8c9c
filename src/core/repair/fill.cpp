#include "core/repair/fill.h"

#include <algorithm>
#include <opencv2/imgproc.hpp>

#include "core/image/rgb.h"
#include "core/repair/patch_fill.h"

namespace hseam::repair {
namespace {

using base::Error;
using base::Rect;
using base::Result;
using image::Raster;
using image::TiledImage;

// The boxes of the holes: what stands near another one is filled with it. px of level 0.
Result<std::vector<Rect>> holesOf(const TiledImage& hole) {
  HSEAM_TRY(const Raster<std::uint8_t> all, image::read8(hole, 0, Rect::of(hole.size())));
  cv::Mat bits(all.height(), all.width(), CV_8U), labels, stats, middles;
  for (int y = 0; y < all.height(); ++y) {
    for (int x = 0; x < all.width(); ++x) bits.at<std::uint8_t>(y, x) = *all.at(x, y) > 127 ? 255 : 0;
  }
  const int count = cv::connectedComponentsWithStats(bits, labels, stats, middles, 8);
  std::vector<Rect> boxes;
  for (int i = 1; i < count; ++i) {
    boxes.push_back({stats.at<int>(i, cv::CC_STAT_LEFT), stats.at<int>(i, cv::CC_STAT_TOP), stats.at<int>(i, cv::CC_STAT_WIDTH),
                     stats.at<int>(i, cv::CC_STAT_HEIGHT)});
  }
  constexpr int kNear = 24;
  for (bool joined = true; joined;) {
    joined = false;
    for (std::size_t a = 0; a < boxes.size() && !joined; ++a) {
      for (std::size_t b = a + 1; b < boxes.size() && !joined; ++b) {
        if (boxes[a].grown(kNear).intersected(boxes[b]).empty()) continue;
        boxes[a] = boxes[a].united(boxes[b]);
        boxes.erase(boxes.begin() + long(b));
        joined = true;
      }
    }
  }
  return boxes;
}

// Lines of the picture in px of an area.
std::vector<StructureLine> linesIn(const std::vector<StructureLine>& lines, const Rect& area) {
  std::vector<StructureLine> out = lines;
  for (StructureLine& line : out) {
    for (base::Point& p : line) p.x -= area.x, p.y -= area.y;
  }
  return out;
}

// The filled colours of an area into the picture, where the hole is.
Result<TiledImage> written(const TiledImage& picture, const Rect& area, const Raster<float>& colours,
                           const Raster<std::uint8_t>& hole, base::Executor& executor) {
  image::ImageEditor editor(picture);
  const int channels = image::channelsOf(picture.format()), side = image::kTileSide;
  const bool wide = image::isWide(picture.format());
  for (int row = area.y / side; row <= (area.bottom() - 1) / side; ++row) {
    for (int column = area.x / side; column <= (area.right() - 1) / side; ++column) {
      const Rect tile = Rect{column * side, row * side, side, side}.intersected(area);
      std::byte* bytes = nullptr;
      for (int y = tile.y; y < tile.bottom(); ++y) {
        for (int x = tile.x; x < tile.right(); ++x) {
          if (!*hole.at(x - area.x, y - area.y)) continue;
          if (!bytes) {
            HSEAM_TRY(bytes, editor.tile(column, row));
          }
          const float* c = colours.at(x - area.x, y - area.y);
          const std::size_t at =
              (std::size_t(y - row * side) * std::size_t(side) + std::size_t(x - column * side)) * std::size_t(channels);
          for (int k = 0; k < std::min(channels, 3); ++k) {
            const float v = std::clamp(c[k], 0.f, 1.f);
            if (wide) {
              reinterpret_cast<std::uint16_t*>(bytes)[at + std::size_t(k)] = std::uint16_t(std::lround(v * 65535));
            } else {
              reinterpret_cast<std::uint8_t*>(bytes)[at + std::size_t(k)] = std::uint8_t(std::lround(v * 255));
            }
          }
        }
      }
    }
  }
  return std::move(editor).commit(executor);
}

}  // namespace

Result<TiledImage> filled(const TiledImage& picture, const TiledImage& hole, const FillOptions& options, base::Executor& executor,
                          const base::Progress& progress, std::vector<CopiedFrom>* pieces) {
  for (const TiledImage* mask : {&hole, &options.from}) {
    if (mask->isNull() && mask == &options.from) continue;
    if (mask->isNull() || mask->size() != picture.size() || mask->format() != image::PixelFormat::grey8)
      return Error{base::Code::conflict, "", "the hole, or where it is filled from, does not fit the picture"};
  }
  HSEAM_TRY(const std::vector<Rect> boxes, holesOf(hole));
  TiledImage out = picture;
  for (std::size_t n = 0; n < boxes.size(); ++n) {
    const Rect& box = boxes[n];
    const base::Progress part = progress.part(double(n) / double(boxes.size()), double(n + 1) / double(boxes.size()));
    // As far around as the hole is wide, less of a large one; where only a part may be taken from, as far as that lies.
    constexpr int kLeastAround = 72, kLarge = 480;
    const int side = std::max(box.width, box.height), around = std::max(kLeastAround, std::min(side, (kLarge + side) / 2));
    Rect area = box.grown(options.from.isNull() ? around : 2 * around).intersected(Rect::of(picture.size()));
    const auto read = [&]() -> Result<bool> {
      HSEAM_TRY(Raster<float> colours, image::readFloat(out, 0, area));
      colours = image::rgbOf(std::move(colours));
      HSEAM_TRY(Raster<std::uint8_t> open, image::read8(hole, 0, area));
      Raster<std::uint8_t> source(area.width, area.height, 1, 1);
      Raster<std::uint8_t> own = open;
      for (std::size_t i = 0; i < open.samples().size(); ++i) {
        const bool is = open.samples()[i] > 127;
        const int x = area.x + int(i % std::size_t(area.width)), y = area.y + int(i / std::size_t(area.width));
        // Other holes are neither filled here nor taken from.
        own.samples()[i] = is && x >= box.x && y >= box.y && x < box.right() && y < box.bottom();
        source.samples()[i] = !is;
      }
      if (!options.from.isNull()) {
        HSEAM_TRY(const Raster<std::uint8_t> from, image::read8(options.from, 0, area));
        for (std::size_t i = 0; i < from.samples().size(); ++i) source.samples()[i] &= from.samples()[i] > 127;
      }
      // What lies along the lines is filled first, and what is left of the hole from there.
      Raster<std::uint8_t> rest = own;
      const bool continued = continueLines(colours, rest, source, linesIn(options.lines, area));
      const bool left = std::any_of(rest.samples().begin(), rest.samples().end(), [](auto v) { return v != 0; });
      bool done = continued && !left;
      if (left) {
        Raster<std::int32_t> taken;
        HSEAM_TRY(done, fillPatches(colours, rest, source, options.seed, executor, part, pieces ? &taken : nullptr));
        if (done && pieces) {
          constexpr std::size_t kMostPieces = 12;
          for (CopiedFrom piece : piecesOf(taken, rest, kMostPieces)) {
            for (Rect* r : {&piece.to, &piece.from}) r->x += area.x, r->y += area.y;
            pieces->push_back(piece);
          }
        }
      }
      if (done) {
        HSEAM_TRY(out, written(out, area, colours, own, executor));
      }
      return done;
    };
    HSEAM_TRY(bool done, read());
    if (!done && area != Rect::of(picture.size())) {
      area = Rect::of(picture.size());
      HSEAM_TRY(done, read());
    }
    if (!done) return Error{base::Code::invalid, "", "nothing is left that the hole could be filled from"};
  }
  return out;
}

}  // namespace hseam::repair
