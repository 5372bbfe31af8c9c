#include "core/image/picture_file.h"

#include <unistd.h>

#include <algorithm>
#include <cctype>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <new>

#include "core/base/module.h"
#include "core/image/colour_profile.h"
#include "core/image/door/picture_door.h"

namespace hseam::image {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;

base::Result<door::Door*> pictureDoor() {
  static const base::Result<door::Door*> opened = []() -> base::Result<door::Door*> {
    if (auto entry = reinterpret_cast<door::Entry>(base::moduleEntry("hseam_pictures.so", door::kEntry))) return entry();
    return Error{Code::unsupported, "hseam_pictures.so", "the picture module cannot be loaded; install Hidden Seam again"};
  }();
  return opened;
}

std::string endingOf(const std::string& path) {
  std::string ending = fs::path(path).extension().string();
  std::transform(ending.begin(), ending.end(), ending.begin(), [](unsigned char c) { return char(std::tolower(c)); });
  return ending;
}

bool isRawEnding(const std::string& path) {
  static constexpr const char* kEndings[] = {".dng", ".cr2", ".cr3", ".nef", ".arw", ".orf", ".rw2", ".raf", ".pef", ".srw"};
  const std::string ending = endingOf(path);
  return std::any_of(std::begin(kEndings), std::end(kEndings), [&](const char* e) { return ending == e; });
}

base::Result<std::string> kindByContent(const std::string& path) {
  std::error_code problem;
  const auto status = fs::status(path, problem);
  if (status.type() == fs::file_type::not_found) return Error{Code::notFound, path, "there is no such file"};
  if (problem) return Error{Code::unreadable, path, "the file cannot be looked at: " + problem.message()};
  if (fs::is_directory(status)) return Error{Code::unsupported, path, "this is a folder, not a picture"};
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error{Code::unreadable, path, "the file may not be read"};
  unsigned char head[16] = {};
  file.read(reinterpret_cast<char*>(head), sizeof head);
  if (file.gcount() == 0) return Error{Code::corrupt, path, "the file is empty"};
  const auto starts = [&](std::initializer_list<int> bytes) {
    return std::equal(bytes.begin(), bytes.end(), head, [](int a, unsigned char b) { return a == b; });
  };
  if (starts({0xff, 0xd8, 0xff})) return std::string("jpeg");
  if (starts({0x89, 'P', 'N', 'G', 0x0d, 0x0a, 0x1a, 0x0a})) return std::string("png");
  if (starts({0x76, 0x2f, 0x31, 0x01})) return std::string("openexr");
  if (starts({'R', 'I', 'F', 'F'}) && std::equal(head + 8, head + 12, "WEBP")) return std::string("webp");
  if (isRawEnding(path)) return std::string("raw");
  if (starts({'I', 'I', 42, 0}) || starts({'M', 'M', 0, 42})) return std::string("tiff");
  return Error{Code::unsupported, path, "this is not a JPEG, PNG, TIFF, OpenEXR, WebP or camera raw picture"};
}

base::Status checkLimits(const std::string& path, const door::Header& h) {
  if (h.size.empty() || h.channels < 1) return Error{Code::corrupt, path, "the picture has no pixels"};
  if (h.size.width > kMaxSide || h.size.height > kMaxSide || std::int64_t(h.size.width) * h.size.height > kMaxPixels) {
    return Error{Code::limitExceeded, path,
                 std::to_string(h.size.width) + " × " + std::to_string(h.size.height) + " px is more than this program takes (" +
                     std::to_string(kMaxSide) + " px a side, " + std::to_string(kMaxPixels / 1'000'000) + " megapixels)"};
  }
  if (h.channels > 8) return Error{Code::unsupported, path, "the picture has " + std::to_string(h.channels) + " channels"};
  return {};
}

struct Raw {
  door::Header header;
  Bytes rows;
  std::string warning;
};

base::Result<Raw> readRaw(const std::string& path, const base::Progress& progress) {
  HSEAM_TRY(const std::string kind, kindByContent(path));
  HSEAM_TRY(door::Door * door, pictureDoor());
  HSEAM_TRY(const auto reader, door->open(path, kind));
  Raw raw{reader->header(), {}, {}};
  HSEAM_DO(checkLimits(path, raw.header));
  const std::size_t bytes = std::size_t(raw.header.size.width) * std::size_t(raw.header.size.height) *
                            std::size_t(raw.header.channels) * (raw.header.wide ? 2 : 1);
  raw.rows.resize(bytes);
  auto read = reader->read(raw.rows.data(), raw.warning, [&](double share) {
    progress.report(share * 0.6);
    return progress.cancelled();
  });
  if (!read.ok()) return Error{read.error().code, path, read.error().detail};
  return raw;
}

// EXIF orientation: where the displayed pixel (x, y) lies in the stored picture.
struct Turned {
  base::Size stored;
  int orientation;
  base::Size shown() const { return orientation >= 5 ? base::Size{stored.height, stored.width} : stored; }
  std::size_t index(int x, int y) const {
    const int w = stored.width - 1, h = stored.height - 1;
    int sx = x, sy = y;
    switch (orientation) {
      case 2:
        sx = w - x;
        break;
      case 3:
        sx = w - x, sy = h - y;
        break;
      case 4:
        sy = h - y;
        break;
      case 5:
        sx = y, sy = x;
        break;
      case 6:
        sx = y, sy = h - x;
        break;
      case 7:
        sx = w - y, sy = h - x;
        break;
      case 8:
        sx = w - y, sy = x;
        break;
      default:
        break;
    }
    return std::size_t(sy) * std::size_t(stored.width) + std::size_t(sx);
  }
};

// Spreads stored samples (1, 2, 3, 4 and more) to rgb or rgba of the same depth.
template <class T>
void spread(const T* in, int channels, T* out, int outChannels) {
  const bool grey = channels <= 2;
  for (int c = 0; c < 3; ++c) out[c] = in[grey ? 0 : c];
  if (outChannels == 4) out[3] = in[grey ? 1 : 3];
}

// Inks without a profile: what is left of white light, channel by channel.
void plainRgb(const std::uint8_t* inks, std::uint8_t* out) {
  for (int c = 0; c < 3; ++c) out[c] = std::uint8_t((255 - inks[c]) * (255 - inks[3]) / 255);
}

struct Decoder {
  const Raw& raw;
  Turned turned;
  const ProfileTransform* profile;  // null: samples are sRGB already
  int outChannels;

