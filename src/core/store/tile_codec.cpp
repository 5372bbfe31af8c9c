#include "core/store/tile_codec.h"

#include <zstd.h>

#include <cstring>
#include <map>

namespace hseam::store {
namespace {

using base::Code;
using base::Error;
using image::Bytes;
using image::TiledImage;

constexpr std::uint8_t kManifestVersion = 2;
constexpr std::size_t kLargestManifest = 64u << 20;

std::vector<std::byte> compressed(std::span<const std::byte> bytes) {
  std::vector<std::byte> out(ZSTD_compressBound(bytes.size()));
  const std::size_t size = ZSTD_compress(out.data(), out.size(), bytes.data(), bytes.size(), 1);
  CORE_CHECK(!ZSTD_isError(size));
  out.resize(size);
  return out;
}

Error broken(const char* what) {
  return {Code::corrupt, "", what};
}

base::Result<Bytes> expanded(std::span<const std::byte> packed, std::size_t limit) {
  const unsigned long long size = ZSTD_getFrameContentSize(packed.data(), packed.size());
  if (size == ZSTD_CONTENTSIZE_ERROR || size == ZSTD_CONTENTSIZE_UNKNOWN || size > limit)
    return broken("a packed block of the project is damaged");
  Bytes out(size);
  if (ZSTD_decompress(out.data(), out.size(), packed.data(), packed.size()) != size)
    return broken("a packed block of the project is damaged");
  return out;
}

class ByteWriter {
 public:
  template <class T>
  void put(T value) {
    const std::size_t at = bytes_.size();
    bytes_.resize(at + sizeof value);
    std::memcpy(bytes_.data() + at, &value, sizeof value);
  }
  const std::vector<std::byte>& bytes() const { return bytes_; }

 private:
  std::vector<std::byte> bytes_;
};

class ByteCursor {
 public:
  explicit ByteCursor(const Bytes& bytes) : bytes_(bytes) {}
  template <class T>
  T take() {
    T value{};
    if (at_ + sizeof value > bytes_.size()) {
      short_ = true;
      return value;
    }
    std::memcpy(&value, bytes_.data() + at_, sizeof value);
    at_ += sizeof value;
    return value;
  }
  bool ranShort() const { return short_; }
  bool atEnd() const { return at_ == bytes_.size(); }

 private:
  const Bytes& bytes_;
  std::size_t at_ = 0;
  bool short_ = false;
};

}  // namespace

std::vector<std::byte> packTile(std::span<const std::byte> bytes, std::size_t pixelBytes) {
  Bytes delta(bytes.begin(), bytes.end());
  for (std::size_t i = delta.size(); i-- > pixelBytes;)
    delta[i] = std::byte(std::uint8_t(bytes[i]) - std::uint8_t(bytes[i - pixelBytes]));
  return compressed(delta);
}

base::Result<Bytes> unpackTile(std::span<const std::byte> packed, std::size_t expectedBytes, std::size_t pixelBytes) {
  HSEAM_TRY(Bytes bytes, expanded(packed, expectedBytes));
  if (bytes.size() != expectedBytes) return broken("a tile of the project is damaged");
  for (std::size_t i = pixelBytes; i < bytes.size(); ++i)
    bytes[i] = std::byte(std::uint8_t(bytes[i]) + std::uint8_t(bytes[i - pixelBytes]));
  return bytes;
}

std::vector<std::byte> packManifest(const TiledImage& image, const std::function<TilePlace(const image::ContentHash&)>& placeOf) {
  ByteWriter w;
  w.put(kManifestVersion);
  w.put(std::uint8_t(image.format()));
  w.put(std::uint32_t(image.size().width));
  w.put(std::uint32_t(image.size().height));
  for (int n = 0; n < image.levelCount(); ++n) {
    const TiledImage::Level& level = image.level(n);
    for (int row = 0; row < level.rows; ++row) {
      for (int column = 0; column < level.columns; ++column) {
        const image::TileRef& t = level.tile(column, row);
        w.put(std::uint8_t(t->uniform() ? 0 : 1));
        if (t->uniform()) {
          w.put(*t->uniform());
        } else {
          const image::ContentHash h = t->hash();
          w.put(h.high);
          w.put(h.low);
          const TilePlace place = placeOf(h);
          w.put(place.item);
          w.put(place.offset);
          w.put(place.bytes);
        }
      }
    }
  }
  return compressed(w.bytes());
}

base::Result<TiledImage> unpackManifest(std::span<const std::byte> packed, const std::shared_ptr<image::TileMemory>& memory,
                                        TileReader& reader) {
  HSEAM_TRY(const Bytes bytes, expanded(packed, kLargestManifest));
  ByteCursor c(bytes);
  if (c.take<std::uint8_t>() != kManifestVersion)
    return Error{Code::unsupported, "", "a picture of the project was kept by a newer version"};
  const auto formatNumber = c.take<std::uint8_t>();
  if (formatNumber > std::uint8_t(image::PixelFormat::rgba16)) return broken("a picture of the project has an unknown format");
  const auto format = image::PixelFormat(formatNumber);
  base::Size size{int(c.take<std::uint32_t>()), int(c.take<std::uint32_t>())};
  if (size.empty() || size.width > image::kMaxSide || size.height > image::kMaxSide)
    return broken("a picture of the project has an impossible size");
  std::vector<TiledImage::Level> levels;
  std::map<std::array<std::byte, 8>, image::TileRef> uniform;
  while (true) {
    TiledImage::Level level{size,
                            (size.width + image::kTileSide - 1) / image::kTileSide,
                            (size.height + image::kTileSide - 1) / image::kTileSide,
                            {}};
    for (int row = 0; row < level.rows; ++row) {
      auto refs = std::make_shared<std::vector<image::TileRef>>();
      for (int column = 0; column < level.columns; ++column) {
        if (c.take<std::uint8_t>() == 0) {
          const auto value = c.take<std::array<std::byte, 8>>();
          image::TileRef& one = uniform[value];
          if (!one) one = memory->uniform(format, {value.data(), image::bytesOf(format)});
          refs->push_back(one);
        } else {
          const auto high = c.take<std::uint64_t>(), low = c.take<std::uint64_t>();
          TilePlace place;
          place.item = c.take<std::int64_t>();
          place.offset = c.take<std::uint32_t>();
          place.bytes = c.take<std::uint32_t>();
          if (c.ranShort()) return broken("a picture's list of tiles is damaged");
          refs->push_back(reader.tile(format, {high, low}, place, memory));
        }
        if (c.ranShort()) return broken("a picture's list of tiles is damaged");
      }
      level.rowRefs.push_back(std::move(refs));
    }
    levels.push_back(std::move(level));
    if (std::max(size.width, size.height) <= image::kTileSide) break;
    size = {(size.width + 1) / 2, (size.height + 1) / 2};
  }
  if (!c.atEnd()) return broken("a picture's list of tiles is damaged");
  return TiledImage::fromLevels(format, std::move(levels), memory);
}

std::string hexOf(const image::ContentHash& h) {
  char text[33];
  std::snprintf(text, sizeof text, "%016llx%016llx", static_cast<unsigned long long>(h.high),
                static_cast<unsigned long long>(h.low));
  return text;
}

}  // namespace hseam::store
