#include "core/tasks/select.h"

#include <algorithm>

#include "core/path/cover.h"
#include "core/select/colour_reach.h"
#include "core/select/full_size.h"

namespace hseam::tasks {
namespace {

using base::Code;
using base::Error;
using base::Result;

std::string textOf(const std::array<int, 2>& at) {
  return std::to_string(at[0]) + "," + std::to_string(at[1]);
}

base::Status isIn(const std::array<int, 2>& at, base::Size size) {
  if (base::Rect::of(size).contains(at[0], at[1])) return {};
  return Error{Code::invalid, "",
               "there is no pixel " + textOf(at) + "; the picture has " + std::to_string(size.width) + " x " +
                   std::to_string(size.height)};
}

// The smallest candidate that takes in the pixel: a person before everything in front.
Result<std::size_t> candidateAt(const std::array<int, 2>& at, const std::vector<select::Candidate>& all, base::Size size) {
  std::size_t best = all.size();
  std::ptrdiff_t least = 0;
  for (std::size_t i = 0; i < all.size(); ++i) {
    const auto& s = all[i].subject;
    if (*s.at(at[0] * s.width() / size.width, at[1] * s.height() / size.height) < 128) continue;
    const auto area = std::count_if(s.samples().begin(), s.samples().end(), [](std::uint8_t v) { return v >= 128; });
    if (best == all.size() || area < least) best = i, least = area;
  }
  if (best < all.size()) return best;
  return Error{Code::notFound, "", "nothing that stands out was seen at " + textOf(at) + "; say more with a box or hints"};
}

struct Chosen {
  const image::TiledImage& picture;
  base::Executor& executor;
  const base::Progress& progress;

  Result<Selected> operator()(const BySubject& o) const {
    if (o.at) HSEAM_DO(isIn(*o.at, picture.size()));
    constexpr int kMostSeen = 5;
    Selected out;
    HSEAM_TRY(out.seen, select::seeSubjects(picture, o.guess, o.at ? kMostSeen : std::clamp(o.candidates, 1, kMostSeen),
                                            progress.part(0, 0.7)));
    if (o.at) {
      HSEAM_TRY(out.which, candidateAt(*o.at, out.seen.candidates, picture.size()));
    }
    HSEAM_TRY(out.selection,
              select::atFullSize(picture, out.seen.candidates[out.which].subject, executor, progress.part(0.7, 1)));
    return out;
  }
  Result<Selected> operator()(const ByColour& o) const {
    HSEAM_DO(isIn(o.at, picture.size()));
    const base::Point at{o.at[0] + 0.5, o.at[1] + 0.5};
    select::ColourReach reach;
    HSEAM_TRY(const auto sample, select::colourAround(picture, at, 0));
    reach.samples = {sample};
    reach.reach = o.reach;
    if (!o.everywhere) reach.joinedTo = {at};
    Selected out;
    HSEAM_TRY(out.selection, select::chosenByColour(picture, reach, executor, progress));
    return out;
  }
  Result<Selected> operator()(const ByPath& o) const {
    Selected out;
    HSEAM_TRY(out.selection, path::coverage(o.outline, picture.size(), picture.memory(), executor));
    return out;
  }
};

}  // namespace

Result<Selected> select(const image::TiledImage& picture, const SelectOptions& options, base::Executor& executor,
                        const base::Progress& progress) {
  return std::visit(Chosen{picture, executor, progress}, options);
}

}  // namespace hseam::tasks
