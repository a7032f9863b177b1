// A gas as it is kept from step to step: in numbers of 16 bits, without what is empty.
//
// A step begins from what is kept and never from anything more exact, so that a run that is resumed does
// what the whole run does.
#pragma once

#include "base/byte_stream.h"
#include "base/digest.h"
#include "gas/gas_grid.h"

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

namespace comet {

// Numbers as half floats (IEEE 754, binary16). What is nearer to 0 than their smallest normal one is 0.
class HalfChannel {
 public:
  HalfChannel() = default;
  explicit HalfChannel(const GasChannel& channel);

  GasChannel unpacked() const;
  std::size_t size() const { return size_; }
  // How many numbers are kept, in runs of which any is not 0.
  std::size_t kept() const { return values_.size(); }
  std::size_t bytes() const;

  void describe(Hasher& hasher) const;
  void put(std::string& bytes) const;
  // Throws DamagedBytes unless there are `size` numbers.
  static HalfChannel take(ByteReader& reader, std::size_t size);

 private:
  std::size_t size_ = 0;
  std::vector<std::uint8_t> isKept_;   // for each run of numbers
  std::vector<std::uint16_t> values_;  // of the runs that are kept
};

class PackedGas {
 public:
  // `timeScale` is how many seconds pass in the gas while one passes in the scene: the state's velocities are
  // by the gas's own time. `detail`: its contents in finer voxels of the same box, which have no velocity.
  PackedGas(const GasGrid& grid, const GasState& state, double timeScale = 1,
            std::shared_ptr<const PackedGas> detail = {});

  const GasGrid& grid() const { return grid_; }
  double timeScale() const { return timeScale_; }
  // Null if there is none.
  const std::shared_ptr<const PackedGas>& detail() const { return detail_; }
  // As it is seen: its detail, if there is any.
  const PackedGas& finest() const { return detail_ ? *detail_ : *this; }
  // By the gas's own time.
  GasState unpacked() const;
  // As unpacked, with the velocity by the time of the scene, units per second.
  GasState inScene() const;
  GasChannel density() const { return density_.unpacked(); }
  GasChannel temperature() const { return temperature_.unpacked(); }
  // Empty where the gas carries none.
  std::array<GasChannel, 3> color() const;
  GasChannel age() const { return age_.unpacked(); }
  GasChannel fuel() const { return fuel_.unpacked(); }
  // By the time of the scene, units per second.
  GasVelocity velocity() const;
  // Voxels in runs that hold any density.
  std::size_t filled() const { return density_.kept(); }
  // Whether no voxel holds anything that can be seen.
  bool isClear() const { return density_.kept() == 0 && temperature_.kept() == 0; }
  std::size_t bytes() const;

  void describe(Hasher& hasher) const;
  void put(std::string& bytes) const;
  // Throws DamagedBytes.
  static PackedGas take(ByteReader& reader);

 private:
  PackedGas() = default;
  GasVelocity unpackedVelocity() const;
  void putGrid(std::string& bytes) const;
  void putContents(std::string& bytes) const;
  static PackedGas takeGrid(ByteReader& reader);
  // Returns whether a detail follows.
  bool takeContents(ByteReader& reader);

  GasGrid grid_;
  double timeScale_ = 1;
  std::array<HalfChannel, 3> velocity_;
  HalfChannel density_, temperature_;
  std::array<HalfChannel, 3> color_;
  HalfChannel age_, fuel_;
  std::shared_ptr<const PackedGas> detail_;
};

}  // namespace comet
