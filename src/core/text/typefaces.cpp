#include <fontconfig/fontconfig.h>

#include <algorithm>
#include <map>

#include "core/base/resources.h"
#include "core/text/lettering.h"

namespace hseam::text {
namespace {

std::string textOf(FcPattern* p, const char* what) {
  FcChar8* value = nullptr;
  if (FcPatternGetString(p, what, 0, &value) != FcResultMatch || !value) return {};
  return reinterpret_cast<const char*>(value);
}
int numberOf(FcPattern* p, const char* what) {
  int value = 0;
  FcPatternGetInteger(p, what, 0, &value);
  return value;
}

struct Found {
  Typeface face;
  int weight = 0, slant = 0;
};

std::vector<Typeface> found() {
  FcConfig* config = FcInitLoadConfigAndFonts();
  if (!config) return {};
  if (const std::string own = base::resourcePath("fonts"); !own.empty())
    FcConfigAppFontAddDir(config, reinterpret_cast<const FcChar8*>(own.c_str()));
  FcPattern* any = FcPatternCreate();
  FcObjectSet* wanted =
      FcObjectSetBuild(FC_FAMILY, FC_STYLE, FC_FILE, FC_INDEX, FC_WEIGHT, FC_SLANT, FC_OUTLINE, FC_VARIABLE, nullptr);
  FcFontSet* all = FcFontList(config, any, wanted);
  std::map<std::pair<std::string, std::string>, Found> byName;
  for (int i = 0; all && i < all->nfont; ++i) {
    FcPattern* p = all->fonts[i];
    FcBool outline = FcFalse, variable = FcFalse;
    FcPatternGetBool(p, FC_OUTLINE, 0, &outline);
    FcPatternGetBool(p, FC_VARIABLE, 0, &variable);
    if (!outline || variable) continue;
    Found f{{textOf(p, FC_FAMILY), textOf(p, FC_STYLE), textOf(p, FC_FILE), numberOf(p, FC_INDEX)},
            numberOf(p, FC_WEIGHT),
            numberOf(p, FC_SLANT)};
    if (!f.face.family.empty() && !f.face.file.empty()) byName.emplace(std::pair(f.face.family, f.face.style), std::move(f));
  }
  if (all) FcFontSetDestroy(all);
  FcObjectSetDestroy(wanted);
  FcPatternDestroy(any);
  FcConfigDestroy(config);
  std::vector<Found> sorted;
  sorted.reserve(byName.size());
  for (auto& [name, f] : byName) sorted.push_back(std::move(f));
  std::sort(sorted.begin(), sorted.end(), [](const Found& a, const Found& b) {
    return std::tie(a.face.family, a.slant, a.weight, a.face.style) < std::tie(b.face.family, b.slant, b.weight, b.face.style);
  });
  std::vector<Typeface> out;
  out.reserve(sorted.size());
  for (Found& f : sorted) out.push_back(std::move(f.face));
  return out;
}

}  // namespace

const std::vector<Typeface>& typefaces() {
  static const std::vector<Typeface> all = found();
  return all;
}

}  // namespace hseam::text
