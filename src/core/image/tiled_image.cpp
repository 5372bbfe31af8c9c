#include "core/image/tiled_image.h"

#include <algorithm>
#include <atomic>
#include <cstring>
#include <new>
#include <set>

#include "core/base/stamp.h"
#include "core/image/halving.h"

namespace hseam::image {
namespace {

using Level = TiledImage::Level;
using Row = std::vector<TileRef>;

int tilesFor(int px) {
  return (px + kTileSide - 1) / kTileSide;
}

Level emptyLevel(base::Size size, const TileRef& fill) {
  Level level{size, tilesFor(size.width), tilesFor(size.height), {}};
  const auto row = std::make_shared<const Row>(std::size_t(level.columns), fill);
  level.rowRefs.assign(std::size_t(level.rows), row);
  return level;
}

std::vector<Level> emptyLevels(base::Size size, const TileRef& fill) {
  std::vector<Level> levels{emptyLevel(size, fill)};
  while (std::max(levels.back().size.width, levels.back().size.height) > kTileSide) {
    const base::Size s = levels.back().size;
    levels.push_back(emptyLevel({(s.width + 1) / 2, (s.height + 1) / 2}, fill));
  }
  return levels;
}

struct Place {
  int column, row;
  friend auto operator<=>(const Place&, const Place&) = default;
};

void replaceTiles(Level& level, const std::vector<Place>& places, const std::vector<TileRef>& tiles) {
  std::vector<std::shared_ptr<Row>> own(level.rowRefs.size());
  for (std::size_t i = 0; i < places.size(); ++i) {
    auto& row = own[std::size_t(places[i].row)];
    if (!row) row = std::make_shared<Row>(*level.rowRefs[std::size_t(places[i].row)]);
    (*row)[std::size_t(places[i].column)] = tiles[i];
  }
  for (std::size_t r = 0; r < own.size(); ++r) {
    if (own[r]) level.rowRefs[r] = own[r];
  }
}

// Makes the tiles of `above` that stand over changed tiles of `below` anew; returns their places.
base::Result<std::vector<Place>> renewLevel(const Level& below, Level& above, PixelFormat format,
                                            const std::vector<Place>& changed, TileMemory& memory, base::Executor& executor) {
  std::set<Place> over;
  for (const Place& p : changed) over.insert({p.column / 2, p.row / 2});
  const std::vector<Place> places(over.begin(), over.end());
  std::vector<TileRef> tiles(places.size());
  std::vector<std::optional<base::Error>> errors(places.size());
  executor.forEach(int(places.size()), [&](int i) {
    const Place p = places[std::size_t(i)];
    std::array<TileRef, 4> quarters;
    for (int q = 0; q < 4; ++q) {
      const int c = p.column * 2 + q % 2, r = p.row * 2 + q / 2;
      if (c < below.columns && r < below.rows) quarters[std::size_t(q)] = below.tile(c, r);
    }
    const auto same = [&](const TileRef& t) {
      return !t || (t->uniform() && quarters[0]->uniform() && *t->uniform() == *quarters[0]->uniform());
    };
    if (std::all_of(quarters.begin(), quarters.end(), same)) {
      tiles[std::size_t(i)] = quarters[0];
      return;
    }
    auto bytes = halved(format, quarters, below.size.width - p.column * 2 * kTileSide, below.size.height - p.row * 2 * kTileSide);
    if (bytes.ok()) {
      tiles[std::size_t(i)] = memory.adopt(format, std::move(bytes).value());
    } else {
      errors[std::size_t(i)] = bytes.error();
    }
  });
  for (const auto& e : errors) {
    if (e) return *e;
  }
  replaceTiles(above, places, tiles);
  return places;
}

void repeatEdges(std::byte* tile, int validWidth, int validHeight, std::size_t step) {
  const std::size_t rowBytes = kTileSide * step;
  if (validWidth < kTileSide) {
    for (int y = 0; y < validHeight; ++y) {
      std::byte* row = tile + std::size_t(y) * rowBytes;
      for (int x = validWidth; x < kTileSide; ++x)
        std::memcpy(row + std::size_t(x) * step, row + std::size_t(validWidth - 1) * step, step);
    }
  }
  for (int y = validHeight; y < kTileSide; ++y)
    std::memcpy(tile + std::size_t(y) * rowBytes, tile + std::size_t(validHeight - 1) * rowBytes, rowBytes);
}

// Calls copy(pin, tile x0, y0, rect of the level inside this tile) for every tile that the clamped area needs.
template <class Copy>
base::Status eachTile(const Level& level, const base::Rect& inside, const Copy& copy) {
  for (int row = inside.y / kTileSide; row <= (inside.bottom() - 1) / kTileSide; ++row) {
    for (int column = inside.x / kTileSide; column <= (inside.right() - 1) / kTileSide; ++column) {
      HSEAM_TRY(const TilePin p, pin(level.tile(column, row)));
      copy(p, inside.intersected({column * kTileSide, row * kTileSide, kTileSide, kTileSide}));
    }
  }
  return {};
}

template <class Out, class In>
void copyArea(const TilePin& p, const base::Rect& part, int channels, float scale, Raster<Out>& out, int originX, int originY) {
  for (int y = part.y; y < part.bottom(); ++y) {
    Out* to = out.at(part.x - originX, y - originY);
    const In* from = p.isUniform()
                         ? reinterpret_cast<const In*>(p.value())
                         : reinterpret_cast<const In*>(p.data()) + ((y % kTileSide) * kTileSide + part.x % kTileSide) * channels;
    for (int i = 0, n = part.width * channels; i < n; ++i) {
      const In v = p.isUniform() ? from[i % channels] : from[i];
      if constexpr (std::is_same_v<Out, float>) {
        to[i] = float(v) * scale;
      } else {
        to[i] = Out(v);
      }
    }
  }
}

template <class Out>
void repeatOutside(Raster<Out>& out, const base::Rect& area, const base::Rect& inside) {
  const int left = inside.x - area.x, right = inside.right() - area.x, top = inside.y - area.y, bottom = inside.bottom() - area.y;
  const int ch = out.channels();
  for (int y = top; y < bottom; ++y) {
    for (int x = 0; x < left; ++x) std::copy_n(out.at(left, y), ch, out.at(x, y));
    for (int x = right; x < out.width(); ++x) std::copy_n(out.at(right - 1, y), ch, out.at(x, y));
  }
  for (int y = 0; y < top; ++y) std::copy_n(out.row(top), out.width() * ch, out.row(y));
  for (int y = bottom; y < out.height(); ++y) std::copy_n(out.row(bottom - 1), out.width() * ch, out.row(y));
}

// The part of the image nearest to area: where area lies outside altogether, the edge pixels next to it.
base::Rect nearestInside(const base::Rect& area, base::Size size) {
  const int x0 = std::clamp(area.x, 0, size.width - 1), y0 = std::clamp(area.y, 0, size.height - 1);
  const int x1 = std::clamp(area.right(), x0 + 1, size.width), y1 = std::clamp(area.bottom(), y0 + 1, size.height);
  return {x0, y0, x1 - x0, y1 - y0};
}

template <class Out>
base::Result<Raster<Out>> readAs(const TiledImage& image, int n, const base::Rect& area) {
  const Level& level = image.level(n);
  const int ch = channelsOf(image.format());
  Raster<Out> out(area.width, area.height, ch);
  if (area.empty()) return out;
  const base::Rect inside = nearestInside(area, level.size);
  // An area outside the image reads its edge into a raster of its own, then repeats it.
  const bool apart = area.intersected(inside).empty();
  Raster<Out> edge = apart ? Raster<Out>(inside.width, inside.height, ch) : Raster<Out>();
  Raster<Out>& target = apart ? edge : out;
  const int ox = apart ? inside.x : area.x, oy = apart ? inside.y : area.y;
  const bool wide = isWide(image.format());
  HSEAM_DO(eachTile(level, inside, [&](const TilePin& p, const base::Rect& part) {
    if (wide) {
      copyArea<Out, std::uint16_t>(p, part, ch, 1 / 65535.f, target, ox, oy);
    } else {
      copyArea<Out, std::uint8_t>(p, part, ch, 1 / 255.f, target, ox, oy);
    }
  }));
  if (apart) {
    for (int y = 0; y < area.height; ++y) {
      for (int x = 0; x < area.width; ++x) {
        std::copy_n(edge.at(std::clamp(area.x + x - inside.x, 0, inside.width - 1),
                            std::clamp(area.y + y - inside.y, 0, inside.height - 1)),
                    ch, out.at(x, y));
      }
    }
  } else {
    repeatOutside(out, area, inside);
  }
  return out;
}

}  // namespace

TiledImage TiledImage::uniform(base::Size size, PixelFormat format, std::span<const std::byte> value,
                               const std::shared_ptr<TileMemory>& memory) {
  TiledImage image;
  image.body_ =
      std::make_shared<const Body>(Body{format, emptyLevels(size, memory->uniform(format, value)), base::nextStamp(), memory});
  return image;
}

base::Result<TiledImage> TiledImage::fromLevels(PixelFormat format, std::vector<Level> levels,
                                                const std::shared_ptr<TileMemory>& memory) {
  const base::Error broken{base::Code::corrupt, "", "the tiles of a picture do not fit together"};
  if (levels.empty() || levels[0].size.empty() || levels[0].size.width > kMaxSide || levels[0].size.height > kMaxSide)
    return broken;
  base::Size expected = levels[0].size;
  for (std::size_t n = 0; n < levels.size(); ++n) {
    const Level& level = levels[n];
    if (level.size != expected || level.columns != tilesFor(expected.width) || level.rows != tilesFor(expected.height))
      return broken;
    if (level.rowRefs.size() != std::size_t(level.rows)) return broken;
    for (const auto& row : level.rowRefs) {
      if (!row || row->size() != std::size_t(level.columns)) return broken;
      for (const TileRef& t : *row) {
        if (!t || t->format() != format) return broken;
      }
    }
    expected = {(expected.width + 1) / 2, (expected.height + 1) / 2};
  }
  const Level& last = levels.back();
  if (std::max(last.size.width, last.size.height) > kTileSide) return broken;
  TiledImage image;
  image.body_ = std::make_shared<const Body>(Body{format, std::move(levels), base::nextStamp(), memory});
  return image;
}

TiledImage uniformCoverage(base::Size size, std::uint8_t value, const std::shared_ptr<TileMemory>& memory) {
  const std::byte one{value};
  return TiledImage::uniform(size, PixelFormat::grey8, {&one, 1}, memory);
}

base::Result<std::byte*> ImageEditor::tile(int column, int row) try {
  for (Touched& t : touched_) {
    if (t.column == column && t.row == row) return t.bytes.data();
  }
  HSEAM_TRY(const TilePin p, pin(base_.level(0).tile(column, row)));
  const std::size_t step = bytesOf(base_.format());
  Bytes bytes(kTilePixels * step);
  if (!p.isUniform()) {
    std::memcpy(bytes.data(), p.data(), bytes.size());
  } else {
    for (std::size_t i = 0; i < bytes.size(); i += step) std::memcpy(bytes.data() + i, p.value(), step);
  }
  touched_.push_back({column, row, std::move(bytes)});
  return touched_.back().bytes.data();
} catch (...) {
  return base::caught();
}

void ImageEditor::setTile(int column, int row, Bytes bytes) {
  CORE_CHECK(bytes.size() == kTilePixels * bytesOf(base_.format()));
  touched_.push_back({column, row, std::move(bytes)});
}

base::Result<TiledImage> ImageEditor::commit(base::Executor& executor) && try {
  if (touched_.empty()) return std::move(base_);
  std::vector<Level> levels = base_.body_->levels;
  const PixelFormat format = base_.format();
  std::vector<Place> places;
  std::vector<TileRef> tiles(touched_.size());
  for (const Touched& t : touched_) places.push_back({t.column, t.row});
  executor.forEach(int(touched_.size()), [&](int i) {
    tiles[std::size_t(i)] = base_.memory()->adopt(format, std::move(touched_[std::size_t(i)].bytes));
  });
  replaceTiles(levels[0], places, tiles);
  for (std::size_t n = 1; n < levels.size(); ++n) {
    HSEAM_TRY(places, renewLevel(levels[n - 1], levels[n], format, places, *base_.memory(), executor));
  }
  TiledImage image;
  image.body_ =
      std::make_shared<const TiledImage::Body>(TiledImage::Body{format, std::move(levels), base::nextStamp(), base_.memory()});
  return image;
} catch (...) {
  return base::caught();
}

base::Result<TiledImage> tiledFromRows(base::Size size, PixelFormat format, const std::shared_ptr<TileMemory>& memory,
                                       base::Executor& executor, const base::Progress& progress, const RowSource& fill) try {
  const std::byte zero[8] = {};
  const std::size_t step = bytesOf(format), rowBytes = std::size_t(size.width) * step;
  ImageEditor editor(TiledImage::uniform(size, format, {zero, step}, memory));
  Bytes band(rowBytes * kTileSide);
  const int rows = tilesFor(size.height), columns = tilesFor(size.width);
  for (int row = 0; row < rows; ++row) {
    if (progress.cancelled()) return base::cancelledError();
    const int valid = std::min(kTileSide, size.height - row * kTileSide);
    HSEAM_DO(fill(row * kTileSide, valid, band.data()));
    for (int column = 0; column < columns; ++column) {
      const int width = std::min(kTileSide, size.width - column * kTileSide);
      Bytes tile(kTilePixels * step);
      for (int y = 0; y < valid; ++y) {
        std::memcpy(tile.data() + std::size_t(y) * kTileSide * step,
                    band.data() + std::size_t(y) * rowBytes + std::size_t(column) * kTileSide * step, std::size_t(width) * step);
      }
      repeatEdges(tile.data(), width, valid, step);
      editor.setTile(column, row, std::move(tile));
    }
    progress.report(0.8 * (row + 1) / rows);
  }
  return std::move(editor).commit(executor);
} catch (...) {
  return base::caught();
}

base::Result<TiledImage> tiledFromRaster(const Raster<std::uint8_t>& raster, PixelFormat format,
                                         const std::shared_ptr<TileMemory>& memory, base::Executor& executor) {
  CORE_CHECK(!isWide(format) && channelsOf(format) == raster.channels());
  const std::size_t rowBytes = std::size_t(raster.width()) * std::size_t(raster.channels());
  return tiledFromRows(raster.size(), format, memory, executor, {}, [&](int first, int count, std::byte* rows) -> base::Status {
    std::memcpy(rows, raster.row(first), rowBytes * std::size_t(count));
    return {};
  });
}

base::Result<Raster<float>> readFloat(const TiledImage& image, int level, const base::Rect& area) {
  return readAs<float>(image, level, area);
}

base::Result<Raster<std::uint8_t>> read8(const TiledImage& image, int level, const base::Rect& area) {
  CORE_CHECK(!isWide(image.format()));
  return readAs<std::uint8_t>(image, level, area);
}

base::Result<TiledImage> withPixels(const TiledImage& image, const base::Rect& area, const Raster<std::uint8_t>& pixels,
                                    base::Executor& executor) {
  const int ch = channelsOf(image.format());
  CORE_CHECK(!isWide(image.format()) && pixels.size() == base::Size({area.width, area.height}) && pixels.channels() == ch);
  const base::Rect inside = area.intersected(base::Rect::of(image.size()));
  ImageEditor editor(image);
  if (inside.empty()) return image;
  for (int row = inside.y / kTileSide; row <= (inside.bottom() - 1) / kTileSide; ++row) {
    for (int column = inside.x / kTileSide; column <= (inside.right() - 1) / kTileSide; ++column) {
      HSEAM_TRY(std::byte * tile, editor.tile(column, row));
      const base::Rect part = inside.intersected({column * kTileSide, row * kTileSide, kTileSide, kTileSide});
      for (int y = part.y; y < part.bottom(); ++y) {
        std::memcpy(tile + ((y % kTileSide) * kTileSide + part.x % kTileSide) * ch, pixels.at(part.x - area.x, y - area.y),
                    std::size_t(part.width) * std::size_t(ch));
      }
    }
  }
  return std::move(editor).commit(executor);
}

}  // namespace hseam::image
