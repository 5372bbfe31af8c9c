#include "core/findings/words.h"

#include <fmt/args.h>
#include <fmt/format.h>

#include <cmath>

namespace hseam::findings {
namespace {

struct Line {
  const char *key, *text;
};
constexpr Line kEnglish[] = {
#define SAYS(id, text) {#id, text},
#include "core/findings/sentences.inc"
#undef SAYS
};

struct Shown {
  std::string operator()(const std::string& text) const { return text; }
  std::string operator()(const Figure& figure) const { return textOf(figure); }
  std::string operator()(const Words& words) const { return words.text(); }
};

}  // namespace

const char* keyOf(Says says) {
  return kEnglish[std::size_t(says)].key;
}

std::string textOf(const Figure& figure) {
  const double half = 0.5 * std::pow(10.0, -figure.decimals);
  return fmt::format("{:.{}f}", std::abs(figure.value) < half ? 0.0 : figure.value, figure.decimals);
}

std::string Words::text() const {
  if (empty()) return {};
  fmt::dynamic_format_arg_store<fmt::format_context> shown;
  for (const Value& v : values) shown.push_back(std::visit(Shown{}, v));
  return fmt::vformat(kEnglish[std::size_t(says)].text, shown);
}

}  // namespace hseam::findings
