#include "core/text/lettering.h"

#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_OUTLINE_H
#include <hb-ft.h>

#include <algorithm>
#include <cmath>

namespace hseam::text {
namespace {

using base::Code;
using base::Error;
using base::Point;

constexpr std::size_t kMostBytes = 2000;
constexpr double kFine = 0.25;  // px: how closely a line is followed

// FreeType's things end with the scope.
struct Library {
  FT_Library library = nullptr;
  FT_Face face = nullptr;
  hb_font_t* font = nullptr;
  hb_buffer_t* buffer = nullptr;
  ~Library() {
    if (buffer) hb_buffer_destroy(buffer);
    if (font) hb_font_destroy(font);
    if (face) FT_Done_Face(face);
    if (library) FT_Done_FreeType(library);
  }
};

struct Glyph {
  unsigned index = 0;
  std::size_t at = 0;  // byte of the line
  Point offset;        // em units, y up
  double advance = 0;  // em units
};

// A letter's outline in em units, y up, as FreeType walks it.
struct Walk {
  std::vector<path::Outline> outlines;
  static Point of(const FT_Vector* v) { return {double(v->x), double(v->y)}; }
  path::Node& last() { return outlines.back().nodes.back(); }
  static int moveTo(const FT_Vector* to, void* self) {
    auto& w = *static_cast<Walk*>(self);
    w.outlines.push_back({{path::corner(of(to))}, true, path::Joins::add});
    return 0;
  }
  static int lineTo(const FT_Vector* to, void* self) {
    static_cast<Walk*>(self)->outlines.back().nodes.push_back(path::corner(of(to)));
    return 0;
  }
  static int conicTo(const FT_Vector* control, const FT_Vector* to, void* self) {
    auto& w = *static_cast<Walk*>(self);
    const Point a = w.last().at, c = of(control), b = of(to);
    return w.curve({a.x + 2.0 / 3 * (c.x - a.x), a.y + 2.0 / 3 * (c.y - a.y)},
                   {b.x + 2.0 / 3 * (c.x - b.x), b.y + 2.0 / 3 * (c.y - b.y)}, b);
  }
  static int cubicTo(const FT_Vector* c1, const FT_Vector* c2, const FT_Vector* to, void* self) {
    return static_cast<Walk*>(self)->curve(of(c1), of(c2), of(to));
  }
  int curve(Point out, Point in, Point to) {
    last().out = out;
    outlines.back().nodes.push_back({to, in, to, false});
    return 0;
  }
  // FreeType comes back to where it began: that point is the first one.
  void close() {
    for (path::Outline& o : outlines) {
      if (o.nodes.size() < 2 || !(o.nodes.front().at == o.nodes.back().at)) continue;
      o.nodes.front().in = o.nodes.back().in;
      o.nodes.pop_back();
    }
    std::erase_if(outlines, [](const path::Outline& o) { return o.nodes.size() < 2; });
    // What is wound against the largest outline is hollow; larger ones come first, so that a shape within a hollow stays.
    std::stable_sort(outlines.begin(), outlines.end(),
                     [](const path::Outline& a, const path::Outline& b) { return std::abs(areaOf(a)) > std::abs(areaOf(b)); });
    for (path::Outline& o : outlines)
      o.joins = areaOf(o) * areaOf(outlines.front()) < 0 ? path::Joins::takeAway : path::Joins::add;
  }
  // Twice the signed area of the nodes' polygon.
  static double areaOf(const path::Outline& o) {
    double sum = 0;
    for (std::size_t i = 0; i < o.nodes.size(); ++i) {
      const Point a = o.nodes[i].at, b = o.nodes[(i + 1) % o.nodes.size()].at;
      sum += a.x * b.y - b.x * a.y;
    }
    return sum;
  }
};

std::vector<std::string> linesOf(const std::string& words) {
  std::vector<std::string> lines(1);
  for (const char c : words) {
    if (c == '\n') {
      lines.emplace_back();
    } else if (c != '\r') {
      lines.back() += c;
    }
  }
  return lines;
}

std::vector<Glyph> shaped(Library& l, const std::string& line) {
  hb_buffer_reset(l.buffer);
  hb_buffer_add_utf8(l.buffer, line.data(), int(line.size()), 0, int(line.size()));
  hb_buffer_guess_segment_properties(l.buffer);
  hb_shape(l.font, l.buffer, nullptr, 0);
  unsigned count = 0;
  const hb_glyph_info_t* infos = hb_buffer_get_glyph_infos(l.buffer, &count);
  const hb_glyph_position_t* places = hb_buffer_get_glyph_positions(l.buffer, &count);
  std::vector<Glyph> out;
  for (unsigned i = 0; i < count; ++i)
    out.push_back({infos[i].codepoint,
                   infos[i].cluster,
                   {double(places[i].x_offset), double(places[i].y_offset)},
                   double(places[i].x_advance)});
  return out;
}

// A line that letters stand on, walked by its length.
class Way {
 public:
  explicit Way(const path::Outline& outline) : points_(path::flattened(outline, kFine)) {
    if (outline.closed && !points_.empty() && !(points_.front() == points_.back())) points_.push_back(points_.front());
    lengths_.push_back(0);
    for (std::size_t i = 1; i < points_.size(); ++i)
      lengths_.push_back(lengths_.back() + std::hypot(points_[i].x - points_[i - 1].x, points_[i].y - points_[i - 1].y));
  }
  bool usable() const { return points_.size() > 1 && length() > 0; }
  double length() const { return lengths_.back(); }
  // Where it is after so many px, and which way it goes there; beyond its ends it goes straight on.
  std::pair<Point, Point> at(double s) const {
    std::size_t i = std::size_t(std::upper_bound(lengths_.begin(), lengths_.end(), s) - lengths_.begin());
    i = std::clamp<std::size_t>(i, 1, points_.size() - 1);
    const Point a = points_[i - 1], b = points_[i];
    const double d = std::max(1e-9, lengths_[i] - lengths_[i - 1]), t = s - lengths_[i - 1];
    const Point along{(b.x - a.x) / d, (b.y - a.y) / d};
    return {{a.x + t * along.x, a.y + t * along.y}, along};
  }

