#include "core/deliver/weights.h"

#include <algorithm>
#include <filesystem>

#include "core/base/temporary_folder.h"
#include "core/deliver/rows.h"

namespace hseam::deliver {
namespace {

using image::Raster;

constexpr std::size_t kMemory = std::size_t(256) << 20;  // for a file that is read again

base::Result<std::int64_t> writtenTo(const std::string& path, const Encodable& e, int quality,
                                     const std::vector<std::byte>& profile) {
  const base::Size size{e.pixels.width(), e.pixels.height()};
  const auto format = e.pixels.channels() == 4 ? image::PixelFormat::rgba8 : image::PixelFormat::rgb8;
  const std::size_t bytes = std::size_t(size.width) * std::size_t(e.pixels.channels());
  HSEAM_DO(image::writePicture(path,
                               {e.options.kind, size, format, quality, e.options.pixelsPerInch, true, profile, e.options.about},
                               [&](int y, std::byte* out) -> base::Status {
                                 std::copy_n(reinterpret_cast<const std::byte*>(e.pixels.row(y)), bytes, out);
                                 return {};
                               }));
  std::error_code problem;
  const auto weight = std::filesystem::file_size(path, problem);
  if (problem) return base::Error{base::Code::unwritable, path, "what was written is gone, so that its weight cannot be told"};
  return std::int64_t(weight);
}

Raster<std::uint8_t> cropOf(const Raster<std::uint8_t>& r, const base::Rect& at) {
  Raster<std::uint8_t> out(at.width, at.height, r.channels());
  for (int y = 0; y < at.height; ++y) std::copy_n(r.at(at.x, at.y + y), at.width * r.channels(), out.row(y));
  return out;
}

base::Error noRoom() {
  return {base::Code::unwritable, "", "there is no room for a temporary file, so that the weight cannot be told"};
}

}  // namespace

base::Result<Encodable> encodable(const scene::Scene& scene, const ExportOptions& options, base::Executor& executor,
                                  const base::Progress& progress) try {
  if (options.kind != image::FileKind::jpeg && options.kind != image::FileKind::webp)
    return base::Error{base::Code::unsupported, "", "only JPEG and WebP weigh less at a lower quality"};
  HSEAM_TRY(Rows rows, Rows::of(scene, options, executor, progress));
  Encodable out{Raster<std::uint8_t>(rows.size().width, rows.size().height, image::channelsOf(rows.format())), options,
                rows.profile()};
  for (int y = 0; y < rows.size().height; ++y) HSEAM_DO(rows.fill(y, reinterpret_cast<std::byte*>(out.pixels.row(y))));
  progress.report(1);
  return out;
} catch (...) {
  return base::caught();
}

base::Result<Trial> trialAt(const Encodable& picture, int quality, base::Executor& executor, const base::Progress& progress) try {
  const base::TemporaryFolder folder("weight");
  if (!folder.ok()) return noRoom();
  const std::string path = folder.at(std::string("picture") + image::endingOf(picture.options.kind));
  Trial out;
  out.quality = quality;
  HSEAM_TRY(out.bytes, writtenTo(path, picture, quality, picture.profile));
  // Read again as sRGB, so that the numbers are compared and not what they stand for.
  if (!picture.profile.empty()) HSEAM_DO(writtenTo(path, picture, quality, {}));
  HSEAM_TRY(const image::Picture again,
            image::readPicture(path, image::TileMemory::create(kMemory), executor, progress.part(0, 0.3)));
  HSEAM_TRY(const Raster<std::uint8_t> read, image::read8(again.pixels, 0, base::Rect::of(again.pixels.size())));
  HSEAM_TRY(out.likeness, likenessOf(picture.pixels, read, executor, progress.part(0.3, 1)));
  out.before = cropOf(picture.pixels, out.likeness.worstAt);
  out.after = cropOf(read, out.likeness.worstAt);
  return out;
} catch (...) {
  return base::caught();
}

base::Result<UnderWeight> bestUnder(const Encodable& picture, std::int64_t mostBytes, const base::Progress& progress) try {
  constexpr int kMost = 100, kSteps = 7;
  const base::TemporaryFolder folder("weight");
  if (!folder.ok()) return noRoom();
  const std::string path = folder.at(std::string("picture") + image::endingOf(picture.options.kind));
  UnderWeight best;
  std::int64_t least = 0;
  for (int low = 1, high = kMost; low <= high;) {
    if (progress.cancelled()) return base::cancelledError();
    const int quality = (low + high) / 2;
    HSEAM_TRY(const std::int64_t bytes, writtenTo(path, picture, quality, picture.profile));
    progress.report(double(++best.files) / kSteps);
    least = bytes;
    if (bytes <= mostBytes) {
      best.quality = quality, best.bytes = bytes, low = quality + 1;
    } else {
      high = quality - 1;
    }
  }
  if (best.quality == 0)
    return base::Error{
        base::Code::limitExceeded, "",
        "even at the least quality it weighs " + std::to_string((least + 999) / 1000) + " kB: ask for a shorter long side"};
  return best;
} catch (...) {
  return base::caught();
}

}  // namespace hseam::deliver
