#include "core/image/display_profile.h"

#include <lcms2.h>

#include <bit>

#include "core/image/colour_profile.h"

namespace hseam::image {
namespace {

using base::Code;
using base::Error;

}  // namespace

struct DisplayTransform::Held {
  cmsContext context = nullptr;
  cmsHTRANSFORM transform = nullptr;
  cmsHTRANSFORM toDevice = nullptr;  // of a proof: comes first
  std::size_t inkBytes = 0;          // of a px in the device's numbers
  Held() : context(cmsCreateContext(nullptr, nullptr)) {
    cmsSetLogErrorHandlerTHR(context, [](cmsContext, cmsUInt32Number, const char*) {});
  }
  ~Held() {
    if (transform) cmsDeleteTransform(transform);
    if (toDevice) cmsDeleteTransform(toDevice);
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

base::Result<std::shared_ptr<const DisplayTransform>> DisplayTransform::proof(const Proof& how, std::span<const std::byte> device,
                                                                              std::span<const std::byte> monitor) {
  auto held = std::make_unique<Held>();
  const auto close = [](void* profile) { cmsCloseProfile(profile); };
  using Profile = std::unique_ptr<void, decltype(close)>;
  const auto opened = [&](std::span<const std::byte> bytes) {
    return Profile(cmsOpenProfileFromMemTHR(held->context, bytes.data(), cmsUInt32Number(bytes.size())), close);
  };
  const Profile srgb(cmsCreate_sRGBProfileTHR(held->context), close), printer = opened(device);
  const Profile screen = monitor.empty() ? Profile(cmsCreate_sRGBProfileTHR(held->context), close) : opened(monitor);
  if (!printer || !screen) return Error{Code::corrupt, "", "this is not a colour profile, or it is broken"};
  const auto intent = cmsUInt32Number(how.intent);
  if (cmsGetColorSpace(screen.get()) != cmsSigRgbData || !cmsIsIntentSupported(printer.get(), intent, LCMS_USED_AS_OUTPUT) ||
      !cmsIsIntentSupported(printer.get(), INTENT_RELATIVE_COLORIMETRIC, LCMS_USED_AS_PROOF))
    return Error{Code::unsupported, "", "this profile only goes one way: it cannot show what its device will give"};
  const cmsUInt32Number back = how.paper ? INTENT_ABSOLUTE_COLORIMETRIC : INTENT_RELATIVE_COLORIMETRIC;
  const cmsUInt32Number flags = cmsFLAGS_NOCACHE | cmsFLAGS_COPY_ALPHA, black = cmsFLAGS_BLACKPOINTCOMPENSATION;
  if (how.warn) {
    cmsUInt16Number alarm[cmsMAXCHANNELS] = {};
    for (int i = 0; i < 3; ++i) alarm[i] = 0x8080;
    cmsSetAlarmCodesTHR(held->context, alarm);
    held->transform =
        cmsCreateProofingTransformTHR(held->context, srgb.get(), TYPE_BGRA_8, screen.get(), TYPE_BGRA_8, printer.get(), intent,
                                      back, flags | cmsFLAGS_SOFTPROOFING | cmsFLAGS_GAMUTCHECK | (how.paper ? 0u : black));
  } else {
    // In two steps, by way of the device's own numbers: what it cannot give is cut off there, however its profile is made.
    const cmsUInt32Number ink = cmsFormatterForColorspaceOfProfile(printer.get(), 2, FALSE);
    held->inkBytes = std::size_t(T_CHANNELS(ink)) * 2;
    held->toDevice =
        cmsCreateTransformTHR(held->context, srgb.get(), TYPE_BGRA_8, printer.get(), ink, intent, cmsFLAGS_NOCACHE | black);
    held->transform = cmsCreateTransformTHR(held->context, printer.get(), ink, screen.get(), TYPE_BGRA_8, back,
                                            cmsFLAGS_NOCACHE | (how.paper ? 0u : black));
    if (!held->toDevice) return Error{Code::unsupported, "", "this profile cannot be used to show colours"};
  }
  if (!held->transform) return Error{Code::unsupported, "", "this profile cannot be used to show colours"};
  return std::shared_ptr<const DisplayTransform>(new DisplayTransform(std::move(held)));
}

base::Result<std::shared_ptr<const DisplayTransform>> DisplayTransform::fromFile(const std::string& path) {
  HSEAM_TRY(const std::vector<std::byte> bytes, readProfile(path));
  auto made = make(bytes);
  if (!made.ok()) return Error{made.error().code, path, made.error().detail};
  return made;
}

void DisplayTransform::apply(std::uint32_t* rgb32, std::size_t count) const {
  if (!held_->toDevice) {
    cmsDoTransform(held_->transform, rgb32, rgb32, cmsUInt32Number(count));
    return;
  }
  constexpr std::size_t kAtOnce = 4096;  // px
  std::vector<std::byte> inks(kAtOnce * held_->inkBytes);
  for (std::size_t i = 0; i < count; i += kAtOnce) {
    const auto n = cmsUInt32Number(std::min(kAtOnce, count - i));
    cmsDoTransform(held_->toDevice, rgb32 + i, inks.data(), n);
    cmsDoTransform(held_->transform, inks.data(), rgb32 + i, n);
  }
}

}  // namespace hseam::image
