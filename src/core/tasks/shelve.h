#pragma once
// Moves pictures between a scene and the shelf.

#include "core/scene/edit.h"
#include "core/store/shelf.h"
#include "core/tasks/change_background.h"

namespace hseam::tasks {

/// What is known of a layer's picture, for the shelf: its horizon (its own; of what lies straight, the scene's floor), its blur
/// and tones as they are measured on at most 4 megapixels, the light of a shadow that was set in its scene, and its permission.
/// Errors: notFound (no picture), what reading says.
base::Result<store::ShelfItem> shelfItemOf(const scene::Scene& scene, scene::LayerId layer, store::ShelfKind kind,
                                           const std::string& name);

/// A picture of the shelf in front of everything, with what is known of it. picture: read from item.file.
scene::Several fromShelf(const scene::Scene& scene, const store::ShelfItem& item, const image::TiledImage& picture,
                         const std::string& sourceHash, const image::Metadata& about);

/// A picture of the shelf comes in and becomes the background behind a subject, as one step (changeBackground). Where no floor
/// was set, its horizon becomes the scene's.
base::Result<BackgroundChange> changeBackgroundFromShelf(const scene::Scene& scene, scene::LayerId subject,
                                                         const store::ShelfItem& item, const image::TiledImage& picture,
                                                         const std::string& sourceHash, const BackgroundOptions& options,
                                                         base::Executor& executor, const base::Progress& progress);

}  // namespace hseam::tasks
