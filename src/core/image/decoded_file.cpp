#include "core/image/decoded_file.h"

#include <algorithm>
#include <cctype>
#include <filesystem>
#include <fstream>
#include <optional>

#include "core/base/module.h"
#include "core/image/tiled_image.h"

namespace hseam::image {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;

bool isRawEnding(const std::string& path) {
  static constexpr const char* kEndings[] = {".dng", ".cr2", ".cr3", ".nef", ".arw", ".orf", ".rw2", ".raf", ".pef", ".srw"};
  const std::string ending = endingOf(path);
  return std::any_of(std::begin(kEndings), std::end(kEndings), [&](const char* e) { return ending == e; });
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

}  // namespace

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
  constexpr int kTiff = 42, kBigTiff = 43;
  for (const int mark : {kTiff, kBigTiff}) {
    if (starts({'I', 'I', mark, 0}) || starts({'M', 'M', 0, mark})) return std::string("tiff");
  }
  return Error{Code::unsupported, path, "this is not a JPEG, PNG, TIFF, OpenEXR, WebP or camera raw picture"};
}

base::Result<DecodedFile> decodeFile(const std::string& path, const base::Progress& progress, int enough) {
  HSEAM_TRY(const std::string kind, kindByContent(path));
  HSEAM_TRY(door::Door * door, pictureDoor());
  HSEAM_TRY(const auto reader, door->open(path, kind, enough));
  DecodedFile file{reader->header(), {}, {}};
  HSEAM_DO(checkLimits(path, file.header));
  const std::size_t bytes = std::size_t(file.header.size.width) * std::size_t(file.header.size.height) *
                            std::size_t(file.header.channels) * (file.header.wide ? 2 : 1);
  file.rows.resize(bytes);
  auto read = reader->read(file.rows.data(), file.warning, [&](double share) {
    progress.report(share * 0.6);
    return progress.cancelled();
  });
  if (!read.ok()) return Error{read.error().code, path, read.error().detail};
  return file;
}

std::size_t Turned::index(int x, int y) const {
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

ToSrgb::ToSrgb(const DecodedFile& file, std::vector<std::string>& warnings)
    : file_(&file), turned_{file.header.size, file.header.orientation} {
  const door::Header& h = file.header;
  if (h.cmyk && h.profile.empty())
    warnings.push_back("these are four inks without a profile; the colours are only roughly right");
  if (h.profile.empty()) return;
  using Kind = ProfileTransform::Kind;
  const Kind samples = h.cmyk ? Kind::cmyk : (h.channels <= 2 ? Kind::grey : Kind::rgb);
  auto made = ProfileTransform::make(h.profile, samples, h.wide);
  if (!made.ok()) {
    warnings.push_back(made.error().detail + "; the picture is taken as sRGB");
  } else if (!made->isSrgb()) {
    profile_ = std::move(made).value();
  }
}

PixelFormat ToSrgb::format() const {
  const bool wide = file_->header.wide || profile_.has_value();
  return wide ? (alpha() ? PixelFormat::rgba16 : PixelFormat::rgb16) : (alpha() ? PixelFormat::rgba8 : PixelFormat::rgb8);
}

void ToSrgb::row(int y, std::byte* out) const {
  if (file_->header.wide) {
    rowOf<std::uint16_t>(y, out);
  } else {
    rowOf<std::uint8_t>(y, out);
  }
}

template <class In>
void ToSrgb::rowOf(int y, std::byte* out) const {
  const In* samples = reinterpret_cast<const In*>(file_->rows.data());
  const int channels = file_->header.channels, outChannels = alpha() ? 4 : 3, width = size().width;
  const bool cmyk = file_->header.cmyk;
  const int colourChannels = channels <= 2 ? 1 : (cmyk ? 4 : 3);
  std::vector<In> colours(std::size_t(width) * 4);
  for (int x = 0; x < width; ++x) {
    const In* in = samples + turned_.index(x, y) * std::size_t(channels);
    if (!profile_ && cmyk) {
      plainRgb(reinterpret_cast<const std::uint8_t*>(in), reinterpret_cast<std::uint8_t*>(out) + x * outChannels);
    } else if (!profile_) {
      spread(in, channels, reinterpret_cast<In*>(out) + x * outChannels, outChannels);
    } else {
      std::copy_n(in, colourChannels, colours.data() + x * colourChannels);
    }
  }
  if (!profile_) return;
  std::vector<std::uint16_t> rgb(std::size_t(width) * 3);
  profile_->apply(colours.data(), rgb.data(), std::size_t(width));
  auto* wide = reinterpret_cast<std::uint16_t*>(out);
  for (int x = 0; x < width; ++x) {
    std::copy_n(rgb.data() + x * 3, 3, wide + x * outChannels);
    if (outChannels == 4) {
      const In a = samples[turned_.index(x, y) * std::size_t(channels) + std::size_t(channels <= 2 ? 1 : 3)];
      wide[x * 4 + 3] = sizeof(In) == 1 ? std::uint16_t(a * 257u) : std::uint16_t(a);
    }
  }
}

}  // namespace hseam::image
