#include "core/path/svg.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <filesystem>
#include <fstream>
#include <numbers>
#include <pugixml.hpp>

#include "core/path/vector.h"

namespace hseam::path {
namespace {

using base::Code;
using base::Error;
using base::Point;

constexpr std::size_t kMostNodes = 100'000;

class Reader {
 public:
  explicit Reader(const std::string& data) : data_(data) {}

  base::Result<Path> read() {
    char command = 0;
    while (skip(), at_ < data_.size()) {
      if (std::isalpha(static_cast<unsigned char>(data_[at_]))) {
        command = data_[at_++];
        if ((command | 32) == 'z') {
          close();
          continue;
        }
      } else if (command == 0 || (command | 32) == 'z') {
        return wrong();
      }
      if (out_.outlines.empty() && (command | 32) != 'm') return wrong();
      if (!run(command)) return wrong();
      if (count_ > kMostNodes) return Error{Code::limitExceeded, "", "the path has too many points"};
      // After the first pair, a move goes on as lines.
      if (command == 'M') command = 'L';
      if (command == 'm') command = 'l';
    }
    if (const auto f = fault(out_)) return Error{Code::corrupt, "", *f};
    return out_;
  }

 private:
  Error wrong() const { return {Code::corrupt, "", "path data is not understood at character " + std::to_string(at_ + 1)}; }
  void skip() {
    while (at_ < data_.size() && (std::isspace(static_cast<unsigned char>(data_[at_])) || data_[at_] == ',')) ++at_;
  }
  bool number(double& v) {
    skip();
    if (at_ < data_.size() && data_[at_] == '+') ++at_;
    const auto [end, problem] = std::from_chars(data_.data() + at_, data_.data() + data_.size(), v);
    if (problem != std::errc() || !std::isfinite(v)) return false;
    at_ = std::size_t(end - data_.data());
    return true;
  }
  bool flag(bool& v) {
    skip();
    if (at_ >= data_.size() || (data_[at_] != '0' && data_[at_] != '1')) return false;
    v = data_[at_++] == '1';
    return true;
  }
  bool point(Point& p, bool relative) {
    if (!number(p.x) || !number(p.y)) return false;
    if (relative) p = p + now_;
    return true;
  }
  Outline& open() { return out_.outlines.back(); }
  void begin(Point p) {
    out_.outlines.push_back({});
    open().nodes.push_back(corner(p));
    ++count_;
    now_ = start_ = p;
  }
  void curve(Point a, Point b, Point to) {
    if (open().closed) begin(start_);  // drawing goes on after a close
    open().nodes.back().out = a;
    open().nodes.push_back({to, b, to, false});
    ++count_;
    now_ = to;
  }
  void line(Point to) { curve(now_, to, to); }
  void close() {
    if (out_.outlines.empty() || open().closed) return;
    auto& nodes = open().nodes;
    open().closed = true;
    // A last point on the first one is the first one.
    if (nodes.size() > 1 && std::hypot(nodes.back().at.x - start_.x, nodes.back().at.y - start_.y) < 1e-6) {
      nodes.front().in = nodes.back().in;
      nodes.pop_back();
    }
    now_ = start_;
  }

  bool run(char command) {
    const bool relative = command >= 'a';
    const char kind = char(command | 32);
    const Point was = now_;
    Point a, b, to;
    double v = 0;
    bool smooth = false;
    switch (kind) {
      case 'm':
        if (!point(to, relative)) return false;
        begin(to);
        break;
      case 'l':
        if (!point(to, relative)) return false;
        line(to);
        break;
      case 'h':
        if (!number(v)) return false;
        line({relative ? now_.x + v : v, now_.y});
        break;
      case 'v':
        if (!number(v)) return false;
        line({now_.x, relative ? now_.y + v : v});
        break;
      case 's':
        a = last_ == 'c' ? now_ * 2 - handle_ : now_;
        smooth = true;
        [[fallthrough]];
      case 'c':
        if ((!smooth && !point(a, relative)) || !point(b, relative) || !point(to, relative)) return false;
        curve(a, b, to);
        handle_ = b;
        last_ = 'c';
        return true;
      case 't':
        a = last_ == 'q' ? now_ * 2 - handle_ : now_;
        smooth = true;
        [[fallthrough]];
      case 'q':
        if ((!smooth && !point(a, relative)) || !point(to, relative)) return false;
        curve(was + (a - was) * (2.0 / 3), to + (a - to) * (2.0 / 3), to);
        handle_ = a;
        last_ = 'q';
        return true;
      case 'a':
        if (!arc(relative)) return false;
        break;
      default:
        --at_;
        return false;
    }
    last_ = kind;
    return true;
  }

