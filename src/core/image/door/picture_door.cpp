// The picture module: JPEG, PNG, TIFF, OpenEXR and camera raw through OpenImageIO, and what it hands on to the files beside
// it. Loaded on demand by picture_file.cpp.

#include "core/image/door/picture_door.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <algorithm>
#include <cmath>
#include <optional>

#include "core/image/door/cmyk_jpeg.h"
#include "core/image/door/light_guard.h"
#include "core/image/door/metadata.h"
#include "core/image/door/paper.h"
#include "core/image/door/profile_guard.h"
#include "core/image/door/tiff.h"
#include "core/image/door/webp.h"
#include "core/image/transfer.h"

namespace hseam::image::door {
namespace {

using OIIO::ImageInput;
using OIIO::ImageOutput;
using OIIO::ImageSpec;
using OIIO::TypeDesc;

class FileReader : public Reader {
 public:
  /// file: what input reads from, if it does not read by itself.
  FileReader(std::unique_ptr<ImageInput> input, const ImageSpec& spec, std::unique_ptr<OIIO::Filesystem::IOProxy> file = nullptr)
      : file_(std::move(file)), input_(std::move(input)) {
    header_.size = {spec.width, spec.height};
    header_.channels = spec.nchannels;
    header_.wide = spec.format.basesize() > 1;
    header_.orientation = spec.get_int_attribute("Orientation", 1);
    // Pictures beyond colour and alpha (depth, marks of a renderer) have more than is read here.
    if (header_.channels > 4) header_.channels = spec.alpha_channel == 3 ? 4 : 3;
    if (const auto* icc = spec.find_attribute("ICCProfile")) {
      const auto* bytes = static_cast<const std::byte*>(icc->data());
      header_.profile.assign(bytes, bytes + icc->datasize());
    }
  }
  const Header& header() const override { return header_; }

  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    struct Call {
      const std::function<bool(double)>& stop;
      bool stopped = false;
    } call{stop};
    const auto ask = [](void* opaque, float done) {
      auto* c = static_cast<Call*>(opaque);
      c->stopped = c->stop(double(done));
      return c->stopped;
    };
    const bool read = input_->read_image(0, 0, 0, header_.channels, header_.wide ? TypeDesc::UINT16 : TypeDesc::UINT8, rows,
                                         OIIO::AutoStride, OIIO::AutoStride, OIIO::AutoStride, ask, &call);
    // A truncated JPEG reads as success: only the error text tells.
    const std::string text = input_->geterror();
    if (call.stopped) return base::Error{base::Code::cancelled, "", "stopped"};
    if (!read)
      return base::Error{base::Code::corrupt, "",
                         text.empty() ? "the picture's data is damaged" : "the picture's data is damaged: " + text};
    if (!text.empty()) warning = "the file is damaged or ends early; missing parts are grey or black";
    return {};
  }

 protected:
  ImageInput& input() { return *input_; }
  Header header_;

 private:
  std::unique_ptr<OIIO::Filesystem::IOProxy> file_;  // outlives the input
  std::unique_ptr<ImageInput> input_;
};

// Light as floats to encoded straight samples of 16 bit. What is brighter than white is cut, and told.
class LightReader final : public FileReader {
 public:
  LightReader(std::unique_ptr<ImageInput> input, const ImageSpec& spec, std::unique_ptr<OIIO::Filesystem::IOProxy> file = nullptr)
      : FileReader(std::move(input), spec, std::move(file)),
        premultiplied_(spec.get_int_attribute("oiio:UnassociatedAlpha", 0) == 0) {
    header_.wide = true;
    header_.profile.clear();
  }
  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    const int ch = header_.channels, height = header_.size.height;
    const int atOnce = input().spec().tile_width > 0 ? input().spec().tile_height : kRows;
    const std::size_t rowValues = std::size_t(header_.size.width) * std::size_t(ch);
    std::vector<float> band(rowValues * std::size_t(atOnce));
    auto* out = reinterpret_cast<std::uint16_t*>(rows);
    std::size_t above = 0, broken = 0;
    for (int y = 0; y < height; y += atOnce) {
      if (stop(double(y) / height)) return base::Error{base::Code::cancelled, "", "stopped"};
      const int count = std::min(atOnce, height - y);
      if (!readBand(y, count, band))
        return base::Error{base::Code::corrupt, "", "the picture's data is damaged: " + input().geterror()};
      for (std::size_t i = 0; i < rowValues * std::size_t(count); ++i) {
        const bool hasAlpha = ch == 2 || ch == 4, isAlpha = hasAlpha && i % std::size_t(ch) == std::size_t(ch - 1);
        const float a = hasAlpha ? band[i - i % std::size_t(ch) + std::size_t(ch - 1)] : 1.f;
        float v = band[i];
        if (!std::isfinite(v)) ++broken, v = 0;
        if (!isAlpha && premultiplied_) v = std::isfinite(a) && a > 0 ? v / a : v;
        above += v > 1.0001f;
        const double unit = std::clamp(double(v), 0.0, 1.0);
        *out++ = std::uint16_t(std::lround((isAlpha ? unit : encodedFromLinear(unit)) * 65535));
      }
    }
    if (above > 0) {
      char text[160];
      std::snprintf(text, sizeof text, "%.2f %% of its values are brighter than white and are cut there",
                    100.0 * double(above) / (double(rowValues) * height));
      warning = text;
    }
    if (broken > 0)
      warning += (warning.empty() ? "" : "; ") + std::to_string(broken) + " values are not numbers and became black";
    return {};
  }

