#include "particles/particle_store.h"

#include <algorithm>
#include <bitset>
#include <cassert>
#include <cstring>
#include <new>
#include <tbb/scalable_allocator.h>

namespace comet {
namespace {

constexpr std::size_t kAlignment = 64;
// Between one array's end and the next one's begin: not a multiple of the distance after which cache sets
// repeat.
constexpr std::size_t kStagger = 5 * kAlignment;

std::size_t arrayBytes(std::size_t capacity, std::size_t elementSize) {
  return (capacity * elementSize + kAlignment - 1) / kAlignment * kAlignment + kStagger;
}

}  // namespace

FieldSet FieldSet::fromBits(Bits bits) {
  FieldSet set;
  constexpr Bits kAll = (Bits{1} << ParticleFields::kFieldCount) - 1;
  set.bits_ |= bits & kAll;
  return set;
}

std::size_t FieldSet::count() const { return std::bitset<64>(bits_).count(); }

std::size_t ParticleStore::bytesFor(std::size_t capacity, FieldSet fields) {
  if (capacity == 0) return 0;
  return fields.count() * arrayBytes(capacity, sizeof(float)) + arrayBytes(capacity, sizeof(ParticleId));
}

ParticleStore::ParticleStore(std::size_t capacity, FieldSet fields) : present_(fields), capacity_(capacity) {
  if (capacity == 0) return;
  // This allocator keeps large blocks for the next frame instead of returning them to the system each time.
  block_.reset(scalable_aligned_malloc(bytesFor(capacity, fields), kAlignment));
  if (!block_) throw std::bad_alloc();
  auto* next = static_cast<std::byte*>(block_.get());
  fields.forEach([&](Field field) {
    fields_[field] = reinterpret_cast<float*>(next);
    next += arrayBytes(capacity, sizeof(float));
    if (!FieldSet().has(field)) std::fill_n(fields_[field], capacity, 0.0F);
  });
  ids_ = reinterpret_cast<ParticleId*>(next);
}

void ParticleStore::Free::operator()(void* block) const { scalable_aligned_free(block); }

ParticleStore ParticleStore::copy() const {
  ParticleStore twin(size_, present_);
  twin.resize(size_);
  if (size_ == 0) return twin;
  present_.forEach(
      [&](Field field) { std::memcpy(twin.fields_[field], fields_[field], size_ * sizeof(float)); });
  std::memcpy(twin.ids_, ids_, size_ * sizeof(ParticleId));
  return twin;
}

void ParticleStore::resize(std::size_t size) {
  assert(size <= capacity_);
  size_ = size;
}

}  // namespace comet
