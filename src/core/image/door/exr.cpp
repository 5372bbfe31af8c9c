#include "core/image/door/exr.h"

#include <ImathBox.h>
#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfIO.h>
#include <OpenEXR/ImfInputPart.h>
#include <OpenEXR/ImfMultiPartInputFile.h>
#include <OpenEXR/ImfOutputFile.h>
#include <OpenEXR/ImfPartType.h>

#include "core/image/door/light.h"
#include "core/image/door/light_guard.h"
#include "core/image/door/paper.h"

namespace hseam::image::door {
namespace {

using base::Code;
using base::Error;

// Colours by their usual names (OpenEXR's technical introduction); else grey; else whatever comes first.
std::vector<std::string> channelsOf(const Imf::ChannelList& list) {
  const auto has = [&](const char* name) { return list.findChannel(name) != nullptr; };
  std::vector<std::string> names;
  if (has("R") && has("G") && has("B"))
    names = {"R", "G", "B"};
  else if (has("Y"))
    names = {"Y"};
  if (!names.empty()) {
    if (has("A")) names.emplace_back("A");
    return names;
  }
  for (auto c = list.begin(); c != list.end() && names.size() < 3; ++c) names.emplace_back(c.name());
  if (names.size() == 2) names.pop_back();
  return names;
}

class ExrReader final : public Reader {
 public:
  explicit ExrReader(const std::string& path) : file_(path.c_str(), 0) {
    const Imf::Header& h = file_.header(0);
    window_ = h.dataWindow();
    names_ = channelsOf(h.channels());
    for (const std::string& name : names_) {
      const Imf::Channel& c = *h.channels().findChannel(name);
      plain_ = plain_ && c.xSampling == 1 && c.ySampling == 1;
    }
    deep_ = h.hasType() && Imf::isDeepData(h.type());
    header_.size = {int(window_.max.x - window_.min.x + 1), int(window_.max.y - window_.min.y + 1)};
    header_.channels = int(names_.size());
    header_.wide = true;
  }
  base::Status usable() const {
    if (deep_) return Error{Code::unsupported, "", "deep pictures are not read"};
    if (names_.empty()) return Error{Code::corrupt, "", "the picture has no channels"};
    if (!plain_) return Error{Code::unsupported, "", "its colours are kept at a smaller size than its light, which is not read"};
    return {};
  }
  const Header& header() const override { return header_; }
  base::Status read(std::byte* rows, std::string& warning, const std::function<bool(double)>& stop) override try {
    const std::size_t ch = names_.size(), width = std::size_t(header_.size.width);
    std::vector<float> band(width * ch * kRows);
    auto* out = reinterpret_cast<std::uint16_t*>(rows);
    Imf::InputPart part(file_, 0);
    LightRows light(int(ch), true);
    for (int y = 0; y < header_.size.height; y += kRows) {
      if (stop(double(y) / header_.size.height)) return Error{Code::cancelled, "", "stopped"};
      const int count = std::min(kRows, header_.size.height - y), first = window_.min.y + y;
      Imf::FrameBuffer buffer;
      const std::size_t step = ch * sizeof(float), stride = width * step;
      for (std::size_t c = 0; c < ch; ++c) {
        buffer.insert(names_[c], Imf::Slice::Make(Imf::FLOAT, band.data() + c, {window_.min.x, first}, header_.size.width, count,
                                                  step, stride));
      }
      part.setFrameBuffer(buffer);
      part.readPixels(first, first + count - 1);
      light.encode(band.data(), width * std::size_t(count), out);
      out += width * ch * std::size_t(count);
    }
    warning = light.warning();
    return {};
  } catch (const std::bad_alloc&) {
    throw;
  } catch (const std::exception& e) {
    return Error{Code::corrupt, "", std::string("the picture's data is damaged: ") + e.what()};
  }

 private:
  static constexpr int kRows = 64;
  Imf::MultiPartInputFile file_;
  Imath::Box2i window_;
  std::vector<std::string> names_;
  bool plain_ = true, deep_ = false;
  Header header_;
};

class OnPaper final : public Imf::OStream {
 public:
  OnPaper(Paper& paper, const std::string& path) : OStream(path.c_str()), paper_(paper) {}
  void write(const char* bytes, int count) override { paper_.write(bytes, std::size_t(count)); }
  std::uint64_t tellp() override { return std::uint64_t(paper_.tell()); }
  void seekp(std::uint64_t to) override { paper_.seek(std::int64_t(to)); }

 private:
  Paper& paper_;
};

}  // namespace

base::Result<std::unique_ptr<Reader>> openExr(const std::string& path) try {
  if (hasMalformedHeader(path))
    return Error{Code::corrupt, path, "the picture's header is damaged: it promises more than the file holds"};
  // The library makes tables for all rows and tiles before anybody can look at the size.
  constexpr int kMostSide = 1 << 20, kMostTile = 1 << 13;
  Imf::Header::setMaxImageSize(kMostSide, kMostSide);
  Imf::Header::setMaxTileSize(kMostTile, kMostTile);
  auto reader = std::make_unique<ExrReader>(path);
  if (const auto usable = reader->usable(); !usable.ok()) return Error{usable.error().code, path, usable.error().detail};
  return std::unique_ptr<Reader>(std::move(reader));
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
} catch (const std::exception& e) {
  return Error{Code::corrupt, path, std::string("the picture's header is damaged: ") + e.what()};
}

base::Status writeExr(const std::string& path, const WriteSpec& w,
                      const std::function<base::Status(int y, std::byte* row)>& next) try {
  Paper paper(path);
  if (paper.failed()) return paper.outcome();
  base::Status filled;
  {
    OnPaper stream(paper, path);
    Imf::Header header(w.size.width, w.size.height);
    header.compression() = Imf::ZIP_COMPRESSION;
    const std::size_t ch = std::size_t(w.channels), width = std::size_t(w.size.width);
    const std::vector<const char*> names =
        w.channels < 3 ? std::vector<const char*>{"Y", "A"} : std::vector<const char*>{"R", "G", "B", "A"};
    for (std::size_t c = 0; c < ch; ++c) header.channels().insert(names[c], Imf::Channel(Imf::HALF));
    Imf::OutputFile file(stream, header, 0);
    std::vector<std::byte> row(width * ch * (w.wide ? 2 : 1));
    std::vector<float> light(width * ch);
    std::vector<half> halves(width * ch);
    for (int y = 0; y < w.size.height && !paper.failed(); ++y) {
      filled = next(y, row.data());
      if (!filled.ok()) break;
      toLight(row.data(), w.wide, w.channels, width, light.data());
      std::copy(light.begin(), light.end(), halves.begin());
      Imf::FrameBuffer buffer;
      for (std::size_t c = 0; c < ch; ++c) {
        buffer.insert(names[c], Imf::Slice::Make(Imf::HALF, halves.data() + c, {0, y}, w.size.width, 1, ch * sizeof(half),
                                                 width * ch * sizeof(half)));
      }
      file.setFrameBuffer(buffer);
      file.writePixels(1);
    }
  }
  paper.close();
  return filled.ok() ? paper.outcome() : filled;
} catch (const std::bad_alloc&) {
  return base::noMemory(path);
} catch (const std::exception& e) {
  return Error{Code::unwritable, path, std::string("the picture cannot be packed: ") + e.what()};
}

}  // namespace hseam::image::door
