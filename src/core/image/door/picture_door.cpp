// The picture module: JPEG, PNG and TIFF through OpenImageIO. Loaded on demand by picture_file.cpp.

#include "core/image/door/picture_door.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <unistd.h>

#include <algorithm>
#include <cstdio>
#include <optional>

namespace hseam::image::door {
namespace {

using OIIO::ImageInput;
using OIIO::ImageOutput;
using OIIO::ImageSpec;
using OIIO::TypeDesc;

// Where encoders write. The JPEG encoder ends the whole program when a write fails, and the PNG encoder takes no notice: so a
// failure is kept here, told to nobody, and asked for at the end.
class Paper final : public OIIO::Filesystem::IOProxy {
 public:
  explicit Paper(const std::string& path)
      : IOProxy(path, Write), file_(std::fopen(path.c_str(), "wb")), failed_(file_ == nullptr) {}
  ~Paper() override { close(); }
  const char* proxytype() const override { return "paper"; }
  size_t write(const void* bytes, size_t count) override {
    failed_ = failed_ || std::fwrite(bytes, 1, count, file_) != count;
    m_pos += std::int64_t(count);
    return count;
  }
  bool seek(std::int64_t offset) override {
    failed_ = failed_ || std::fseek(file_, long(offset), SEEK_SET) != 0;
    m_pos = offset;
    return true;
  }
  size_t size() const override { return size_t(m_pos); }
  void close() override {
    if (!file_) return;
    failed_ = std::fflush(file_) != 0 || fsync(fileno(file_)) != 0 || failed_;
    failed_ = std::fclose(file_) != 0 || failed_;
    file_ = nullptr;
  }
  bool failed() const { return failed_; }

 private:
  std::FILE* file_;
  bool failed_;
};

class FileReader final : public Reader {
 public:
  FileReader(std::unique_ptr<ImageInput> input, const ImageSpec& spec) : input_(std::move(input)) {
    header_.size = {spec.width, spec.height};
    header_.channels = spec.nchannels;
    header_.wide = spec.format.basesize() > 1;
    header_.orientation = spec.get_int_attribute("Orientation", 1);
    header_.cmyk = spec.get_string_attribute("jpeg:ColorSpace") == "CMYK" ||
                   spec.get_string_attribute("tiff:ColorSpace") == "CMYK" ||
                   spec.get_string_attribute("oiio:ColorSpace") == "CMYK";
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

 private:
  std::unique_ptr<ImageInput> input_;
  Header header_;
};

class FileDoor final : public Door {
 public:
  FileDoor() { OIIO::attribute("threads", 1); }

  base::Result<std::unique_ptr<Reader>> open(const std::string& path, const std::string& kind) override {
    auto input = ImageInput::create(kind);
    if (!input) return base::Error{base::Code::unsupported, path, "this build cannot read " + kind};
    ImageSpec config, spec;
    config.attribute("oiio:UnassociatedAlpha", 1);
    if (!input->open(path, spec, config)) {
      const std::string text = input->geterror();
      return base::Error{base::Code::corrupt, path,
                         text.empty() ? "the picture's header is damaged" : "the picture's header is damaged: " + text};
    }
    if (spec.depth > 1) return base::Error{base::Code::unsupported, path, "volumes are not pictures"};
    return std::unique_ptr<Reader>(std::make_unique<FileReader>(std::move(input), spec));
  }

  base::Status write(const std::string& path, const std::string& kind, const WriteSpec& w,
                     const std::function<base::Status(int, std::byte*)>& next) override {
    auto output = ImageOutput::create(kind);
    if (!output) return base::Error{base::Code::unsupported, path, "this build cannot write " + kind};
    ImageSpec spec(w.size.width, w.size.height, w.channels, w.wide ? TypeDesc::UINT16 : TypeDesc::UINT8);
    spec.attribute("oiio:UnassociatedAlpha", 1);
    spec.attribute("oiio:ColorSpace", "sRGB");
    if (kind == "jpeg") spec.attribute("CompressionQuality", w.jpegQuality);
    if (kind == "jpeg" && w.jpegQuality >= 90) spec.attribute("jpeg:subsampling", "4:4:4");
    if (kind == "tiff") spec.attribute("compression", "zip");
    if (!w.profile.empty()) spec.attribute("ICCProfile", TypeDesc(TypeDesc::UINT8, int(w.profile.size())), w.profile.data());
    // The TIFF encoder reads back what it wrote, and tells of failed writes by itself.
    std::optional<Paper> paper;
    if (kind != "tiff" && output->supports("ioproxy")) {
      paper.emplace(path);
      if (paper->failed())
        return base::Error{base::Code::unwritable, path, "cannot be written (is its folder read-only or gone?)"};
      output->set_ioproxy(&*paper);
    }
    if (!output->open(path, spec)) return base::Error{base::Code::unwritable, path, "cannot be written: " + output->geterror()};
    std::vector<std::byte> row(std::size_t(w.size.width) * std::size_t(w.channels) * (w.wide ? 2 : 1));
    for (int y = 0; y < w.size.height; ++y) {
      if (auto filled = next(y, row.data()); !filled.ok()) return filled;
      if (!output->write_scanline(y, 0, spec.format, row.data())) {
        return base::Error{base::Code::unwritable, path, "writing stopped (is the disk full?): " + output->geterror()};
      }
    }
    if (!output->close())
      return base::Error{base::Code::unwritable, path, "writing stopped (is the disk full?): " + output->geterror()};
    if (!paper) return {};
    paper->close();
    if (paper->failed()) return base::Error{base::Code::unwritable, path, "writing stopped: the disk is full or gone"};
    return {};
  }
};

}  // namespace
}  // namespace hseam::image::door

extern "C" hseam::image::door::Door* hseam_picture_door() {
  static hseam::image::door::FileDoor door;
  return &door;
}
