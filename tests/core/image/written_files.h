#pragma once
// Picture files of kinds that the program itself does not write, by the libraries of their formats.

#include <ImathBox.h>
#include <OpenEXR/ImfChannelList.h>
#include <OpenEXR/ImfFrameBuffer.h>
#include <OpenEXR/ImfHeader.h>
#include <OpenEXR/ImfInputFile.h>
#include <OpenEXR/ImfOutputFile.h>
#include <png.h>
#include <tiffio.h>

#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <string>
#include <vector>

#include <jpeglib.h>

namespace hseam::test {

[[noreturn]] inline void cannotWrite(const std::string& path) {
  std::fprintf(stderr, "cannot write %s\n", path.c_str());
  std::abort();
}

struct TiffKind {
  int width = 0, height = 0, samples = 3, bits = 8;
  int photometric = PHOTOMETRIC_RGB, format = SAMPLEFORMAT_UINT, tile = 0;  // tile: px a side, 0 for strips
  bool planes = false;
  int extra = -1;  // EXTRASAMPLE_…
  int compression = COMPRESSION_NONE;
  const char* mode = "w";
};

/// samples: interleaved, of kind.bits each (fewer than 8: packed rows, strips only).
inline void writeTiffFile(const std::string& path, const TiffKind& k, const std::vector<std::uint8_t>& samples,
                          const std::vector<std::uint16_t>& palette = {}) {
  TIFF* t = TIFFOpen(path.c_str(), k.mode);
  if (!t) cannotWrite(path);
  TIFFSetField(t, TIFFTAG_IMAGEWIDTH, k.width);
  TIFFSetField(t, TIFFTAG_IMAGELENGTH, k.height);
  TIFFSetField(t, TIFFTAG_SAMPLESPERPIXEL, k.samples);
  TIFFSetField(t, TIFFTAG_BITSPERSAMPLE, k.bits);
  TIFFSetField(t, TIFFTAG_SAMPLEFORMAT, k.format);
  TIFFSetField(t, TIFFTAG_PHOTOMETRIC, k.photometric);
  TIFFSetField(t, TIFFTAG_PLANARCONFIG, k.planes ? PLANARCONFIG_SEPARATE : PLANARCONFIG_CONTIG);
  TIFFSetField(t, TIFFTAG_COMPRESSION, k.compression);
  if (k.compression == COMPRESSION_JPEG) TIFFSetField(t, TIFFTAG_JPEGCOLORMODE, JPEGCOLORMODE_RGB);
  if (k.extra >= 0) {
    const std::uint16_t extra = std::uint16_t(k.extra);
    TIFFSetField(t, TIFFTAG_EXTRASAMPLES, 1, &extra);
  }
  if (!palette.empty()) {
    const std::size_t n = palette.size() / 3;
    TIFFSetField(t, TIFFTAG_COLORMAP, palette.data(), palette.data() + n, palette.data() + 2 * n);
  }
  const std::size_t sample = std::size_t(k.bits) / 8, inRow = std::size_t(k.samples), planes = k.planes ? inRow : 1,
                    inPart = k.planes ? 1 : inRow;
  if (k.tile > 0) {
    TIFFSetField(t, TIFFTAG_TILEWIDTH, k.tile);
    TIFFSetField(t, TIFFTAG_TILELENGTH, k.tile);
    std::vector<std::uint8_t> part(std::size_t(k.tile) * std::size_t(k.tile) * inPart * sample);
    for (std::size_t plane = 0; plane < planes; ++plane) {
      for (int top = 0; top < k.height; top += k.tile) {
        for (int left = 0; left < k.width; left += k.tile) {
          for (int y = 0; y < k.tile && top + y < k.height; ++y) {
            for (int x = 0; x < k.tile && left + x < k.width; ++x) {
              const std::size_t from = (std::size_t(top + y) * std::size_t(k.width) + std::size_t(left + x)) * inRow + plane;
              const std::size_t to = (std::size_t(y) * std::size_t(k.tile) + std::size_t(x)) * inPart;
              std::copy_n(&samples[from * sample], inPart * sample, &part[to * sample]);
            }
          }
          if (TIFFWriteTile(t, part.data(), std::uint32_t(left), std::uint32_t(top), 0, std::uint16_t(plane)) < 0)
            cannotWrite(path);
        }
      }
    }
  } else {
    TIFFSetField(t, TIFFTAG_ROWSPERSTRIP, k.compression == COMPRESSION_JPEG ? 16 : 7);
    const std::size_t bytes = k.bits < 8 ? samples.size() / std::size_t(k.height) : std::size_t(k.width) * inRow * sample;
    std::vector<std::uint8_t> row(bytes);
    for (std::size_t plane = 0; plane < planes; ++plane) {
      for (int y = 0; y < k.height; ++y) {
        const std::uint8_t* from = &samples[std::size_t(y) * bytes];
        for (std::size_t x = 0; k.planes && x < std::size_t(k.width); ++x)
          std::copy_n(from + (x * inRow + plane) * sample, sample, &row[x * sample]);
        if (!k.planes) std::copy_n(from, bytes, row.begin());
        if (TIFFWriteScanline(t, row.data(), std::uint32_t(y), std::uint16_t(plane)) != 1) cannotWrite(path);
      }
    }
  }
  TIFFClose(t);
}

template <class T>
std::vector<std::uint8_t> bytesOf(const std::vector<T>& samples) {
  const auto* first = reinterpret_cast<const std::uint8_t*>(samples.data());
  return {first, first + samples.size() * sizeof(T)};
}

/// rows as PNG packs them (16 bit: most significant byte first).
inline void writePngFile(const std::string& path, int width, int height, int bits, int colourType, bool interlaced,
                         const std::vector<std::uint8_t>& rows, const std::vector<png_color>& palette = {},
                         const std::vector<std::uint8_t>& paletteAlpha = {}) {
  std::FILE* file = std::fopen(path.c_str(), "wb");
  png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
  png_infop info = png_create_info_struct(png);
  if (!file || !info) cannotWrite(path);
  png_init_io(png, file);
  png_set_IHDR(png, info, png_uint_32(width), png_uint_32(height), bits, colourType,
               interlaced ? PNG_INTERLACE_ADAM7 : PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
  if (!palette.empty()) png_set_PLTE(png, info, palette.data(), int(palette.size()));
  if (!paletteAlpha.empty()) png_set_tRNS(png, info, paletteAlpha.data(), int(paletteAlpha.size()), nullptr);
  std::vector<png_bytep> each;
  for (int y = 0; y < height; ++y)
    each.push_back(const_cast<png_bytep>(&rows[std::size_t(y) * (rows.size() / std::size_t(height))]));
  png_set_rows(png, info, each.data());
  png_write_png(png, info, PNG_TRANSFORM_IDENTITY, nullptr);
  png_destroy_write_struct(&png, &info);
  std::fclose(file);
}

/// Colours or grey (1, 3, 4 channels) as interleaved light.
inline void writeExrFile(const std::string& path, int width, int height, int channels, const std::vector<float>& light) {
  Imf::Header header(width, height);
  const char* names[] = {"R", "G", "B", "A"};
  Imf::FrameBuffer buffer;
  for (int c = 0; c < channels; ++c) {
    const char* name = channels == 1 ? "Y" : names[c];
    header.channels().insert(name, Imf::Channel(Imf::FLOAT));
    buffer.insert(name, Imf::Slice(Imf::FLOAT, const_cast<char*>(reinterpret_cast<const char*>(light.data() + c)),
                                   sizeof(float) * std::size_t(channels), sizeof(float) * std::size_t(channels * width)));
  }
  Imf::OutputFile file(path.c_str(), header);
  file.setFrameBuffer(buffer);
  file.writePixels(height);
}

/// R, G, B, A as light; half: whether the file keeps half floats.
inline std::vector<float> readExrFile(const std::string& path, bool& half) {
  Imf::InputFile file(path.c_str());
  const Imath::Box2i w = file.header().dataWindow();
  const int width = w.max.x - w.min.x + 1, height = w.max.y - w.min.y + 1;
  std::vector<float> light(std::size_t(width * height * 4));
  Imf::FrameBuffer buffer;
  const char* names[] = {"R", "G", "B", "A"};
  for (int c = 0; c < 4; ++c)
    buffer.insert(names[c], Imf::Slice(Imf::FLOAT, reinterpret_cast<char*>(light.data() + c), sizeof(float) * 4,
                                       sizeof(float) * std::size_t(4 * width)));
  file.setFrameBuffer(buffer);
  file.readPixels(w.min.y, w.max.y);
  half = file.header().channels().findChannel("R")->type == Imf::HALF;
  return light;
}

/// value(x, y, channel): 0..255. exif: with its name and two zeros, empty for none.
inline void writeJpegFile(const std::string& path, int width, int height, bool progressive, const std::string& exif,
                          const std::function<int(int, int, int)>& value) {
  jpeg_compress_struct info{};
  jpeg_error_mgr errors;
  info.err = jpeg_std_error(&errors);
  jpeg_create_compress(&info);
  std::FILE* file = std::fopen(path.c_str(), "wb");
  if (!file) cannotWrite(path);
  jpeg_stdio_dest(&info, file);
  info.image_width = JDIMENSION(width);
  info.image_height = JDIMENSION(height);
  info.input_components = 3;
  info.in_color_space = JCS_RGB;
  jpeg_set_defaults(&info);
  jpeg_set_quality(&info, 95, TRUE);
  if (progressive) jpeg_simple_progression(&info);
  jpeg_start_compress(&info, TRUE);
  if (!exif.empty()) jpeg_write_marker(&info, JPEG_APP0 + 1, reinterpret_cast<const JOCTET*>(exif.data()), unsigned(exif.size()));
  std::vector<JSAMPLE> row(std::size_t(width) * 3);
  JSAMPROW rows[1] = {row.data()};
  for (int y = 0; y < height; ++y) {
    for (std::size_t i = 0; i < row.size(); ++i) row[i] = JSAMPLE(value(int(i / 3), y, int(i % 3)));
    jpeg_write_scanlines(&info, rows, 1);
  }
  jpeg_finish_compress(&info);
  jpeg_destroy_compress(&info);
  std::fclose(file);
}

}  // namespace hseam::test
