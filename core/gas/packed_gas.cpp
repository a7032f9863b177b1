#include "gas/packed_gas.h"

#include "base/parallel.h"

#include <Imath/half.h>
#include <algorithm>
#include <cmath>
#include <cstring>

namespace comet {
namespace {

// Bits of the number before the optional channels.
constexpr std::uint8_t kHasColor = 1, kHasDetail = 2;

// A run is left out if all its numbers are 0.
constexpr std::size_t kRun = 32;
constexpr float kMinHeld = 6.103515625e-5F;  // the smallest normal half
constexpr float kMaxHeld = 65504;
// Far more than any machine holds; what a damaged file says must not be believed.
constexpr std::uint64_t kMaxVoxels = std::uint64_t{1} << 32;

std::size_t runsOf(std::size_t size) { return (size + kRun - 1) / kRun; }

std::uint16_t halfOf(float value) {
  if (!(std::abs(value) >= kMinHeld)) return 0;
  return half(std::clamp(value, -kMaxHeld, kMaxHeld)).bits();
}

float floatOf(std::uint16_t bits) {
  half value;
  value.setBits(bits);
  return value;
}

// Where each run that is kept begins.
std::vector<std::size_t> startsOf(const std::vector<std::uint8_t>& isKept) {
  std::vector<std::size_t> starts(isKept.size() + 1, 0);
  for (std::size_t run = 0; run < isKept.size(); ++run)
    starts[run + 1] = starts[run] + (isKept[run] != 0 ? kRun : 0);
  return starts;
}

}  // namespace

HalfChannel::HalfChannel(const GasChannel& channel) : size_(channel.size()), isKept_(runsOf(size_)) {
  const auto endOf = [this](std::size_t run) { return std::min(size_, (run + 1) * kRun); };
  runRanges(isKept_.size(), Shares::Equal, [&](std::size_t begin, std::size_t end) {
    for (std::size_t run = begin; run < end; ++run)
      for (std::size_t i = run * kRun; i < endOf(run) && isKept_[run] == 0; ++i)
        isKept_[run] = std::abs(channel[i]) >= kMinHeld ? 1 : 0;
  });
  const std::vector<std::size_t> starts = startsOf(isKept_);
  values_.resize(starts.back());
  runRanges(isKept_.size(), Shares::Equal, [&](std::size_t begin, std::size_t end) {
    for (std::size_t run = begin; run < end; ++run)
      if (isKept_[run] != 0)
        for (std::size_t i = run * kRun; i < endOf(run); ++i)
          values_[starts[run] + i - run * kRun] = halfOf(channel[i]);
  });
}

GasChannel HalfChannel::unpacked() const {
  GasChannel channel(size_);
  const std::vector<std::size_t> starts = startsOf(isKept_);
  runRanges(isKept_.size(), Shares::Equal, [&](std::size_t begin, std::size_t end) {
    for (std::size_t run = begin; run < end; ++run)
      if (isKept_[run] != 0)
        for (std::size_t i = run * kRun; i < std::min(size_, (run + 1) * kRun); ++i)
          channel[i] = floatOf(values_[starts[run] + i - run * kRun]);
  });
  return channel;
}

std::size_t HalfChannel::bytes() const {
  return isKept_.capacity() + values_.capacity() * sizeof(std::uint16_t);
}

void HalfChannel::describe(Hasher& hasher) const {
  hasher << size_;
  hasher.bytes(isKept_.data(), isKept_.size());
  hasher.bytes(values_.data(), values_.size() * sizeof(std::uint16_t));
}

void HalfChannel::put(std::string& bytes) const {
  putNumbers(bytes, isKept_.data(), isKept_.size());
  putNumbers(bytes, values_.data(), values_.size());
}

HalfChannel HalfChannel::take(ByteReader& reader, std::size_t size) {
  if (runsOf(size) > reader.left()) throw DamagedBytes();
  HalfChannel channel;
  channel.size_ = size;
  channel.isKept_.resize(runsOf(size));
  reader.take(channel.isKept_.data(), channel.isKept_.size());
  const std::size_t kept = startsOf(channel.isKept_).back();
  if (kept > reader.left() / sizeof(std::uint16_t)) throw DamagedBytes();
  channel.values_.resize(kept);
  reader.take(channel.values_.data(), kept);
  return channel;
}

PackedGas::PackedGas(const GasGrid& grid, const GasState& state, double timeScale,
                     std::shared_ptr<const PackedGas> detail)
    : grid_(grid),
      timeScale_(timeScale),
      density_(state.density),
      temperature_(state.temperature),
      age_(state.age),
      fuel_(state.fuel),
      detail_(std::move(detail)) {
  for (std::size_t axis = 0; axis < 3; ++axis) {
    velocity_[axis] = HalfChannel(state.velocity[axis]);
    color_[axis] = HalfChannel(state.color[axis]);
  }
}

GasVelocity PackedGas::velocity() const {
  GasVelocity velocity = unpackedVelocity();
  if (timeScale_ == 1) return velocity;
  const auto factor = static_cast<float>(timeScale_);
  for (GasChannel& across : velocity)
    for (float& value : across) value *= factor;
  return velocity;
}

GasVelocity PackedGas::unpackedVelocity() const {
  return {velocity_[0].unpacked(), velocity_[1].unpacked(), velocity_[2].unpacked()};
}

std::array<GasChannel, 3> PackedGas::color() const {
  return {color_[0].unpacked(), color_[1].unpacked(), color_[2].unpacked()};
}

GasState PackedGas::unpacked() const {
  return {unpackedVelocity(), density(), temperature(), color(), age(), fuel()};
}

GasState PackedGas::inScene() const { return {velocity(), density(), temperature(), color(), age(), fuel()}; }

std::size_t PackedGas::bytes() const {
  std::size_t sum = sizeof *this + density_.bytes() + temperature_.bytes() + age_.bytes() + fuel_.bytes();
  for (const auto* channels : {&velocity_, &color_})
    for (const HalfChannel& channel : *channels) sum += channel.bytes();
  return sum + (detail_ ? detail_->bytes() : 0);
}

void PackedGas::describe(Hasher& hasher) const {
  grid_.describe(hasher);
  hasher << timeScale_;
  for (const HalfChannel& channel : velocity_) channel.describe(hasher);
  density_.describe(hasher);
  temperature_.describe(hasher);
  for (const HalfChannel& channel : color_) channel.describe(hasher);
  age_.describe(hasher);
  fuel_.describe(hasher);
  if (detail_) detail_->describe(hasher);
}

void PackedGas::putGrid(std::string& bytes) const {
  for (const std::size_t count : grid_.counts) putNumber(bytes, static_cast<std::uint64_t>(count));
  putNumber(bytes, grid_.voxel);
  putNumbers(bytes, &grid_.corner.x, 3);
  putNumber(bytes, timeScale_);
  for (const auto& walls : grid_.open)
    for (const bool isOpen : walls) putNumber(bytes, static_cast<std::uint8_t>(isOpen));
}

void PackedGas::putContents(std::string& bytes) const {
  density_.put(bytes);
  temperature_.put(bytes);
  const bool hasColor = color_[0].size() > 0;
  putNumber(bytes, static_cast<std::uint8_t>((hasColor ? kHasColor : 0) | (detail_ ? kHasDetail : 0)));
  if (hasColor)
    for (const HalfChannel& channel : color_) channel.put(bytes);
  for (const HalfChannel* channel : {&age_, &fuel_}) {
    putNumber(bytes, static_cast<std::uint8_t>(channel->size() > 0));
    if (channel->size() > 0) channel->put(bytes);
  }
}

void PackedGas::put(std::string& bytes) const {
  putGrid(bytes);
  for (const HalfChannel& channel : velocity_) channel.put(bytes);
  putContents(bytes);
  if (!detail_) return;
  detail_->putGrid(bytes);
  detail_->putContents(bytes);
}

PackedGas PackedGas::takeGrid(ByteReader& reader) {
  PackedGas gas;
  std::uint64_t voxels = 1;
  for (std::size_t& count : gas.grid_.counts) {
    count = reader.take<std::uint64_t>();
    if (count == 0 || count > kMaxVoxels / voxels) throw DamagedBytes();
    voxels *= count;
  }
  gas.grid_.voxel = reader.take<double>();
  reader.take(&gas.grid_.corner.x, 3);
  gas.timeScale_ = reader.take<double>();
  if (!(gas.grid_.voxel > 0) || !std::isfinite(gas.grid_.voxel) || !std::isfinite(gas.timeScale_))
    throw DamagedBytes();
  for (auto& walls : gas.grid_.open)
    for (bool& isOpen : walls) isOpen = reader.take<std::uint8_t>() != 0;
  return gas;
}

bool PackedGas::takeContents(ByteReader& reader) {
  const std::size_t voxels = grid_.cells().size();
  density_ = HalfChannel::take(reader, voxels);
  temperature_ = HalfChannel::take(reader, voxels);
  const auto has = reader.take<std::uint8_t>();
  if ((has & kHasColor) != 0)
    for (HalfChannel& channel : color_) channel = HalfChannel::take(reader, voxels);
  for (HalfChannel* channel : {&age_, &fuel_})
    if (reader.take<std::uint8_t>() != 0) *channel = HalfChannel::take(reader, voxels);
  return (has & kHasDetail) != 0;
}

PackedGas PackedGas::take(ByteReader& reader) {
  PackedGas gas = takeGrid(reader);
  for (std::size_t axis = 0; axis < 3; ++axis)
    gas.velocity_[axis] = HalfChannel::take(reader, gas.grid_.faces(axis).size());
  if (!gas.takeContents(reader)) return gas;
  PackedGas detail = takeGrid(reader);
  // Details have none of their own.
  if (detail.takeContents(reader)) throw DamagedBytes();
  gas.detail_ = std::make_shared<const PackedGas>(std::move(detail));
  return gas;
}

}  // namespace comet
