// Pushes particles that overlap apart, in steps so small that once through all pairs is enough.
//
// Overlaps end by moving both particles, by their masses, and so does the sliding that friction does not
// allow (Müller, Heidelberger, Hennix and Ratcliff 2007; friction: Macklin, Müller, Chentanez and Kim 2014;
// many small steps: Macklin, Storey, Lu, Terdiman, Chentanez, Jeschke and Müller 2019). Velocities follow,
// and are put right for bounce and for overlaps that there were before, which must not throw particles apart
// (Müller, Macklin, Chentanez, Jeschke and Kim 2020).
#pragma once

#include "simulation/contacts/contact.h"
#include "simulation/contacts/contact_pairs.h"

#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace comet {

// Particles in a small step, as arrays of one number each.
struct ContactBodies {
  explicit ContactBodies(std::size_t count);
  std::size_t size() const { return places.size(); }

  BlockVector<Vec3> starts;          // where they were as the step began
  BlockVector<Vec3> places;          // where they come
  BlockVector<Vec3> velocities;      // with which they come there, units/s
  BlockVector<Vec3> rolls;           // how they turn, rad/s about each axis
  BlockVector<float> gained;         // the speed that everything else gave them in the step, units/s
  BlockVector<float> halfSizes;      // units
  BlockVector<float> inverseMasses;  // 0 for what nothing moves
  BlockVector<std::uint32_t> emitters;
  BlockVector<Vec3> moved;            // by how much others moved them in the step
  BlockVector<std::uint8_t> touched;  // whether any other touched them in the step
};

class ContactSolver {
 public:
  explicit ContactSolver(const ContactRule& rule) : rule_(rule) {}

  // Changes places and velocities at the end of a step of so many seconds, and marks who is touched.
  // `firmness` is 0 to 1 for each; those of 0 take no part. The same ones have to come in each step.
  void solve(ContactBodies& bodies, std::span<const float> firmness, double length);

  // How it stands with the bodies as they are now.
  struct Overlap {
    std::uint64_t particles = 0, pairs = 0;
    double deepest = 0;  // as a fraction of the smaller one's radius
  };
  Overlap overlap(const ContactBodies& bodies, std::span<const float> firmness);

  const ContactRule& rule() const { return rule_; }

 private:
  // What touches what in a step.
  struct Touch {
    std::uint32_t first, second;
    Vec3 normal;                    // from the second to the first
    float depth;                    // by which they are pushed apart, units
    float parting;                  // the speed with which they should part, units/s
    float firstShare, secondShare;  // of a change between them, together 1
  };
  // What is asked of each entry of the pairs: of nearly all of them where they are, of those that touch the
  // rest, which fills a line of the cache.
  struct Ball {
    Vec3 place;
    float radius;
  };
  struct alignas(64) Body {
    Vec3 start;
    float inverseMass;
    Vec3 velocity;
    float gained;
    Vec3 turn;  // in the step, rad about each axis
    float firmness;
    std::uint32_t emitter;
    bool isTouched;
  };
  static_assert(sizeof(Body) == 64);

  // Lists the pairs again if any body may have come near others since.
  void list(const ContactBodies& bodies);
  bool haveMoved(const ContactBodies& bodies) const;
  void gather(const ContactBodies& bodies, std::span<const float> firmness, float length);
  // Ends the overlaps of a slab's pairs, and notes who touches whom.
  void pushApart(std::size_t slab, float length);
  // Two that take part and reach each other, or nearly so: `slack` is a fraction of their reach.
  struct Meeting {
    float reach, distance;
  };
  std::optional<Meeting> meetingOf(std::uint32_t i, std::uint32_t j, float slack) const;
  std::optional<Touch> touchOf(std::uint32_t i, std::uint32_t j, float length) const;
  float supported(const Vec3& normal, float against, const Body& lower) const;
  void rub(const Touch& touch);
  void setParting(std::size_t slab, float length);

  ContactRule rule_;
  ContactPairs pairs_;
  float reserve_ = 0;           // of the pairs
  BlockVector<Vec3> listedAt_;  // the bodies' places when the pairs were listed
  BlockVector<Ball> balls_;
  BlockVector<Body> bodies_;
  std::vector<BlockVector<Touch>> touches_;  // of each slab
};

}  // namespace comet
