#include "core/image/door/raw.h"

#include <libraw/libraw.h>

#include <algorithm>
#include <cstring>

#include "core/image/door/jpeg.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

Error damaged(const std::string& path, int said) {
  const bool unknown = said == LIBRAW_FILE_UNSUPPORTED;
  return {
      unknown ? Code::unsupported : Code::corrupt, path,
      std::string(unknown ? "this camera's files are not known here: " : "the picture is damaged: ") + LibRaw::strerror(said)};
}

// On the heap: it is some hundred kilobytes. Its own words for the terminal are left out.
std::unique_ptr<LibRaw> quietRaw() {
  auto raw = std::make_unique<LibRaw>();
  raw->set_dataerror_handler([](void*, const char*, int) {}, nullptr);
  return raw;
}

class RawReader final : public Reader {
 public:
  explicit RawReader(std::string path) : path_(std::move(path)) {}
  base::Status begin() {
    // Finding the size out leaves the object unfit for more.
    const auto raw = quietRaw();
    if (const int said = raw->open_file(path_.c_str()); said != LIBRAW_SUCCESS) return damaged(path_, said);
    if (const int said = raw->adjust_sizes_info_only(); said != LIBRAW_SUCCESS) return damaged(path_, said);
    header_.size = {int(raw->imgdata.sizes.iwidth), int(raw->imgdata.sizes.iheight)};
    header_.channels = raw->imgdata.idata.colors == 1 ? 1 : 3;
    header_.wide = true;
    return {};
  }
  const Header& header() const override { return header_; }
  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override {
    struct Asked {
      const std::function<bool(double)>& stop;
      bool stopped = false;
    } asked{stop};
    const auto raw = quietRaw();
    auto& p = raw->imgdata.params;
    p.use_camera_wb = 1;
    p.output_color = 1;  // sRGB
    p.output_bps = 16;
    p.no_auto_bright = 1;
    p.gamm[0] = 1 / 2.4, p.gamm[1] = 12.92;
    raw->set_progress_handler(
        [](void* data, LibRaw_progress, int done, int expected) {
          auto& a = *static_cast<Asked*>(data);
          a.stopped = a.stopped || a.stop(double(done) / std::max(1, expected));
          return a.stopped ? 1 : 0;
        },
        &asked);
    int said = raw->open_file(path_.c_str());
    if (said == LIBRAW_SUCCESS) said = raw->unpack();
    if (said == LIBRAW_SUCCESS) said = raw->dcraw_process();
    if (asked.stopped) return Error{Code::cancelled, "", "stopped"};
    if (said != LIBRAW_SUCCESS) return damaged("", said);
    const std::unique_ptr<libraw_processed_image_t, void (*)(libraw_processed_image_t*)> picture(raw->dcraw_make_mem_image(&said),
                                                                                                 LibRaw::dcraw_clear_mem);
    if (!picture) return damaged("", said);
    const std::size_t bytes =
        std::size_t(header_.size.width) * std::size_t(header_.size.height) * std::size_t(header_.channels) * 2;
    if (picture->bits != 16 || picture->data_size != bytes || int(picture->width) != header_.size.width)
      return Error{Code::corrupt, "", "the picture is damaged: it is not of the size that its header tells"};
    std::memcpy(rows, picture->data, bytes);
    if (raw->error_count() > 0) warning = "the file is damaged or ends early; missing parts are grey or black";
    return {};
  }

 private:
  std::string path_;
  Header header_;
};

// A JPEG that the camera left in the file, if it is large enough.
std::unique_ptr<Reader> leftByCamera(const std::string& path, int enough) {
  const auto raw = quietRaw();
  if (raw->open_file(path.c_str()) != LIBRAW_SUCCESS || raw->unpack_thumb() != LIBRAW_SUCCESS) return nullptr;
  const auto& t = raw->imgdata.thumbnail;
  if (t.tformat != LIBRAW_THUMBNAIL_JPEG || !t.thumb || std::max(t.twidth, t.theight) < enough) return nullptr;
  const auto* bytes = reinterpret_cast<const std::uint8_t*>(t.thumb);
  const int flip = raw->imgdata.sizes.flip;
  const int orientation = flip == 3 ? 3 : (flip == 5 ? 8 : (flip == 6 ? 6 : 1));
  auto reader = jpegFrom({bytes, bytes + t.tlength}, orientation, enough);
  return reader.ok() ? std::move(reader).value() : nullptr;
}

}  // namespace

base::Result<std::unique_ptr<Reader>> openRaw(const std::string& path, int enough) {
  if (enough > 0) {
    if (auto small = leftByCamera(path, enough)) return small;
  }
  auto reader = std::make_unique<RawReader>(path);
  HSEAM_DO(reader->begin());
  return std::unique_ptr<Reader>(std::move(reader));
}

}  // namespace hseam::image::door
