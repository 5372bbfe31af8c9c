#include "core/deliver/parcel.h"

#include <algorithm>
#include <filesystem>

#include "core/deliver/layered.h"
#include "core/deliver/weights.h"
#include "core/render/canvas_change.h"

namespace hseam::deliver {
namespace {

namespace fs = std::filesystem;
using base::Code;
using base::Error;
using base::Rect;
using base::Result;
using image::FileKind;

bool hasQuality(FileKind kind) {
  return kind == FileKind::jpeg || kind == FileKind::webp;
}

base::Status writeFlat(const scene::Scene& scene, const Parcel& parcel, Sent& sent, base::Executor& executor,
                       const base::Progress& progress) {
  ExportOptions o = parcel.options;
  sent.size = exportSize(scene.canvas, o.longSide);
  base::Progress rest = progress;
  if (hasQuality(o.kind) && parcel.mostBytes > 0) {
    HSEAM_TRY(const Encodable picture, encodable(scene, o, executor, progress.part(0, 0.4)));
    HSEAM_TRY(const UnderWeight found, bestUnder(picture, parcel.mostBytes, progress.part(0.4, 0.6)));
    o.quality = found.quality;
    rest = progress.part(0.6, 1);
  }
  if (hasQuality(o.kind)) sent.quality = o.quality;
  return exportScene(scene, sent.path, o, executor, rest);
}

}  // namespace

std::vector<Parcel> usualParcels() {
  std::vector<Parcel> all(4);
  all[0].name = "web", all[0].suffix = "-web";
  all[0].options = {.kind = FileKind::jpeg, .longSide = 2048, .keepAlpha = false};
  all[0].mostBytes = 500'000;
  all[1].name = "print", all[1].suffix = "-print";
  all[1].options = {.kind = FileKind::tiff, .keepAlpha = false, .wide = true, .pixelsPerInch = 300};
  all[2].name = "cut-out", all[2].suffix = "-cut-out";
  all[2].options = {.kind = FileKind::png};
  all[2].trimmed = true;
  all[3].name = "layered", all[3].suffix = "-layers";
  all[3].layered = true;
  return all;
}

std::string fileNameOf(const Parcel& p, const std::string& title) {
  return title + p.suffix + (p.layered ? ".ora" : image::endingOf(p.options.kind));
}

Result<Rect> whatShows(const scene::Scene& scene, base::Executor& executor, const base::Progress& progress) {
  constexpr int kBand = 256;
  constexpr float kLeast = 1 / 255.f;
  render::Renderer renderer;
  int left = scene.canvas.width, right = 0, top = scene.canvas.height, bottom = 0;
  for (int first = 0; first < scene.canvas.height; first += kBand) {
    const Rect band = Rect{0, first, scene.canvas.width, kBand}.intersected(Rect::of(scene.canvas));
    HSEAM_TRY(const auto shown, renderer.render(scene, band, 0, executor, progress.token()));
    for (int y = 0; y < band.height; ++y) {
      for (int x = 0; x < band.width; ++x) {
        if (shown.at(x, y)[3] <= kLeast) continue;
        left = std::min(left, x), right = std::max(right, x + 1);
        top = std::min(top, first + y), bottom = std::max(bottom, first + y + 1);
      }
    }
    progress.report(double(first + band.height) / scene.canvas.height);
  }
  return right > left ? Rect{left, top, right - left, bottom - top} : Rect{};
}

Result<Sent> send(const scene::Scene& scene, const Parcel& parcel, const std::string& folder, const std::string& title,
                  bool replace, base::Executor& executor, const base::Progress& progress) try {
  Sent sent;
  sent.path = (fs::path(folder) / fileNameOf(parcel, title)).string();
  std::error_code problem;
  if (!replace && fs::exists(sent.path, problem)) return Error{Code::conflict, sent.path, "there is a file of that name"};
  if (parcel.layered) {
    sent.size = scene.canvas;
    HSEAM_TRY(sent.warnings, exportLayered(scene, sent.path, executor, progress));
  } else if (parcel.trimmed) {
    HSEAM_TRY(const Rect shows, whatShows(scene, executor, progress.part(0, 0.3)));
    if (shows.empty()) return Error{Code::invalid, sent.path, "nothing shows that it could be trimmed to"};
    HSEAM_TRY(const scene::Edit crop, render::changedCanvas(scene, render::cropped(shows), executor));
    HSEAM_TRY(const scene::Scene trimmed, scene::apply(scene, crop));
    HSEAM_DO(writeFlat(trimmed, parcel, sent, executor, progress.part(0.3, 1)));
  } else {
    HSEAM_DO(writeFlat(scene, parcel, sent, executor, progress));
  }
  sent.bytes = std::int64_t(fs::file_size(sent.path, problem));
  if (problem) return Error{Code::unwritable, sent.path, "what was written is gone"};
  return sent;
} catch (...) {
  return base::caught(folder);
}

}  // namespace hseam::deliver
