#include "app/stations/gather/frame_work.h"

#include <QFileInfo>

#include "core/image/picture_file.h"
#include "core/sets/doubled.h"

namespace hseam::app {

using scene::FrameSet;

FrameWork::FrameWork(Desk& desk) : desk_(desk) {
  connect(&desk_.session, &Session::replaced, this, [this] {
    pending_ = nullptr;
    laid_ = std::make_shared<sets::LaidFrames>();
  });
  connect(&desk_.jobs, &Lane::failed, this, [this] {
    pending_ = nullptr;
    emit changed();
  });
  connect(&desk_.jobs, &Lane::changed, this, [this] {
    if (!pending_ || desk_.jobs.running()) return;
    pending_ = nullptr;
    emit changed();
  });
}

const scene::Layer* FrameWork::layer() const {
  const scene::Layer* l = desk_.session.activeLayer();
  return l && l->picture() ? l : nullptr;
}

const FrameSet* FrameWork::set() const {
  const scene::Layer* l = layer();
  if (!l) return nullptr;
  return pending_ && pendingOf_ == l->id ? pending_.get() : l->picture()->frames.get();
}

void FrameWork::become(const QString& name, const QString& how, std::shared_ptr<const FrameSet> wish, Next next) {
  const scene::Layer* l = layer();
  if (!l) return;
  struct Became {
    std::shared_ptr<const FrameSet> set;
    image::TiledImage picture;
  };
  const scene::LayerId id = l->id;
  const std::uint64_t from = l->picture()->source.stamp();
  pending_ = std::move(wish);
  pendingOf_ = id;
  desk_.jobs.start<Became>(
      {name, QStringLiteral("frames")},
      [next = std::move(next), laid = laid_](base::Executor& executor, const base::Progress& progress) -> base::Result<Became> {
        HSEAM_TRY(std::optional<FrameSet> set, next(executor, progress.part(0, 0.5)));
        if (!set) return Became{};
        HSEAM_TRY(const sets::Assembled made, sets::assembled(*set, *laid, executor, progress.part(0.5, 1)));
        set->labels = made.labels;
        return Became{std::make_shared<const FrameSet>(std::move(*set)), made.picture};
      },
      [this, id, from, how](const Became& became) {
        pending_ = nullptr;
        const scene::Layer* l = scene::findLayer(desk_.session.scene(), id);
        if (!l || !l->picture() || l->picture()->source.stamp() != from) {
          emit desk_.messages.refused(tr("The picture was changed while its frames were set together. Do it again."));
        } else {
          // Nothing left to set together: the base alone.
          const image::TiledImage picture =
              became.set ? became.picture
                         : (l->picture()->frames ? l->picture()->frames->frames[0].picture : l->picture()->source);
          desk_.session.apply(scene::SetFrames{id, became.set, picture, how.toStdString()});
        }
        emit changed();
      });
  emit changed();
}

void FrameWork::become(const QString& how, FrameSet wish) {
  const auto shared = std::make_shared<const FrameSet>(std::move(wish));
  become(tr("Set the frames together"), how, shared,
         [shared](base::Executor&, const base::Progress&) { return std::optional(*shared); });
}

void FrameWork::add(const QStringList& files, std::optional<FrameSet::Way> way) {
  const scene::Layer* l = layer();
  if (!l || files.isEmpty()) return;
  FrameSet start;
  if (const FrameSet* now = set())
    start = *now;
  else
    start.frames.push_back({l->picture()->sourceName, l->picture()->source});
  start.labels = {};
  if (way) start.way = *way;
  become(
      tr("Bring frames onto the picture"), tr("%1 added").arg(files.size()), nullptr,
      [start, files, memory = desk_.session.memory()](base::Executor& executor,
                                                      const base::Progress& progress) -> base::Result<std::optional<FrameSet>> {
        FrameSet grown = start;
        const auto base = frames::BaseFrame::of(start.frames[0].picture, executor);
        if (!base.ok()) return base::Error{base.error().code, start.frames[0].name, base.error().detail};
        for (qsizetype i = 0; i < files.size(); ++i) {
          const base::Progress part = progress.part(double(i) / double(files.size()), double(i + 1) / double(files.size()));
          HSEAM_TRY(const image::Picture read, image::readPicture(files[i].toStdString(), memory, executor, part.part(0, 0.5)));
          HSEAM_TRY(scene::SetFrame frame,
                    sets::frameOn(*base, QFileInfo(files[i]).fileName().toStdString(), read.pixels, executor, part.part(0.5, 1)));
          // Other light hides what is recognised: of one size, they lie as a tripod left them.
          if (grown.way == FrameSet::Way::lamps && !frame.used && read.pixels.size() == grown.frames[0].picture.size()) {
            frame.toBase = {1, 0, 0, 0, 1, 0, 0, 0, 1};
            frame.used = true;
          }
          grown.frames.push_back(std::move(frame));
        }
        return std::optional(std::move(grown));
      });
}

void FrameWork::use(std::size_t frame, bool used) {
  const FrameSet* now = set();
  if (!now || frame == 0 || frame >= now->frames.size() || now->frames[frame].used == used) return;
  FrameSet wish = *now;
  wish.frames[frame].used = used;
  become(used ? tr("frame %1 is used").arg(frame + 1) : tr("frame %1 is left out").arg(frame + 1), std::move(wish));
}

void FrameWork::takeOut(std::size_t frame) {
  const FrameSet* now = set();
  if (!now || frame == 0 || frame >= now->frames.size()) return;
  become(tr("Set the frames together"), tr("frame %1 taken out").arg(frame + 1), nullptr,
         [now = *now, frame](base::Executor& executor, const base::Progress&) { return sets::without(now, frame, executor); });
}

void FrameWork::makeBase(std::size_t frame) {
  const FrameSet* now = set();
  if (!now || frame == 0 || frame >= now->frames.size()) return;
  become(tr("Bring the frames onto another base"), tr("%1 is the base").arg(QString::fromStdString(now->frames[frame].name)),
         nullptr,
         [now = *now, frame](base::Executor& executor, const base::Progress& progress) -> base::Result<std::optional<FrameSet>> {
           HSEAM_TRY(FrameSet turned, sets::withBase(now, frame, executor, progress));
           return std::optional(std::move(turned));
         });
}

void FrameWork::nudge(std::size_t frame, double dx, double dy) {
  const FrameSet* now = set();
  if (!now) return;
  auto wish = sets::nudged(*now, frame, dx, dy);
  if (wish.ok()) become(tr("frame %1 moved by hand").arg(frame + 1), std::move(wish).value());
}

void FrameWork::setWay(FrameSet::Way way) {
  const FrameSet* now = set();
  if (!now || now->way == way) return;
  FrameSet wish = *now;
  wish.way = way;
  become(way == FrameSet::Way::picked ? tr("as picked") : (way == FrameSet::Way::lamps ? tr("light added") : tr("lightest")),
         std::move(wish));
}

void FrameWork::setPicks(const image::TiledImage& picks) {
  const FrameSet* now = set();
  if (!now) return;
  FrameSet wish = *now;
  wish.picks = picks;
  wish.way = FrameSet::Way::picked;
  become(tr("picked"), std::move(wish));
}

void FrameWork::setLamp(std::size_t frame, double strength, const std::array<double, 3>& tint) {
  const FrameSet* now = set();
  if (!now || frame == 0 || frame >= now->frames.size()) return;
  FrameSet wish = *now;
  wish.way = FrameSet::Way::lamps;
  wish.frames[frame].strength = strength;
  wish.frames[frame].tint = tint;
  become(tr("lamp %1").arg(frame), std::move(wish));
}

void FrameWork::makeLayers() {
  const scene::Layer* l = layer();
  const FrameSet* now = l ? l->picture()->frames.get() : nullptr;
  if (!now || now->labels.isNull()) return;
  const scene::LayerId id = l->id;
  struct Piece {
    std::string name;
    image::TiledImage picture, mask;
  };
  desk_.jobs.start<std::vector<Piece>>(
      tr("Turn the frames into layers"),
      [set = *now, laid = laid_](base::Executor& executor, const base::Progress& progress) -> base::Result<std::vector<Piece>> {
        HSEAM_TRY(const std::vector<frames::Frame> frames, laid->of(set, executor, progress));
        std::vector<Piece> pieces;
        for (std::size_t k = 0; k < frames.size(); ++k) {
          if (k > 0 && !set.frames[k].used) continue;
          HSEAM_TRY(image::TiledImage mask, sets::whereItIs(set.labels, std::uint8_t(k + 1), executor));
          HSEAM_TRY(image::TiledImage picture, frames::onBase(frames[k], executor, progress));
          pieces.push_back({set.frames[k].name, std::move(picture), std::move(mask)});
        }
        return pieces;
      },
      [this, id](const std::vector<Piece>& pieces) {
        const scene::Scene& s = desk_.session.scene();
        const scene::Layer* from = scene::findLayer(s, id);
        const auto at = scene::positionOf(s, id);
        if (!from || !from->picture() || !at) return;
        scene::Several step{"layers of the frames of " + from->name, {{scene::SetHidden{id, true}}}};
        std::uint64_t fresh = scene::freeId(s).value;
        for (std::size_t i = 0; i < pieces.size(); ++i) {
          scene::Layer made;
          made.id = {fresh++};
          made.name = pieces[i].name;
          scene::PictureContent p;
          p.source = pieces[i].picture;
          p.sourceName = pieces[i].name;
          p.sourceHash = from->picture()->sourceHash;
          p.permission = from->picture()->permission;
          p.placement = from->picture()->placement;
          p.warp = from->picture()->warp;
          made.content = std::move(p);
          // The first lies under all of it: no seam lets the ground show.
          if (i > 0) made.mask.coverage = pieces[i].mask;
          step.edits.push_back({scene::AddLayer{std::move(made), at->parent, at->index + 1 + int(i)}});
        }
        desk_.session.apply(step);
      });
}

void FrameWork::settle() {
  const scene::Layer* l = layer();
  if (!l || !l->picture()->frames) return;
  desk_.session.apply(scene::SetFrames{l->id, nullptr, l->picture()->source, "settled"});
}

}  // namespace hseam::app
