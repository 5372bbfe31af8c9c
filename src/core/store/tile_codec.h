#pragma once

#include <span>

#include "core/image/tiled_image.h"

namespace hseam::store {

/// A tile's bytes for the file: differences to the pixel on the left, then zstd (RFC 8878) at its fastest level.
std::vector<std::byte> packTile(std::span<const std::byte> bytes, std::size_t pixelBytes);
/// Errors: corrupt.
base::Result<image::Bytes> unpackTile(std::span<const std::byte> packed, std::size_t expectedBytes, std::size_t pixelBytes);

/// A picture's manifest: format, sizes, and per tile its hash or its one value; zstd.
std::vector<std::byte> packManifest(const image::TiledImage& image);
/// Errors: corrupt, unsupported (a newer version).
base::Result<image::TiledImage> unpackManifest(std::span<const std::byte> packed,
                                               const std::shared_ptr<image::TileMemory>& memory,
                                               const std::shared_ptr<image::TileBacking>& backing);

/// 32 hexadecimal digits.
std::string hexOf(const image::ContentHash& hash);

}  // namespace hseam::store
