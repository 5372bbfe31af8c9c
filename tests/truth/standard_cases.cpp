#include "truth/rendered_mattes.h"

namespace hseam::truth {

std::vector<Description> standardCases() {
  using enum Kind;
  using enum Ground;
  using enum Mixing;
  return {{"hair on paper", hair, paper, linear, 480, 400, 11, 0},
          {"hair, boards", hair, boards, linear, 480, 400, 12, 0},
          {"hair, pebbles, encoded", hair, pebbles, encoded, 480, 400, 13, 0},
          {"hair, clouds, encoded", hair, clouds, encoded, 480, 400, 14, 0},
          {"fur, boards close", fur, boards, linear, 480, 400, 15, 0.5},
          {"fur, clouds, encoded", fur, clouds, encoded, 480, 400, 16, 0},
          {"leaves, clouds", lattice, clouds, linear, 480, 400, 17, 0},
          {"leaves, pebbles, encoded", lattice, pebbles, encoded, 480, 400, 18, 0},
          {"defocus, boards", defocus, boards, linear, 480, 400, 19, 0},
          {"defocus, clouds, encoded", defocus, clouds, encoded, 480, 400, 20, 0},
          {"motion, pebbles", motion, pebbles, linear, 480, 400, 21, 0},
          {"veil, boards", veil, boards, linear, 480, 400, 22, 0},
          {"solid, pebbles close", solid, pebbles, encoded, 480, 400, 23, 0.5},
          {"solid, clouds", solid, clouds, linear, 480, 400, 24, 0}};
}

}  // namespace hseam::truth