 private:
  static constexpr int kRows = 64;
  bool readBand(int y, int count, std::vector<float>& band) {
    const ImageSpec& spec = input().spec();
    const int top = spec.y + y, ch = header_.channels;
    if (spec.tile_width > 0)
      return input().read_tiles(0, 0, spec.x, spec.x + spec.width, top, top + count, 0, 1, 0, ch, TypeDesc::FLOAT, band.data());
    return input().read_scanlines(0, 0, top, top + count, 0, 0, ch, TypeDesc::FLOAT, band.data());
  }
  bool premultiplied_;
};

class FileDoor final : public Door {
 public:
  FileDoor() { OIIO::attribute("threads", 1); }

  base::Result<std::unique_ptr<Reader>> open(const std::string& path, const std::string& kind) override {
    if (kind == "webp") return openWebp(path);
    if (hasMalformedProfile(path, kind))
      return base::Error{base::Code::corrupt, path, "its colour profile is malformed; save the picture anew without it"};
    if (kind == "openexr" && hasMalformedHeader(path))
      return base::Error{base::Code::corrupt, path, "the picture's header is damaged: it promises more than the file holds"};
    // libtiff takes the -1 of a failed read for a count and clears memory before its buffer; this file counts what it got. It
    // stands before the input, which must not outlive it.
    std::unique_ptr<OIIO::Filesystem::IOProxy> file;
    auto input = ImageInput::create(kind);
    if (!input) return base::Error{base::Code::unsupported, path, "this build cannot read " + kind};
    ImageSpec config, spec;
    config.attribute("oiio:UnassociatedAlpha", 1);
    if (kind == "tiff") {
      file = std::make_unique<OIIO::Filesystem::IOFile>(path, OIIO::Filesystem::IOProxy::Read);
      if (file->opened()) input->set_ioproxy(file.get());
    }
    if (!input->open(path, spec, config)) {
      const std::string text = input->geterror();
      return base::Error{base::Code::corrupt, path,
                         text.empty() ? "the picture's header is damaged" : "the picture's header is damaged: " + text};
    }
    if (spec.get_string_attribute("jpeg:ColorSpace") == "CMYK" || spec.get_string_attribute("jpeg:ColorSpace") == "YCCK")
      return openCmykJpeg(path, spec.get_int_attribute("Orientation", 1));
    if (kind == "raw") spec.erase_attribute("Orientation");  // turned already
    if (kind == "openexr" && spec.deep) return base::Error{base::Code::unsupported, path, "deep pictures are not read"};
    if (kind == "openexr") return std::unique_ptr<Reader>(std::make_unique<LightReader>(std::move(input), spec));
    if (spec.depth > 1) return base::Error{base::Code::unsupported, path, "volumes are not pictures"};
    // Floats without a profile are light, as in OpenEXR; with one they are what the profile says.
    const bool floats = spec.format.is_floating_point() && !spec.find_attribute("ICCProfile");
    if (kind == "tiff" && floats)
      return std::unique_ptr<Reader>(std::make_unique<LightReader>(std::move(input), spec, std::move(file)));
    return std::unique_ptr<Reader>(std::make_unique<FileReader>(std::move(input), spec, std::move(file)));
  }

