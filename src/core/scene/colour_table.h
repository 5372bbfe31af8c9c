#pragma once
// A three-dimensional table of colours (.cube, Cube LUT Specification 1.0, 2013: an open text format).

#include <array>
#include <string>
#include <vector>

#include "core/base/error.h"

namespace hseam::scene {

struct ColourTable {
  std::string title;
  int side = 0;               // 2..129 entries a side
  std::vector<float> values;  // red fastest, then green, then blue; 3 floats an entry, 0..1
  friend bool operator==(const ColourTable&, const ColourTable&) = default;
};

/// Tetrahedral interpolation (Kasson, Nin, Plouffe, Hafner 1995) of an encoded colour, 0..1.
std::array<float, 3> lookedUp(const ColourTable& table, float r, float g, float b);

/// The text of a .cube file with LUT_3D_SIZE and a domain of 0..1. Errors: invalid, with the line at fault; unsupported (a
/// one-dimensional table, another domain).
base::Result<ColourTable> colourTableFromCube(const std::string& text);
/// The same back, six decimals.
std::string cubeFrom(const ColourTable& table);

}  // namespace hseam::scene
