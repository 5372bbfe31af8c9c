#include "core/findings/remedy_ids.h"

#include <cstddef>
#include <iterator>

namespace hseam::findings {
namespace {

// In the order of RemedyId.
constexpr const char* kRemedyKeys[] = {
    "deepen_shadows",  "lift_shadows",   "lower_highlights", "raise_highlights", "scene_ends",
    "shift_middle",    "scene_middle",   "saturation",       "scene_saturation", "balance",
    "scene_balance",   "weaker",         "stand_right",      "meet_horizons",    "mirror",
    "shade",           "white_paper",    "contact_shadow",   "cast_alike",       "add_grain",
    "calm_scene",      "calm_grain",     "grain_on_scene",   "soften",           "undo_blur",
    "soften_scene",    "sharpen",        "true_size",        "soften_cut",       "smooth_steps",
    "clean_up",        "clean_edge",     "tighter",          "crisper_cut",      "edge_from_inside",
    "leave_frame_out", "take_from_frame"};
static_assert(std::size(kRemedyKeys) == std::size_t(RemedyId::takeFromFrame) + 1);

}  // namespace

const char* keyOf(RemedyId id) {
  return kRemedyKeys[std::size_t(id)];
}

}  // namespace hseam::findings
