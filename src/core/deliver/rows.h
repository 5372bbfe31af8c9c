#pragma once
// A scene's rows as they are written to a file.

#include <cstddef>
#include <memory>

#include "core/deliver/export.h"

namespace hseam::deliver {

/// Rendered at full size, reduced in linear light where a long side is asked for, laid on white where no alpha is kept, and
/// rounded to the samples of the file. `scene`, `executor` and `progress` must outlive it. One thread; rows in order are
/// quickest.
class Rows {
 public:
  /// A reduced picture is made here. Errors: what rendering says, cancelled.
  static base::Result<Rows> of(const scene::Scene& scene, const ExportOptions& options, base::Executor& executor,
                               const base::Progress& progress);
  Rows(Rows&&) noexcept;
  Rows& operator=(Rows&&) noexcept;
  ~Rows();

  base::Size size() const;
  image::PixelFormat format() const;
  /// What the samples are in; empty: sRGB.
  const std::vector<std::byte>& profile() const;
  base::Status fill(int y, std::byte* out);

 private:
  struct Work;
  explicit Rows(std::unique_ptr<Work> work);
  std::unique_ptr<Work> work_;
};

/// The dither at a place, −0.5 < d < 0.5 in steps of 1/255, added before rounding to 8 bit. Always the same there.
float ditherAt(int x, int y, int channel);

}  // namespace hseam::deliver
