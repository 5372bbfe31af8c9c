// belong_bench PHOTOS [-v]: photographs whose subject, or all but it, was graded otherwise (truth/regraded.h); how far the
// subject is from itself in the picture graded as one, before and after it was made to belong. The first, third … photograph was
// tuned on, the rest was not.

#include <algorithm>
#include <cstdio>
#include <cstring>
#include <map>

#include "core/findings/belong.h"
#include "truth/must.h"
#include "truth/regraded.h"

namespace {

using namespace hseam;
using truth::must;

struct Ratios {
  std::vector<double> all;
  double before = 0, after = 0;  // sums
  int left = 0;                  // alone
  void add(double was, double is, bool untouched) {
    all.push_back(is / std::max(0.1, was));
    before += was, after += is, left += untouched;
  }
  void tell(const char* name) {
    std::sort(all.begin(), all.end());
    if (all.empty()) return;
    const auto at = [&](double share) { return 100 * all[std::size_t(share * double(all.size() - 1))]; };
    std::printf(
        "%-16s median %.0f %%, worst quarter from %.0f %%, worst %.0f %%; worse than before: %.0f %%; of the sum %.0f %%; "
        "left alone: %d of %zu\n",
        name, at(0.5), at(0.75), at(1),
        100.0 * double(std::count_if(all.begin(), all.end(), [](double r) { return r > 1.005; })) / double(all.size()),
        100 * after / std::max(0.1, before), left, all.size());
  }
};

}  // namespace

int main(int argc, char** argv) {
  if (argc < 2) return 2;
  const bool loud = argc > 2 && std::strcmp(argv[2], "-v") == 0;
  const auto pool = base::makePool(0);
  const auto memory = image::TileMemory::create(std::size_t(2) << 30);
  Ratios halves[2], whole;
  std::map<std::string, Ratios> kinds;
  std::vector<std::string> photos;
  for (const truth::Regraded& r : truth::regradedPhotos(argv[1], memory, *pool)) {
    const std::string photo = r.name.substr(0, r.name.find(','));
    if (photos.empty() || photos.back() != photo) photos.push_back(photo);
    const double before = truth::distanceOverSubject(r, r.scene, *pool);
    findings::BelongOptions options;
    using findings::KindId;
    options.only = {KindId::blackPoint, KindId::whitePoint, KindId::midTone, KindId::cast, KindId::saturation};
    const auto made = must(findings::belong(r.scene, r.layer, options, *pool, {}));
    const double then = truth::distanceOverSubject(r, must(scene::apply(r.scene, made.edit)), *pool);
    for (Ratios* part : {&halves[(photos.size() - 1) % 2], &kinds[r.kind], &whole})
      part->add(before, then, made.edit.edits.empty());
    if (!loud) continue;
    std::printf("%-44s %5.1f -> %5.1f:", r.name.c_str(), before, then);
    for (const auto& s : made.steps)
      std::printf(" %s%s %.2f%s%s", s.done ? "" : "(not) ", findings::keyOf(s.kind).c_str(), s.before, s.done ? "" : " ",
                  s.why.text().c_str());
    std::printf(" |");
    for (const auto& v : must(findings::reportOn(r.scene, *pool, {})).readings) {
      if (std::find(options.only.begin(), options.only.end(), v.kind) == options.only.end()) continue;
      if (v.available)
        std::printf(" %s %.2f x%.1f", findings::keyOf(v.kind).c_str(), v.reading, v.excess);
      else
        std::printf(" %s: %s", findings::keyOf(v.kind).c_str(), v.reason.text().c_str());
    }
    std::printf("\n");
    std::fflush(stdout);
  }
  halves[0].tell("tuned on");
  halves[1].tell("not tuned on");
  whole.tell("all");
  for (auto& [kind, ratios] : kinds) ratios.tell(kind.c_str());
  return 0;
}
