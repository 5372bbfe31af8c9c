#pragma once
// Sentences as an id and values. The texts stand in one place (sentences.inc), so that they can be translated.

#include <string>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

namespace hseam::findings {

enum class Says {
#define SAYS(id, text) id,
#include "core/findings/sentences.inc"
#undef SAYS
};
/// Its name in files: "darkestTones".
const char* keyOf(Says says);

/// A number as it is shown.
struct Figure {
  double value = 0;
  int decimals = 1;
};
/// "5.2", "12"; a 0 has no sign.
std::string textOf(const Figure& figure);

/// A sentence or a part of one.
struct Words {
  using Value = std::variant<std::string, Figure, Words>;
  Says says = Says::asGiven;
  std::vector<Value> values;

  Words() = default;
  /// Numbers are shown with one decimal, whole numbers as they are; Figure says otherwise.
  template <class... V>
  Words(Says which, V&&... v) : says(which), values{valueOf(std::forward<V>(v))...} {}
  /// A finished sentence from another part of the program.
  Words(std::string given) {
    if (!given.empty()) values.push_back(std::move(given));
  }

  bool empty() const { return says == Says::asGiven && values.empty(); }
  /// In English.
  std::string text() const;

 private:
  template <class V>
  static Value valueOf(V&& v) {
    if constexpr (std::is_floating_point_v<std::decay_t<V>>) {
      return Figure{double(v), 1};
    } else if constexpr (std::is_integral_v<std::decay_t<V>>) {
      return Figure{double(v), 0};
    } else if constexpr (std::is_same_v<std::decay_t<V>, Says>) {
      return Words(v);
    } else {
      return Value(std::forward<V>(v));
    }
  }
};

}  // namespace hseam::findings
