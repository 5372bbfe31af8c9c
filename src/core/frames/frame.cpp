#include "core/frames/frame.h"

namespace hseam::frames {

base::Status checkFrames(const std::vector<Frame>& frames) {
  constexpr std::size_t kMost = 250;  // labels have 8 bits
  if (frames.empty() || frames.size() > kMost) return base::Error{base::Code::invalid, "", "a montage takes 1 to 250 frames"};
  const base::Size size = frames[0].picture.size();
  for (const Frame& f : frames) {
    if (f.picture.size() != size || (!f.cutOff.isNull() && f.cutOff.size() != size))
      return base::Error{base::Code::conflict, "", "the frames differ in size"};
  }
  return {};
}

}  // namespace hseam::frames