  // SVG 1.1, F.6: from ends to centre, then a cubic for each quarter turn at most.
  bool arc(bool relative) {
    double rx = 0, ry = 0, degrees = 0;
    bool large = false, sweep = false;
    Point to;
    if (!number(rx) || !number(ry) || !number(degrees) || !flag(large) || !flag(sweep) || !point(to, relative)) return false;
    rx = std::abs(rx), ry = std::abs(ry);
    const Point from = now_;
    if (rx < 1e-9 || ry < 1e-9 || from == to) {
      line(to);
      return true;
    }
    const double phi = degrees * std::numbers::pi / 180, c = std::cos(phi), s = std::sin(phi);
    const Point half = (from - to) * 0.5;
    const double x = c * half.x + s * half.y, y = -s * half.x + c * half.y;
    const double over = x * x / (rx * rx) + y * y / (ry * ry);
    if (over > 1) rx *= std::sqrt(over), ry *= std::sqrt(over);
    const double below = rx * rx * y * y + ry * ry * x * x;
    double k = std::sqrt(std::max(0.0, (rx * rx * ry * ry - below) / below));
    if (large == sweep) k = -k;
    const double cx = k * rx * y / ry, cy = -k * ry * x / rx;
    const Point centre{c * cx - s * cy + (from.x + to.x) / 2, s * cx + c * cy + (from.y + to.y) / 2};
    const double begin = std::atan2((y - cy) / ry, (x - cx) / rx);
    double turn = std::atan2((-y - cy) / ry, (-x - cx) / rx) - begin;
    if (sweep && turn < 0) turn += 2 * std::numbers::pi;
    if (!sweep && turn > 0) turn -= 2 * std::numbers::pi;
    const int parts = std::max(1, int(std::ceil(std::abs(turn) / (std::numbers::pi / 2) - 1e-9)));
    const double step = turn / parts, reach = 4.0 / 3 * std::tan(step / 4);
    const auto onEllipse = [&](double ex, double ey) {
      return Point{centre.x + c * rx * ex - s * ry * ey, centre.y + s * rx * ex + c * ry * ey};
    };
    for (int i = 0; i < parts; ++i) {
      const double p = begin + i * step, q = p + step;
      const Point a = onEllipse(std::cos(p) - reach * std::sin(p), std::sin(p) + reach * std::cos(p)),
                  b = onEllipse(std::cos(q) + reach * std::sin(q), std::sin(q) - reach * std::cos(q));
      curve(a, b, i + 1 == parts ? to : onEllipse(std::cos(q), std::sin(q)));
    }
    return true;
  }