  template <class In>
  void row(int y, int width, std::byte* out) const {
    const In* samples = reinterpret_cast<const In*>(raw.rows.data());
    const int channels = raw.header.channels;
    const bool cmyk = raw.header.cmyk;
    const int colourChannels = channels <= 2 ? 1 : (cmyk ? 4 : 3);
    std::vector<In> colours(std::size_t(width) * 4);
    for (int x = 0; x < width; ++x) {
      const In* in = samples + turned.index(x, y) * std::size_t(channels);
      if (!profile && cmyk) {
        plainRgb(reinterpret_cast<const std::uint8_t*>(in), reinterpret_cast<std::uint8_t*>(out) + x * outChannels);
      } else if (!profile) {
        spread(in, channels, reinterpret_cast<In*>(out) + x * outChannels, outChannels);
      } else {
        std::copy_n(in, colourChannels, colours.data() + x * colourChannels);
      }
    }
    if (!profile) return;
    std::vector<std::uint16_t> rgb(std::size_t(width) * 3);
    profile->apply(colours.data(), rgb.data(), std::size_t(width));
    auto* wide = reinterpret_cast<std::uint16_t*>(out);
    for (int x = 0; x < width; ++x) {
      std::copy_n(rgb.data() + x * 3, 3, wide + x * outChannels);
      if (outChannels == 4) {
        const In a = samples[turned.index(x, y) * std::size_t(channels) + std::size_t(channels <= 2 ? 1 : 3)];
        wide[x * 4 + 3] = sizeof(In) == 1 ? std::uint16_t(a * 257u) : std::uint16_t(a);
      }
    }
  }
};

}  // namespace

