#pragma once

#include <functional>
#include <span>

#include "core/image/tiled_image.h"
#include "core/store/tile_reader.h"

namespace hseam::store {

/// A tile's bytes for the file: differences to the pixel on the left, then zstd (RFC 8878) at its fastest level.
std::vector<std::byte> packTile(std::span<const std::byte> bytes, std::size_t pixelBytes);
/// Errors: corrupt.
base::Result<image::Bytes> unpackTile(std::span<const std::byte> packed, std::size_t expectedBytes, std::size_t pixelBytes);

/// A picture's manifest: format, sizes, and per tile its one value, or its hash and where it lies; zstd. `placeOf` must know
/// every tile that has bytes.
std::vector<std::byte> packManifest(const image::TiledImage& image,
                                    const std::function<TilePlace(const image::ContentHash&)>& placeOf);
/// The reader learns where the tiles lie; tiles of equal pixels are one object. Errors: corrupt, unsupported (a newer version).
base::Result<image::TiledImage> unpackManifest(std::span<const std::byte> packed,
                                               const std::shared_ptr<image::TileMemory>& memory, TileReader& reader);

/// 32 hexadecimal digits.
std::string hexOf(const image::ContentHash& hash);

}  // namespace hseam::store
