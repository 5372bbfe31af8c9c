#pragma once
// Words as a fill with the mask that gives it their shape.

#include "core/scene/edit.h"

namespace hseam::scene {

struct WordsSet {
  SetFill edit;
  std::string missing;         // characters that the typeface has no shape for, UTF-8
  bool otherTypeface = false;  // the one that was asked for is not here
};

/// The fill layer with these words, bent as `bend` says (null: straight); what was painted on its mask stays.
/// A bend made for other words is stretched to the box of these. Errors: what lettering and masks say.
base::Result<WordsSet> setWords(const Layer& fill, const text::Lettering& words, const std::shared_ptr<const Bend>& bend,
                                base::Size canvas, const std::shared_ptr<image::TileMemory>& memory);

/// The box that words would be bent in. Errors: what lettering says.
base::Result<base::Rect> boxOf(const text::Lettering& words);

}  // namespace hseam::scene