base::Result<Picture> readPicture(const std::string& path, const std::shared_ptr<TileMemory>& memory, base::Executor& executor,
                                  const base::Progress& progress) try {
  HSEAM_TRY(const Raw raw, readRaw(path, progress));
  const door::Header& h = raw.header;
  Picture picture;
  if (!raw.warning.empty()) picture.warnings.push_back(raw.warning);
  std::optional<ProfileTransform> profile;
  if (h.cmyk && h.profile.empty())
    picture.warnings.push_back("these are four inks without a profile; the colours are only roughly right");
  if (!h.profile.empty()) {
    using Kind = ProfileTransform::Kind;
    const Kind samples = h.cmyk ? Kind::cmyk : (h.channels <= 2 ? Kind::grey : Kind::rgb);
    auto made = ProfileTransform::make(h.profile, samples, h.wide);
    if (!made.ok()) {
      picture.warnings.push_back(made.error().detail + "; the picture is taken as sRGB");
    } else if (!made->isSrgb()) {
      profile = std::move(made).value();
    }
  }
  const bool alpha = h.channels == 2 || (h.channels >= 4 && !h.cmyk);
  const bool wideOut = h.wide || profile.has_value();
  const PixelFormat format =
      wideOut ? (alpha ? PixelFormat::rgba16 : PixelFormat::rgb16) : (alpha ? PixelFormat::rgba8 : PixelFormat::rgb8);
  const Turned turned{h.size, h.orientation};
  const base::Size size = turned.shown();
  const Decoder decoder{raw, turned, profile ? &*profile : nullptr, alpha ? 4 : 3};
  const std::size_t rowBytes = std::size_t(size.width) * bytesOf(format);
  auto tiled = tiledFromRows(size, format, memory, executor, progress.part(0.6, 1),
                             [&](int first, int count, std::byte* rows) -> base::Status {
                               for (int y = 0; y < count; ++y) {
                                 std::byte* out = rows + std::size_t(y) * rowBytes;
                                 if (h.wide) {
                                   decoder.row<std::uint16_t>(first + y, size.width, out);
                                 } else {
                                   decoder.row<std::uint8_t>(first + y, size.width, out);
                                 }
                               }
                               return {};
                             });
  if (!tiled.ok()) return tiled.error();
  picture.pixels = std::move(tiled).value();
  progress.report(1);
  return picture;
} catch (...) {
  return base::caught(path);
}

base::Result<TiledImage> readCoverage(const std::string& path, const std::shared_ptr<TileMemory>& memory,
                                      base::Executor& executor) try {
  HSEAM_TRY(const Raw raw, readRaw(path, {}));
  const door::Header& h = raw.header;
  if (h.cmyk) return Error{Code::unsupported, path, "a picture of four inks is no mask"};
  const Turned turned{h.size, h.orientation};
  const base::Size size = turned.shown();
  const int colours = h.channels >= 3 ? 3 : 1;
  const auto mean = [&](const auto* samples, int x, int y) {
    const auto* in = samples + turned.index(x, y) * std::size_t(h.channels);
    unsigned sum = 0;
    for (int c = 0; c < colours; ++c) sum += in[c];
    return (sum + unsigned(colours) / 2) / unsigned(colours);
  };
  const PixelFormat format = h.wide ? PixelFormat::grey16 : PixelFormat::grey8;
  return tiledFromRows(size, format, memory, executor, {}, [&](int first, int count, std::byte* rows) -> base::Status {
    for (int y = 0; y < count; ++y) {
      for (int x = 0; x < size.width; ++x) {
        const std::size_t at = std::size_t(y) * std::size_t(size.width) + std::size_t(x);
        if (h.wide) {
          reinterpret_cast<std::uint16_t*>(rows)[at] =
              std::uint16_t(mean(reinterpret_cast<const std::uint16_t*>(raw.rows.data()), x, first + y));
        } else {
          reinterpret_cast<std::uint8_t*>(rows)[at] =
              std::uint8_t(mean(reinterpret_cast<const std::uint8_t*>(raw.rows.data()), x, first + y));
        }
      }
    }
    return {};
  });
} catch (...) {
  return base::caught(path);
}

base::Result<Metadata> readMetadata(const std::string& path) try {
  HSEAM_TRY(const std::string kind, kindByContent(path));
  if (kind == "openexr") return Metadata{};
  HSEAM_TRY(door::Door * door, pictureDoor());
  return door->metadata(path);
} catch (...) {
  return base::caught(path);
}

