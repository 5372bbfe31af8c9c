#include "core/image/display_profile.h"

#include <lcms2.h>

#include <bit>
#include <fstream>
#include <iterator>
#include <vector>

namespace hseam::image {
namespace {

using base::Code;
using base::Error;

constexpr std::size_t kMostBytes = std::size_t(16) << 20;

}  // namespace

struct DisplayTransform::Held {
  cmsContext context = nullptr;
  cmsHTRANSFORM transform = nullptr;
  Held() : context(cmsCreateContext(nullptr, nullptr)) {
    cmsSetLogErrorHandlerTHR(context, [](cmsContext, cmsUInt32Number, const char*) {});
  }
  ~Held() {
    if (transform) cmsDeleteTransform(transform);
    cmsDeleteContext(context);
  }
  Held(const Held&) = delete;
  Held& operator=(const Held&) = delete;
};

DisplayTransform::DisplayTransform(std::unique_ptr<Held> held) : held_(std::move(held)) {}
DisplayTransform::~DisplayTransform() = default;

base::Result<std::shared_ptr<const DisplayTransform>> DisplayTransform::make(std::span<const std::byte> bytes) {
  static_assert(std::endian::native == std::endian::little, "0xffRRGGBB is read as blue, green, red, alpha");
  auto held = std::make_unique<Held>();
  cmsHPROFILE monitor = cmsOpenProfileFromMemTHR(held->context, bytes.data(), cmsUInt32Number(bytes.size()));
  if (!monitor) return Error{Code::corrupt, "", "this is not a colour profile, or it is broken"};
  if (cmsGetColorSpace(monitor) != cmsSigRgbData) {
    cmsCloseProfile(monitor);
    return Error{Code::unsupported, "", "this profile is not of a monitor"};
  }
  cmsHPROFILE srgb = cmsCreate_sRGBProfileTHR(held->context);
  held->transform = cmsCreateTransformTHR(held->context, srgb, TYPE_BGRA_8, monitor, TYPE_BGRA_8, INTENT_RELATIVE_COLORIMETRIC,
                                          cmsFLAGS_BLACKPOINTCOMPENSATION | cmsFLAGS_NOCACHE | cmsFLAGS_COPY_ALPHA);
  cmsCloseProfile(srgb);
  cmsCloseProfile(monitor);
  if (!held->transform) return Error{Code::corrupt, "", "this profile cannot be used to show colours"};
  return std::shared_ptr<const DisplayTransform>(new DisplayTransform(std::move(held)));
}

base::Result<std::shared_ptr<const DisplayTransform>> DisplayTransform::fromFile(const std::string& path) {
  std::ifstream file(path, std::ios::binary);
  if (!file) return Error{Code::unreadable, path, "the file may not be read"};
  std::vector<char> bytes;
  char block[65536];
  while (file.read(block, sizeof block), file.gcount() > 0) {
    bytes.insert(bytes.end(), block, block + file.gcount());
    if (bytes.size() > kMostBytes) return Error{Code::limitExceeded, path, "this is too large for a colour profile"};
  }
  auto made = make(std::as_bytes(std::span(bytes.data(), bytes.size())));
  if (!made.ok()) return Error{made.error().code, path, made.error().detail};
  return made;
}

void DisplayTransform::apply(std::uint32_t* rgb32, std::size_t count) const {
  cmsDoTransform(held_->transform, rgb32, rgb32, cmsUInt32Number(count));
}

}  // namespace hseam::image
