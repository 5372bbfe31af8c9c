#pragma once
// Words set in a typeface, as outlines.

#include <memory>
#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/path/path.h"

namespace hseam::text {

/// How words are set. Lengths in px of the picture they are set on.
struct Lettering {
  std::string words;             // UTF-8, lines ended by \n; at most 2000 bytes
  std::string family = "Inter";  // as typefaces() names them
  std::string style = "Semi Bold";
  double sizePx = 160;   // of the em, 2..8000
  double tracking = 0;   // added after every letter, thousandths of the em, −200..2000
  double leading = 1.2;  // from baseline to baseline, ems, 0.5..4
  enum class Align : std::uint8_t { left, centre, right } align = Align::centre;
  base::Point at;  // on the first line's baseline: its beginning, middle or end, as aligned
  /// The first outline of it carries the first line (later ones stand below it, along its normals); null: straight lines.
  std::shared_ptr<const path::Path> along;
};

struct Typeface {
  std::string family, style;
  std::string file;
  int index = 0;  // in the file
};

/// The typefaces that come with the program and those of the system, by family, then from light to bold; outlines only, no
/// bitmaps. Worked out once. Any thread.
const std::vector<Typeface>& typefaces();

struct Lettered {
  path::Path outlines;         // closed; what is hollow takes away
  std::string missing;         // characters that the typeface has no shape for, UTF-8
  bool otherTypeface = false;  // the one that was asked for is not here: the program's own stood in
};

/// Shapes the words (HarfBuzz: kerning, ligatures, right-to-left lines) and takes the letters' outlines (FreeType, unhinted).
/// Errors: invalid (out of range), notFound (no typeface at all), unreadable (its file).
base::Result<Lettered> lettered(const Lettering& lettering);

/// What must hold.
base::Status valid(const Lettering& lettering);
bool operator==(const Lettering& a, const Lettering& b);

}  // namespace hseam::text