  base::Status write(const std::string& path, const std::string& kind, const WriteSpec& w,
                     const std::function<base::Status(int, std::byte*)>& next) override {
    if (kind == "webp") return writeWebp(path, w, next);
    if (kind == "tiff") return writeTiff(path, w, next);
    // Before the writer, which may still write when it is destroyed.
    std::optional<Paper> paper;
    auto output = ImageOutput::create(kind);
    if (!output) return base::Error{base::Code::unsupported, path, "this build cannot write " + kind};
    ImageSpec spec(w.size.width, w.size.height, w.channels, w.wide ? TypeDesc::UINT16 : TypeDesc::UINT8);
    spec.attribute("oiio:UnassociatedAlpha", 1);
    spec.attribute("oiio:ColorSpace", "sRGB");
    if (kind == "jpeg") spec.attribute("CompressionQuality", w.quality);
    if (kind == "jpeg" && w.quality >= 90) spec.attribute("jpeg:subsampling", "4:4:4");
    const bool light = kind == "openexr";
    if (light) {
      spec.set_format(TypeDesc::HALF);
      spec.attribute("compression", "zip");
      spec.attribute("oiio:ColorSpace", "Linear");
    }
    if (!w.profile.empty() && !light)
      spec.attribute("ICCProfile", TypeDesc(TypeDesc::UINT8, int(w.profile.size())), w.profile.data());
    if (!output->supports("ioproxy"))
      return base::Error{base::Code::unsupported, path, "this build cannot write " + kind + " safely"};
    paper.emplace(path);
    if (paper->failed()) return base::Error{base::Code::unwritable, path, "cannot be written (is its folder read-only or gone?)"};
    output->set_ioproxy(&*paper);
    const base::Error stopped{base::Code::unwritable, path, "writing stopped: the disk is full or gone"};
    if (!output->open(path, spec)) return base::Error{base::Code::unwritable, path, "cannot be written: " + output->geterror()};
    std::vector<std::byte> row(std::size_t(w.size.width) * std::size_t(w.channels) * (w.wide ? 2 : 1));
    for (int y = 0; y < w.size.height; ++y) {
      if (auto filled = next(y, row.data()); !filled.ok()) return filled;
      const bool written = light ? output->write_scanline(y, 0, TypeDesc::FLOAT, asLight(row, w).data())
                                 : output->write_scanline(y, 0, spec.format, row.data());
      if (paper->failed()) return stopped;
      if (!written) return base::Error{base::Code::unwritable, path, "the picture cannot be packed: " + output->geterror()};
    }
    if (!output->close() && !paper->failed())
      return base::Error{base::Code::unwritable, path, "the picture cannot be packed: " + output->geterror()};
    paper->close();
    return paper->failed() ? base::Status(stopped) : base::Status();
  }
  base::Result<Metadata> metadata(const std::string& path) override { return metadataOf(path); }
  base::Status addMetadata(const std::string& path, const Metadata& m) override { return door::addMetadata(path, m); }

 private:
  // A row of encoded straight samples as light with alpha multiplied in.
  static std::vector<float> asLight(const std::vector<std::byte>& row, const WriteSpec& w) {
    const auto* wide = reinterpret_cast<const std::uint16_t*>(row.data());
    const auto sample = [&](std::size_t i) {
      return w.wide ? float(wide[i]) / 65535.f : float(std::to_integer<int>(row[i])) / 255.f;
    };
    const std::size_t ch = std::size_t(w.channels), count = std::size_t(w.size.width) * ch;
    std::vector<float> out(count);
    for (std::size_t i = 0; i < count; ++i) {
      const float alpha = ch == 4 ? sample(i - i % 4 + 3) : 1.f;
      out[i] = ch == 4 && i % 4 == 3 ? alpha : float(linearFromEncoded(double(sample(i)))) * alpha;
    }
    return out;
  }
};

}  // namespace
}  // namespace hseam::image::door

extern "C" hseam::image::door::Door* hseam_picture_door() {
  static hseam::image::door::FileDoor door;
  return &door;
}
