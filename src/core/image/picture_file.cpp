#include "core/image/picture_file.h"

#include <unistd.h>

#include <algorithm>
#include <cstring>
#include <filesystem>
#include <new>

#include "core/image/decoded_file.h"

namespace hseam::image {

namespace fs = std::filesystem;
using base::Code;
using base::Error;

base::Result<Picture> readPicture(const std::string& path, const std::shared_ptr<TileMemory>& memory, base::Executor& executor,
                                  const base::Progress& progress) try {
  HSEAM_TRY(const DecodedFile file, decodeFile(path, progress));
  Picture picture;
  if (!file.warning.empty()) picture.warnings.push_back(file.warning);
  const ToSrgb toSrgb(file, picture.warnings);
  const base::Size size = toSrgb.size();
  const std::size_t rowBytes = std::size_t(size.width) * bytesOf(toSrgb.format());
  auto tiled = tiledFromRows(size, toSrgb.format(), memory, executor, progress.part(0.6, 1),
                             [&](int first, int count, std::byte* rows) -> base::Status {
                               for (int y = 0; y < count; ++y) toSrgb.row(first + y, rows + std::size_t(y) * rowBytes);
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
  HSEAM_TRY(const DecodedFile file, decodeFile(path, {}));
  const door::Header& h = file.header;
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
              std::uint16_t(mean(reinterpret_cast<const std::uint16_t*>(file.rows.data()), x, first + y));
        } else {
          reinterpret_cast<std::uint8_t*>(rows)[at] =
              std::uint8_t(mean(reinterpret_cast<const std::uint8_t*>(file.rows.data()), x, first + y));
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

const char* endingOf(FileKind kind) {
  constexpr const char* kOf[] = {".png", ".jpg", ".tif", ".webp", ".exr"};
  return kOf[std::size_t(kind)];
}

base::Status writePicture(const std::string& path, const WriteOptions& o,
                          const std::function<base::Status(int, std::byte*)>& row) try {
  HSEAM_TRY(door::Door * door, pictureDoor());
  const char* kinds[] = {"png", "jpeg", "tiff", "webp", "openexr"};
  const std::size_t kind = std::size_t(o.kind);
  const fs::path target(path);
  const fs::path part =
      target.parent_path() /
      std::string(".").append(target.filename().string()).append(".").append(std::to_string(getpid())).append(endingOf(o.kind));
  door::WriteSpec spec{o.size, channelsOf(o.format), isWide(o.format), std::clamp(o.quality, 1, 100), o.pixelsPerInch, {}};
  if (o.embedSrgb && spec.channels >= 3) spec.profile = o.profile.empty() ? srgbProfile() : o.profile;
  const bool says = !o.about.title.empty() || !o.about.creator.empty() || !o.about.rights.empty() || !o.about.sourceType.empty();
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
  WriteOptions options{*kind, size, image.format(), quality, 0, true, {}, {}};
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
