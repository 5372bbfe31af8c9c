// durability_editor PROJECT: edits a project until it is killed. Says "N PATH\n" once step N is acknowledged in the project at
// PATH. Now and then it writes a copy beside it, replaces that by a slimmed one, and goes on under the other of two names.

#include <cstdio>
#include <optional>

#include "core/store/slim.h"
#include "durability/edits.h"

namespace {

using namespace hseam;

// What becomes of the files between two steps; a function of the step alone.
base::Status betweenSteps(store::ProjectFile& file, const scene::Scene& now, int step, const std::string& first) {
  const std::string copy = first + ".copy.hseam", other = first + ".other.hseam";
  if (step % 9 == 4) HSEAM_DO(file.copyTo(copy));
  if (step % 23 == 7) HSEAM_DO(store::slimTo(file, now, copy));
  if (step % 17 == 11) HSEAM_DO(file.moveTo(file.path() == first ? other : first, store::ProjectFile::Old::stays));
  return {};
}

int fail(const base::Error& error) {
  std::fprintf(stderr, "%s\n", error.text().c_str());
  return 1;
}

}  // namespace

int main(int, char** argv) {
  base::InlineExecutor here;
  const auto memory = image::TileMemory::create(std::size_t(1) << 28);
  auto opened = store::ProjectFile::open(argv[1], memory, here);
  if (!opened.ok()) return fail(opened.error());
  // The two names it goes under: the one it was first called with, and the other.
  std::string first = argv[1];
  if (const std::string ending = ".other.hseam"; first.ends_with(ending)) first.resize(first.size() - ending.size());
  scene::Scene s = opened->history.scene();
  for (int step = opened->history.current() + 1;; ++step) {
    const scene::Edit edit = durability::editFor(s, step, memory, here);
    s = scene::apply(s, edit).value();
    if (auto kept = opened->file->keep({s, scene::describe(s, edit)}, scene::editKind(edit), step - 1); !kept.ok())
      return fail(kept.error());
    std::printf("%d %s\n", step, opened->file->path().c_str());
    std::fflush(stdout);
    if (auto done = betweenSteps(*opened->file, s, step, first); !done.ok()) return fail(done.error());
  }
}
