// durability_editor PROJECT: edits a project until it is killed. Says "N\n" once step N is acknowledged.

#include <cstdio>

#include "durability/edits.h"

int main(int, char** argv) {
  using namespace hseam;
  base::InlineExecutor here;
  const auto memory = image::TileMemory::create(std::size_t(1) << 28);
  auto opened = store::ProjectFile::open(argv[1], memory, here);
  if (!opened.ok()) {
    std::fprintf(stderr, "%s\n", opened.error().text().c_str());
    return 1;
  }
  scene::Scene s = opened->history.scene();
  for (int step = opened->history.current() + 1;; ++step) {
    const scene::Edit edit = durability::editFor(s, step, memory, here);
    s = scene::apply(s, edit).value();
    if (auto kept = opened->file->keep({s, scene::describe(s, edit)}, scene::editKind(edit), step - 1); !kept.ok()) {
      std::fprintf(stderr, "%s\n", kept.error().text().c_str());
      return 1;
    }
    std::printf("%d\n", step);
    std::fflush(stdout);
  }
}
