#include "core/image/door/webp.h"

#include <webp/decode.h>
#include <webp/demux.h>
#include <webp/encode.h>
#include <webp/mux.h>

#include <cstdio>
#include <cstring>

#include "core/image/door/metadata.h"
#include "core/image/door/paper.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

constexpr std::size_t kMostBytes = std::size_t(1) << 30;

base::Result<std::vector<std::uint8_t>> wholeFile(const std::string& path) {
  std::FILE* file = std::fopen(path.c_str(), "rb");
  if (!file) return Error{Code::unreadable, path, "the file may not be read"};
  std::vector<std::uint8_t> bytes;
  std::uint8_t block[65536];
  for (std::size_t n = 0; (n = std::fread(block, 1, sizeof block, file)) > 0 && bytes.size() < kMostBytes;)
    bytes.insert(bytes.end(), block, block + n);
  std::fclose(file);
  return bytes;
}

class WebpReader final : public Reader {
 public:
  WebpReader(std::vector<std::uint8_t> bytes, const WebPBitstreamFeatures& f, const std::string& path)
      : bytes_(std::move(bytes)) {
    header_.size = {f.width, f.height};
    header_.channels = f.has_alpha ? 4 : 3;
    header_.orientation = orientationOf(path);
    const WebPData data{bytes_.data(), bytes_.size()};
    if (WebPDemuxer* demux = WebPDemux(&data)) {
      WebPChunkIterator chunk{};
      if (WebPDemuxGetChunk(demux, "ICCP", 1, &chunk)) {
        const auto* from = reinterpret_cast<const std::byte*>(chunk.chunk.bytes);
        header_.profile.assign(from, from + chunk.chunk.size);
      }
      WebPDemuxReleaseChunkIterator(&chunk);
      WebPDemuxDelete(demux);
    }
  }
  const Header& header() const override { return header_; }
  base::Status read(std::byte* rows, std::string&, const std::function<bool(double)>& stop) override {
    if (stop(0)) return Error{Code::cancelled, "", "stopped"};
    const std::size_t stride = std::size_t(header_.size.width) * std::size_t(header_.channels);
    auto* out = reinterpret_cast<std::uint8_t*>(rows);
    const auto decode = header_.channels == 4 ? WebPDecodeRGBAInto : WebPDecodeRGBInto;
    if (!decode(bytes_.data(), bytes_.size(), out, stride * std::size_t(header_.size.height), int(stride)))
      return Error{Code::corrupt, "", "the picture's data is damaged"};
    return {};
  }

 private:
  std::vector<std::uint8_t> bytes_;
  Header header_;
};

}  // namespace

base::Result<std::unique_ptr<Reader>> openWebp(const std::string& path) {
  HSEAM_TRY(std::vector<std::uint8_t> bytes, wholeFile(path));
  WebPBitstreamFeatures features{};
  if (WebPGetFeatures(bytes.data(), bytes.size(), &features) != VP8_STATUS_OK)
    return Error{Code::corrupt, path, "the picture's header is damaged"};
  if (features.has_animation) return Error{Code::unsupported, path, "this WebP file is an animation"};
  return std::unique_ptr<Reader>(std::make_unique<WebpReader>(std::move(bytes), features, path));
}

base::Status writeWebp(const std::string& path, const WriteSpec& spec,
                       const std::function<base::Status(int y, std::byte* row)>& next) {
  if (spec.size.width > WEBP_MAX_DIMENSION || spec.size.height > WEBP_MAX_DIMENSION)
    return Error{Code::limitExceeded, path, "a WebP picture has at most 16383 px a side"};
  const std::size_t stride = std::size_t(spec.size.width) * std::size_t(spec.channels);
  std::vector<std::byte> rows(stride * std::size_t(spec.size.height));
  for (int y = 0; y < spec.size.height; ++y) {
    if (auto filled = next(y, rows.data() + std::size_t(y) * stride); !filled.ok()) return filled;
  }
  WebPConfig config;
  WebPPicture picture;
  if (!WebPConfigInit(&config) || !WebPPictureInit(&picture))
    return Error{Code::unsupported, path, "this build cannot write WebP"};
  config.quality = float(spec.quality);
  config.lossless = spec.quality >= 100 ? 1 : 0;
  config.exact = config.lossless;
  config.thread_level = 1;
  picture.use_argb = config.lossless;
  picture.width = spec.size.width;
  picture.height = spec.size.height;
  const auto* in = reinterpret_cast<const std::uint8_t*>(rows.data());
  const int taken =
      spec.channels == 4 ? WebPPictureImportRGBA(&picture, in, int(stride)) : WebPPictureImportRGB(&picture, in, int(stride));
  WebPMemoryWriter memory;
  WebPMemoryWriterInit(&memory);
  picture.writer = WebPMemoryWrite;
  picture.custom_ptr = &memory;
  const bool encoded = taken && WebPEncode(&config, &picture);
  WebPPictureFree(&picture);
  if (!encoded) {
    WebPMemoryWriterClear(&memory);
    return Error{Code::outOfMemory, path, "the picture cannot be encoded as WebP"};
  }
  WebPMux* mux = WebPMuxNew();
  const WebPData image{memory.mem, memory.size};
  WebPMuxSetImage(mux, &image, 0);
  if (!spec.profile.empty()) {
    const WebPData profile{reinterpret_cast<const std::uint8_t*>(spec.profile.data()), spec.profile.size()};
    WebPMuxSetChunk(mux, "ICCP", &profile, 0);
  }
  WebPData all{};
  const bool assembled = WebPMuxAssemble(mux, &all) == WEBP_MUX_OK;
  WebPMuxDelete(mux);
  WebPMemoryWriterClear(&memory);
  Paper paper(path);
  if (assembled) paper.write(all.bytes, all.size);
  WebPDataClear(&all);
  paper.close();
  return assembled ? paper.outcome() : base::noMemory(path);
}

}  // namespace hseam::image::door