base::Status writeMetadata(const std::string& path, const Metadata& metadata) try {
  HSEAM_TRY(const std::string kind, kindByContent(path));
  if (kind == "openexr") return Error{Code::unsupported, path, "OpenEXR keeps no title and rights"};
  HSEAM_TRY(door::Door * door, pictureDoor());
  return door->addMetadata(path, metadata);
} catch (...) {
  return base::caught(path);
}

std::optional<FileKind> fileKindOf(const std::string& path) {
  const std::string ending = endingOf(path);
  if (ending == ".png") return FileKind::png;
  if (ending == ".jpg" || ending == ".jpeg") return FileKind::jpeg;
  if (ending == ".tif" || ending == ".tiff") return FileKind::tiff;
  if (ending == ".webp") return FileKind::webp;
  if (ending == ".exr") return FileKind::openexr;
  return std::nullopt;
}

base::Status writePicture(const std::string& path, const WriteOptions& o,
                          const std::function<base::Status(int, std::byte*)>& row) try {
  HSEAM_TRY(door::Door * door, pictureDoor());
  const char* kinds[] = {"png", "jpeg", "tiff", "webp", "openexr"};
  const char* endings[] = {".png", ".jpg", ".tif", ".webp", ".exr"};
  const std::size_t kind = std::size_t(o.kind);
  const fs::path target(path);
  const fs::path part =
      target.parent_path() /
      std::string(".").append(target.filename().string()).append(".").append(std::to_string(getpid())).append(endings[kind]);
  door::WriteSpec spec{o.size, channelsOf(o.format), isWide(o.format), std::clamp(o.quality, 1, 100), {}};
  if (o.embedSrgb && spec.channels >= 3) spec.profile = srgbProfile();
  const bool says = !o.about.title.empty() || !o.about.creator.empty() || !o.about.rights.empty();
  const auto fill = [&]() -> base::Status {
    try {
      HSEAM_DO(door->write(part.string(), kinds[kind], spec, row));
      return says && o.kind != FileKind::openexr ? door->addMetadata(part.string(), o.about) : base::Status();
    } catch (...) {
      return base::caught();
    }
  };
  const auto written = fill();
  std::error_code problem;
  if (!written.ok()) {
    fs::remove(part, problem);
    return Error{written.error().code, path, written.error().detail};
  }
  fs::rename(part, target, problem);
  if (problem) {
    std::error_code ignored;
    fs::remove(part, ignored);
    return Error{Code::unwritable, path, "cannot be written: " + problem.message()};
  }
  return {};
} catch (...) {
  return base::caught(path);
}

base::Status writeTiled(const std::string& path, const TiledImage& image, int quality) try {
  const auto kind = fileKindOf(path);
  if (!kind) return Error{Code::unsupported, path, "the name must end in .png, .jpg, .tif, .webp or .exr"};
  const base::Size size = image.size();
  const std::size_t step = bytesOf(image.format());
  WriteOptions options{*kind, size, image.format(), quality, true, {}};
  std::vector<std::byte> band;
  int bandAt = -1;
  return writePicture(path, options, [&](int y, std::byte* row) -> base::Status {
    if (const int at = y / kTileSide; at != bandAt) {
      bandAt = at;
      band.assign(std::size_t(size.width) * step * kTileSide, std::byte{});
      const TiledImage::Level& level = image.level(0);
      for (int column = 0; column < level.columns; ++column) {
        HSEAM_TRY(const TilePin p, pin(level.tile(column, at)));
        const int width = std::min(kTileSide, size.width - column * kTileSide);
        for (int r = 0; r < kTileSide; ++r) {
          std::byte* to = band.data() + (std::size_t(r) * std::size_t(size.width) + std::size_t(column) * kTileSide) * step;
          if (!p.isUniform()) {
            std::memcpy(to, p.data() + std::size_t(r) * kTileSide * step, std::size_t(width) * step);
          } else {
            for (int x = 0; x < width; ++x) std::memcpy(to + std::size_t(x) * step, p.value(), step);
          }
        }
      }
    }
    std::memcpy(row, band.data() + std::size_t(y % kTileSide) * std::size_t(size.width) * step, std::size_t(size.width) * step);
    return {};
  });
} catch (...) {
  return base::caught(path);
}

}  // namespace hseam::image