  const std::string& data_;
  std::size_t at_ = 0, count_ = 0;
  Path out_;
  Point now_, start_, handle_;
  char last_ = 0;
};

double signedArea(const Outline& o) {
  const auto p = flattened(o, 0.5);
  double sum = 0;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point &a = p[i], &b = p[(i + 1) % p.size()];
    sum += a.x * b.y - b.x * a.y;
  }
  return sum / 2;
}
bool holds(const Outline& o, Point q) {
  const auto p = flattened(o, 0.5);
  bool inside = false;
  for (std::size_t i = 0; i < p.size(); ++i) {
    const Point &a = p[i], &b = p[(i + 1) % p.size()];
    if ((a.y <= q.y) != (b.y <= q.y) && q.x < a.x + (q.y - a.y) / (b.y - a.y) * (b.x - a.x)) inside = !inside;
  }
  return inside;
}
// Path data of one element: what runs the other way inside another is a hole.
void findHoles(Path& path, std::size_t from) {
  for (std::size_t i = from; i < path.outlines.size(); ++i) {
    for (std::size_t k = from; k < path.outlines.size() && path.outlines[i].joins == Joins::add; ++k) {
      const Outline &inner = path.outlines[i], &outer = path.outlines[k];
      if (i == k || !inner.closed || !outer.closed || signedArea(inner) * signedArea(outer) >= 0) continue;
      if (std::abs(signedArea(inner)) < std::abs(signedArea(outer)) && holds(outer, inner.nodes[0].at))
        path.outlines[i].joins = Joins::takeAway;
    }
  }
  std::stable_partition(path.outlines.begin() + std::ptrdiff_t(from), path.outlines.end(),
                        [](const Outline& o) { return o.joins == Joins::add; });
}

void writeNumber(std::string& out, double v) {
  char text[40];
  std::snprintf(text, sizeof text, "%.3f", v);
  std::string s = text;
  while (s.back() == '0') s.pop_back();
  if (s.back() == '.') s.pop_back();
  out += s == "-0" ? "0" : s;
}
void writePoint(std::string& out, Point p) {
  out += ' ';
  writeNumber(out, p.x);
  out += ' ';
  writeNumber(out, p.y);
}
std::string dataOf(const Outline& o) {
  std::string d;
  if (o.nodes.empty()) return d;
  d += "M";
  writePoint(d, o.nodes[0].at);
  for (int i = 0; i < segmentCount(o); ++i) {
    const Cubic c = segment(o, i);
    const bool straight = c.p1 == c.p0 && c.p2 == c.p3;
    d += straight ? " L" : " C";
    if (!straight) {
      writePoint(d, c.p1);
      writePoint(d, c.p2);
    }
    writePoint(d, c.p3);
  }
  if (o.closed) d += " Z";
  return d;
}

base::Result<base::Affine> transformFrom(const std::string& text) {
  base::Affine all;
  std::size_t at = 0;
  while (true) {
    const std::size_t open = text.find('(', at);
    if (open == std::string::npos) break;
    const std::size_t end = text.find(')', open);
    if (end == std::string::npos) return Error{Code::corrupt, "", "a transform is not closed"};
    std::string name = text.substr(at, open - at);
    std::erase_if(name, [](char c) { return std::isspace(static_cast<unsigned char>(c)) || c == ','; });
    std::vector<double> v;
    const char *p = text.data() + open + 1, *last = text.data() + end;
    while (p < last) {
      while (p < last && (std::isspace(static_cast<unsigned char>(*p)) || *p == ',' || *p == '+')) ++p;
      if (p == last) break;
      double number = 0;
      const auto [next, problem] = std::from_chars(p, last, number);
      if (problem != std::errc()) return Error{Code::corrupt, "", "a transform holds something that is no number"};
      v.push_back(number);
      p = next;
    }
    base::Affine one;
    if (name == "matrix" && v.size() == 6) {
      one = {v[0], v[2], v[1], v[3], v[4], v[5]};
    } else if (name == "translate" && !v.empty()) {
      one = {1, 0, 0, 1, v[0], v.size() > 1 ? v[1] : 0};
    } else if (name == "scale" && !v.empty()) {
      one = {v[0], 0, 0, v.size() > 1 ? v[1] : v[0], 0, 0};
    } else if (name == "rotate" && !v.empty()) {
      const double a = v[0] * std::numbers::pi / 180, c = std::cos(a), s = std::sin(a);
      const double x = v.size() > 2 ? v[1] : 0, y = v.size() > 2 ? v[2] : 0;
      one = {c, -s, s, c, x - c * x + s * y, y - s * x - c * y};
    } else {
      return Error{Code::unsupported, "", "the transform " + name.substr(0, 20) + " is not known here"};
    }
    all = all.after(one);
    at = end + 1;
  }
  return all;
}

base::Status collect(const pugi::xml_node& node, const base::Affine& map, int depth, Path& out) {
  if (depth > 100) return Error{Code::limitExceeded, "", "its groups are nested too deeply"};
  for (const pugi::xml_node& child : node.children()) {
    HSEAM_TRY(const base::Affine own, transformFrom(child.attribute("transform").as_string()));
    const base::Affine all = map.after(own);
    if (std::string(child.name()) == "path") {
      HSEAM_TRY(Path read, fromPathData(child.attribute("d").as_string()));
      const bool takesAway = std::string(child.attribute("class").as_string()) == "takes-away";
      const bool overlaps = std::string(child.attribute("class").as_string()) == "keeps-the-overlap";
      for (Outline& o : read.outlines) {
        for (Node& n : o.nodes) n = {all.map(n.at), all.map(n.in), all.map(n.out), n.smooth};
        if (takesAway) o.joins = Joins::takeAway;
        if (overlaps) o.joins = Joins::overlap;
        out.outlines.push_back(std::move(o));
      }
    }
    HSEAM_DO(collect(child, all, depth + 1, out));
    if (const auto f = fault(out)) return Error{Code::limitExceeded, "", *f};
  }
  return {};
}

}  // namespace

