#pragma once
// Pictures of four inks with a profile whose formula is known, and other profiles for tests.

#include <lcms2.h>

#include <QByteArray>
#include <array>
#include <cstdio>
#include <string>
#include <vector>

#include <jpeglib.h>

#include "core/image/lab.h"

namespace hseam::inks {

/// What the profile below says of inks (0..255): a made-up press whose colours are simple sums.
inline image::Lab meant(const std::array<int, 4>& inks) {
  const auto [c, m, y, k] = inks;
  const double light = (1 - k / 255.0) * (1 - 0.35 * c / 255.0 - 0.4 * m / 255.0 - 0.08 * y / 255.0);
  return {100 * light, (-30 * c + 55 * m) / 255.0 * (1 - k / 255.0), (-40 * c + 60 * y) / 255.0 * (1 - k / 255.0)};
}

inline QByteArray bytesOf(cmsHPROFILE profile) {
  cmsUInt32Number size = 0;
  cmsSaveProfileToMem(profile, nullptr, &size);
  QByteArray bytes(int(size), '\0');
  cmsSaveProfileToMem(profile, bytes.data(), &size);
  cmsCloseProfile(profile);
  return bytes;
}

// Linear values on the primaries given (x, y each) under D65, on a medium that reflects so much.
inline QByteArray linearProfile(const std::array<std::array<double, 2>, 3>& xy, double paper) {
  const cmsCIExyY white{0.3127, 0.3290, 1};
  const cmsCIExyYTRIPLE primaries{{xy[0][0], xy[0][1], 1}, {xy[1][0], xy[1][1], 1}, {xy[2][0], xy[2][1], 1}};
  cmsToneCurve* line = cmsBuildGamma(nullptr, 1.0);
  cmsToneCurve* lines[3] = {line, line, line};
  cmsHPROFILE p = cmsCreateRGBProfile(&white, &primaries, lines);
  cmsFreeToneCurve(line);
  const cmsCIEXYZ media{cmsD50_XYZ()->X * paper, paper, cmsD50_XYZ()->Z * paper};
  if (paper < 1) cmsWriteTag(p, cmsSigMediaWhitePointTag, &media);
  return bytesOf(p);
}
inline QByteArray dullPaperProfile(double paper) {
  return linearProfile({{{0.64, 0.33}, {0.30, 0.60}, {0.15, 0.06}}}, paper);
}
inline QByteArray linearSrgbProfile() {
  return dullPaperProfile(1);
}

inline QByteArray pressProfile() {
  cmsHPROFILE p = cmsCreateProfilePlaceholder(nullptr);
  cmsSetDeviceClass(p, cmsSigOutputClass);
  cmsSetColorSpace(p, cmsSigCmykData);
  cmsSetPCS(p, cmsSigLabData);
  cmsSetProfileVersion(p, 4.3);
  cmsPipeline* lut = cmsPipelineAlloc(nullptr, 4, 3);
  cmsStage* grid = cmsStageAllocCLut16bit(nullptr, 13, 4, 3, nullptr);
  cmsStageSampleCLut16bit(
      grid,
      [](const cmsUInt16Number in[], cmsUInt16Number out[], void*) -> cmsInt32Number {
        std::array<double, 4> v{};
        for (std::size_t i = 0; i < 4; ++i) v[i] = in[i] / 65535.0 * 255;
        const auto [c, m, y, k] = v;
        const double light = (1 - k / 255) * (1 - 0.35 * c / 255 - 0.4 * m / 255 - 0.08 * y / 255);
        const cmsCIELab lab{100 * light, (-30 * c + 55 * m) / 255 * (1 - k / 255), (-40 * c + 60 * y) / 255 * (1 - k / 255)};
        cmsFloat2LabEncoded(out, &lab);
        return TRUE;
      },
      nullptr, 0);
  cmsPipelineInsertStage(lut, cmsAT_END, cmsStageAllocToneCurves(nullptr, 4, nullptr));
  cmsPipelineInsertStage(lut, cmsAT_END, grid);
  cmsPipelineInsertStage(lut, cmsAT_END, cmsStageAllocToneCurves(nullptr, 3, nullptr));
  cmsWriteTag(p, cmsSigAToB0Tag, lut);
  cmsPipelineFree(lut);
  return bytesOf(p);
}

/// One flat field, as presses' files keep it: inks turned round, with Adobe's marker.
inline void writeJpeg(const std::string& path, int width, int height, const std::array<int, 4>& inks, bool withProfile) {
  jpeg_compress_struct info{};
  jpeg_error_mgr errors;
  info.err = jpeg_std_error(&errors);
  jpeg_create_compress(&info);
  std::FILE* file = std::fopen(path.c_str(), "wb");
  jpeg_stdio_dest(&info, file);
  info.image_width = JDIMENSION(width);
  info.image_height = JDIMENSION(height);
  info.input_components = 4;
  info.in_color_space = JCS_CMYK;
  jpeg_set_defaults(&info);
  info.write_Adobe_marker = TRUE;
  jpeg_set_quality(&info, 100, TRUE);
  jpeg_start_compress(&info, TRUE);
  const QByteArray profile = pressProfile();
  if (withProfile) jpeg_write_icc_profile(&info, reinterpret_cast<const JOCTET*>(profile.data()), unsigned(profile.size()));
  std::vector<JSAMPLE> row(std::size_t(width) * 4);
  for (std::size_t i = 0; i < row.size(); ++i) row[i] = JSAMPLE(255 - inks[i % 4]);
  JSAMPROW rows[1] = {row.data()};
  while (info.next_scanline < info.image_height) jpeg_write_scanlines(&info, rows, 1);
  jpeg_finish_compress(&info);
  jpeg_destroy_compress(&info);
  std::fclose(file);
}

}  // namespace hseam::inks