 private:
  std::vector<Point> points_;
  std::vector<double> lengths_;
};

double shareBefore(Lettering::Align align) {
  return align == Lettering::Align::left ? 0 : (align == Lettering::Align::centre ? 0.5 : 1);
}

base::Result<const Typeface*> faceFor(const Lettering& l, bool& other) {
  const auto& all = typefaces();
  if (all.empty()) return Error{Code::notFound, l.family, "there is no typeface on this system"};
  const auto exact =
      std::find_if(all.begin(), all.end(), [&](const Typeface& f) { return f.family == l.family && f.style == l.style; });
  if (exact != all.end()) return &*exact;
  other = true;
  for (const std::string& family : {l.family, std::string("Inter")}) {
    const auto near = std::find_if(all.begin(), all.end(), [&](const Typeface& f) { return f.family == family; });
    if (near != all.end()) return &*near;
  }
  return &all.front();
}

base::Status opened(Library& l, const Typeface& face) {
  if (FT_Init_FreeType(&l.library) != 0) return base::noMemory(face.file);
  if (FT_New_Face(l.library, face.file.c_str(), face.index, &l.face) != 0 || !FT_IS_SCALABLE(l.face))
    return Error{Code::unreadable, face.file, "the typeface cannot be read"};
  FT_Set_Char_Size(l.face, 0, FT_F26Dot6(l.face->units_per_EM) * 64, 72, 72);
  l.font = hb_ft_font_create_referenced(l.face);
  hb_ft_font_set_load_flags(l.font, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP);
  l.buffer = hb_buffer_create();
  return {};
}

}  // namespace

base::Status valid(const Lettering& l) {
  const auto wrong = [&](const char* what) { return Error{Code::invalid, "text", what}; };
  if (l.words.size() > kMostBytes) return wrong("a text has at most 2000 bytes");
  if (!(l.sizePx >= 2 && l.sizePx <= 8000)) return wrong("its size must lie within 2 to 8000 px");
  if (!(l.tracking >= -200 && l.tracking <= 2000)) return wrong("its tracking must lie within -200 to 2000");
  if (!(l.leading >= 0.5 && l.leading <= 4)) return wrong("its leading must lie within 0.5 to 4");
  if (!(std::abs(l.at.x) < 1e6 && std::abs(l.at.y) < 1e6)) return wrong("its place is out of reach");
  if (l.along && path::fault(*l.along)) return wrong("the line that it follows is not right");
  return {};
}

bool operator==(const Lettering& a, const Lettering& b) {
  const bool sameWay = a.along == b.along || (a.along && b.along && *a.along == *b.along);
  return sameWay && a.words == b.words && a.family == b.family && a.style == b.style && a.sizePx == b.sizePx &&
         a.tracking == b.tracking && a.leading == b.leading && a.align == b.align && a.at == b.at;
}

base::Result<Lettered> lettered(const Lettering& text) {
  HSEAM_DO(valid(text));
  Lettered out;
  HSEAM_TRY(const Typeface* face, faceFor(text, out.otherTypeface));
  Library l;
  HSEAM_DO(opened(l, *face));
  const double em = 64.0 * l.face->units_per_EM, px = text.sizePx / em;  // HarfBuzz counts in 1/64 of a unit here
  const Way way = text.along && !text.along->empty() ? Way(text.along->outlines.front()) : Way({});
  const FT_Outline_Funcs walkers{Walk::moveTo, Walk::lineTo, Walk::conicTo, Walk::cubicTo, 0, 0};
  double down = 0;
  for (const std::string& line : linesOf(text.words)) {
    const std::vector<Glyph> glyphs = shaped(l, line);
    double width = 0;
    for (const Glyph& g : glyphs) width += g.advance * px + text.tracking / 1000 * text.sizePx;
    if (!glyphs.empty()) width -= text.tracking / 1000 * text.sizePx;
    const double before = shareBefore(text.align);
    double pen = way.usable() ? before * (way.length() - width) : -before * width;
    for (const Glyph& g : glyphs) {
      if (g.index == 0) {
        std::size_t n = 1;
        while (g.at + n < line.size() && (static_cast<unsigned char>(line[g.at + n]) & 0xC0) == 0x80) ++n;
        out.missing += line.substr(g.at, n);
      }
      Walk walk;
      if (FT_Load_Glyph(l.face, g.index, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) == 0 &&
          l.face->glyph->format == FT_GLYPH_FORMAT_OUTLINE)
        FT_Outline_Decompose(&l.face->glyph->outline, &walkers, &walk);
      walk.close();
      // A letter stands with its middle on the line.
      const double half = g.advance * px / 2;
      Point origin{text.at.x + pen, text.at.y}, along{1, 0};
      if (way.usable()) {
        const auto [at, direction] = way.at(pen + half);
        along = direction;
        origin = {at.x - half * along.x, at.y - half * along.y};
      }
      const auto placed = [&](Point p) {
        const double x = (p.x + g.offset.x) * px, y = down - (p.y + g.offset.y) * px;
        return Point{origin.x + x * along.x - y * along.y, origin.y + x * along.y + y * along.x};
      };
      for (path::Outline& o : walk.outlines) {
        for (path::Node& n : o.nodes) n = {placed(n.at), placed(n.in), placed(n.out), n.smooth};
        out.outlines.outlines.push_back(std::move(o));
      }
      pen += g.advance * px + text.tracking / 1000 * text.sizePx;
    }
    down += text.leading * text.sizePx;
  }
  return out;
}

}  // namespace hseam::text
