// What a particle meets next.
#pragma once

#include "simulation/deflectors/met_deflector.h"

#include <algorithm>
#include <array>
#include <limits>
#include <optional>
#include <vector>

namespace comet {

inline constexpr double kNever = std::numeric_limits<double>::infinity();

struct Hit {
  const Met* met = nullptr;
  double after = kNever;          // seconds
  std::optional<Vec3d> normal{};  // of the surface, in the scene, where finding the hit has told it
};

// A surface that a particle touches.
struct Contact {
  const Met* met = nullptr;
  int part = 0;  // of its shape's parts; a mesh has but one
  Vec3d normal{0, 1, 0};
};

// Surfaces along which a particle goes, all of which stand still to each other.
class Contacts {
 public:
  bool isEmpty() const { return count_ == 0; }
  const Contact& first() const { return list_[0]; }
  // More than bear are left out.
  void add(const Contact& contact) {
    if (count_ < list_.size()) list_[count_++] = contact;
  }
  const Contact* begin() const { return list_.data(); }
  const Contact* end() const { return list_.data() + count_; }

 private:
  std::array<Contact, kMaxSupports> list_;
  std::size_t count_ = 0;
};

// The first of the surfaces that the traveller meets within so many seconds, but for those that it goes
// along.
Hit nextHit(const std::vector<Met>& met, const Traveller& traveller, double within, const Contacts& along);

}  // namespace comet
