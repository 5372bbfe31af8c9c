#include "core/scene/colour_table.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <sstream>

namespace hseam::scene {
namespace {

constexpr int kMostSide = 129;

base::Error wrongLine(int line, const std::string& what) {
  return {base::Code::invalid, "", "line " + std::to_string(line) + ": " + what};
}

// Three numbers on a line, by a parser that knows no locale.
bool threeNumbers(const std::string& line, std::array<float, 3>& out) {
  const char *at = line.data(), *end = at + line.size();
  for (float& v : out) {
    while (at < end && (*at == ' ' || *at == '\t')) ++at;
    const auto read = std::from_chars(at, end, v);
    if (read.ec != std::errc() || !std::isfinite(v)) return false;
    at = read.ptr;
  }
  return std::all_of(at, end, [](char c) { return c == ' ' || c == '\t' || c == '\r'; });
}

}  // namespace

std::array<float, 3> lookedUp(const ColourTable& t, float r, float g, float b) {
  const float most = float(t.side - 1);
  const float in[3] = {std::clamp(r, 0.f, 1.f) * most, std::clamp(g, 0.f, 1.f) * most, std::clamp(b, 0.f, 1.f) * most};
  std::size_t step[3] = {3, 3 * std::size_t(t.side), 3 * std::size_t(t.side) * std::size_t(t.side)};
  std::size_t at = 0;
  float part[3] = {0, 0, 0};
  for (int c = 0; c < 3; ++c) {
    const int k = std::min(int(in[c]), t.side - 2);
    part[c] = in[c] - float(k);
    at += std::size_t(k) * step[c];
  }
  // From the near corner to the far one along the channels in the order of their parts.
  std::array<std::size_t, 3> order{0, 1, 2};
  if (part[order[0]] < part[order[1]]) std::swap(order[0], order[1]);
  if (part[order[1]] < part[order[2]]) std::swap(order[1], order[2]);
  if (part[order[0]] < part[order[1]]) std::swap(order[0], order[1]);
  std::array<float, 3> out{};
  float before = 1;
  for (std::size_t k = 0; k <= 3; ++k) {
    const float w = before - (k < 3 ? part[order[k]] : 0.f);
    for (std::size_t c = 0; c < 3; ++c) out[c] += w * t.values[at + c];
    if (k < 3) before = part[order[k]], at += step[order[k]];
  }
  return out;
}

base::Result<ColourTable> colourTableFromCube(const std::string& text) {
  ColourTable t;
  std::istringstream lines(text);
  std::string line;
  std::size_t wanted = 0;
  for (int n = 1; std::getline(lines, line); ++n) {
    if (!line.empty() && line.back() == '\r') line.pop_back();
    if (line.empty() || line[0] == '#') continue;
    std::istringstream words(line);
    std::string first;
    if (!(words >> first)) continue;
    if (first == "TITLE") {
      const auto from = line.find('"'), to = line.rfind('"');
      if (from != std::string::npos && to > from) t.title = line.substr(from + 1, to - from - 1);
    } else if (first == "LUT_1D_SIZE") {
      return base::Error{base::Code::unsupported, "", "this is a one-dimensional table; curves do what it does"};
    } else if (first == "LUT_3D_SIZE") {
      if (!(words >> t.side) || t.side < 2 || t.side > kMostSide) return wrongLine(n, "the size must lie within 2 to 129");
      wanted = 3 * std::size_t(t.side) * std::size_t(t.side) * std::size_t(t.side);
      t.values.reserve(wanted);
    } else if (first == "DOMAIN_MIN" || first == "DOMAIN_MAX") {
      std::array<float, 3> v{};
      const float expected = first == "DOMAIN_MIN" ? 0.f : 1.f;
      if (!threeNumbers(line.substr(line.find(first) + first.size()), v)) return wrongLine(n, "three numbers are expected");
      for (const float x : v) {
        if (x != expected) return base::Error{base::Code::unsupported, "", "only tables from 0 to 1 can be used"};
      }
    } else {
      std::array<float, 3> v{};
      if (wanted == 0) return wrongLine(n, "LUT_3D_SIZE is missing before the first colour");
      if (!threeNumbers(line, v)) return wrongLine(n, "three numbers are expected");
      if (t.values.size() + 3 > wanted) return wrongLine(n, "there are more colours than the size says");
      for (const float x : v) t.values.push_back(std::clamp(x, 0.f, 1.f));
    }
  }
  if (wanted == 0) return base::Error{base::Code::invalid, "", "this is no table of colours: LUT_3D_SIZE is missing"};
  if (t.values.size() != wanted) return base::Error{base::Code::invalid, "", "the table is not complete"};
  return t;
}

std::string cubeFrom(const ColourTable& t) {
  std::string out = "TITLE \"" + t.title + "\"\nLUT_3D_SIZE " + std::to_string(t.side) + "\n";
  char number[32];
  for (std::size_t i = 0; i < t.values.size(); ++i) {
    const auto written = std::to_chars(number, number + sizeof number, t.values[i], std::chars_format::fixed, 6);
    out.append(number, written.ptr);
    out += i % 3 == 2 ? '\n' : ' ';
  }
  return out;
}

}  // namespace hseam::scene