std::string pathData(const Path& path) {
  std::string all;
  for (const Outline& o : path.outlines) {
    if (!all.empty()) all += " ";
    all += dataOf(o);
  }
  return all;
}

base::Result<Path> fromPathData(const std::string& data) {
  HSEAM_TRY(Path path, Reader(data).read());
  findHoles(path, 0);
  return path;
}

base::Status writeSvg(const std::string& file, const Path& path, base::Size size) {
  pugi::xml_document document;
  auto root = document.append_child("svg");
  root.append_attribute("xmlns") = "http://www.w3.org/2000/svg";
  root.append_attribute("width") = size.width;
  root.append_attribute("height") = size.height;
  root.append_attribute("viewBox") = ("0 0 " + std::to_string(size.width) + " " + std::to_string(size.height)).c_str();
  for (const Outline& o : path.outlines) {
    auto element = root.append_child("path");
    element.append_attribute("d") = dataOf(o).c_str();
    element.append_attribute("fill") = o.joins == Joins::takeAway ? "white" : "black";
    if (o.joins != Joins::add)
      element.append_attribute("class") = o.joins == Joins::takeAway ? "takes-away" : "keeps-the-overlap";
  }
  const std::string part = file + ".part";
  std::error_code ignored;
  if (!document.save_file(part.c_str(), "  ")) {
    std::filesystem::remove(part, ignored);
    return Error{Code::unwritable, file, "cannot be written (is its folder read-only, or the disk full?)"};
  }
  std::error_code problem;
  std::filesystem::rename(part, file, problem);
  if (!problem) return {};
  std::filesystem::remove(part, ignored);
  return Error{Code::unwritable, file, "cannot be written: " + problem.message()};
}

base::Result<Path> readSvg(const std::string& file) {
  std::error_code problem;
  if (!std::filesystem::exists(file, problem)) return Error{Code::notFound, file, "there is no such file"};
  constexpr std::uintmax_t kLargest = 64u << 20;
  if (std::filesystem::file_size(file, problem) > kLargest || problem)
    return Error{Code::limitExceeded, file, "the drawing is larger than 64 MB"};
  pugi::xml_document document;
  const auto read = document.load_file(file.c_str(), pugi::parse_minimal);
  if (!read) return Error{Code::corrupt, file, std::string("this is no whole SVG file: ") + read.description()};
  Path path;
  const auto done = collect(document, {}, 0, path);
  if (!done.ok()) return Error{done.error().code, file, done.error().detail};
  if (path.empty()) return Error{Code::invalid, file, "the drawing holds no path"};
  return path;
}

}  // namespace hseam::path
