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

std::size_t ParticleStore::bytesFor(std::size_t capacity, FieldSet fields, std::size_t bodyNumbers) {
  if (capacity == 0) return 0;
  const std::size_t bodies = bodyNumbers > 0 ? arrayBytes(capacity, bodyNumbers * sizeof(float)) : 0;
  return fields.count() * arrayBytes(capacity, sizeof(float)) + arrayBytes(capacity, sizeof(ParticleId)) +
         bodies;
}

ParticleStore::ParticleStore(std::size_t capacity, FieldSet fields, std::size_t bodyNumbers)
    : present_(fields), bodyNumbers_(bodyNumbers), capacity_(capacity) {
  if (capacity == 0) return;
  // This allocator keeps large blocks for the next frame instead of returning them to the system each time.
  block_.reset(scalable_aligned_malloc(bytesFor(capacity, fields, bodyNumbers), kAlignment));
  if (!block_) throw std::bad_alloc();
  auto* next = static_cast<std::byte*>(block_.get());
  fields.forEach([&](Field field) {
    fields_[field] = reinterpret_cast<float*>(next);
    next += arrayBytes(capacity, sizeof(float));
    if (!FieldSet().has(field)) std::fill_n(fields_[field], capacity, 0.0F);
  });
  ids_ = reinterpret_cast<ParticleId*>(next);
  if (bodyNumbers == 0) return;
  bodies_ = reinterpret_cast<float*>(next + arrayBytes(capacity, sizeof(ParticleId)));
  std::fill_n(bodies_, capacity * bodyNumbers, 0.0F);
}

void ParticleStore::Free::operator()(void* block) const { scalable_aligned_free(block); }

ParticleStore ParticleStore::copy() const {
  ParticleStore twin(size_, present_, bodyNumbers_);
  twin.append(*this, 0, size_);
  return twin;
}

void ParticleStore::append(const ParticleStore& source, std::size_t first, std::size_t count) {
  const std::size_t target = size_;
  resize(size_ + count);
  if (count == 0) return;
  present_.forEach([&](Field field) {
    if (const float* from = source.fields_[field])
      std::memcpy(fields_[field] + target, from + first, count * sizeof(float));
    else
      std::fill_n(fields_[field] + target, count, 0.0F);
  });
  std::memcpy(ids_ + target, source.ids_ + first, count * sizeof(ParticleId));
  if (bodyNumbers_ == 0) return;
  if (source.bodyNumbers_ == bodyNumbers_)
    std::memcpy(body(target), source.body(first), count * bodyNumbers_ * sizeof(float));
  else
    std::fill_n(body(target), count * bodyNumbers_, 0.0F);
}

void ParticleStore::moveDown(std::size_t from, std::size_t to, std::size_t count) {
  if (from == to || count == 0) return;
  present_.forEach(
      [&](Field field) { std::memmove(fields_[field] + to, fields_[field] + from, count * sizeof(float)); });
  std::memmove(ids_ + to, ids_ + from, count * sizeof(ParticleId));
  if (bodyNumbers_ > 0) std::memmove(body(to), body(from), count * bodyNumbers_ * sizeof(float));
}

void ParticleStore::remove(const std::vector<std::size_t>& indices) {
  if (indices.empty()) return;
  const auto closeUp = [&](auto* values, std::size_t each) {
    std::size_t target = indices.front();
    auto next = indices.begin();
    for (std::size_t i = target; i < size_; ++i) {
      if (next != indices.end() && *next == i)
        ++next;
      else
        std::copy_n(values + i * each, each, values + each * target++);
    }
  };
  present_.forEach([&](Field field) { closeUp(fields_[field], 1); });
  closeUp(ids_, 1);
  closeUp(bodies_, bodyNumbers_);
  resize(size_ - indices.size());
}

void ParticleStore::describe(Hasher& hasher) const {
  hasher << size_ << present_.bits();
  present_.forEach([&](Field field) { hasher.bytes(fields_[field], size_ * sizeof(float)); });
  hasher.bytes(ids_, size_ * sizeof(ParticleId));
  if (bodyNumbers_ > 0) {
    hasher << bodyNumbers_;
    hasher.bytes(bodies_, size_ * bodyNumbers_ * sizeof(float));
  }
}

void ParticleStore::resize(std::size_t size) {
  assert(size <= capacity_);
  size_ = size;
}

}  // namespace comet
