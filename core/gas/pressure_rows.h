// The inner loops of the pressure of gas, on whole vectors of the machine. Results are the same on any of
// them.
#pragma once

#include <array>
#include <cstddef>

namespace comet {

// Rows are a whole number of so many voxels long, layers around and slack included. What is read beside a row
// reaches one voxel beyond its ends.
constexpr std::size_t kPressureLanes = 16;

// The equations of a row of voxels along x. All pointers are to the first voxel of the row, which is one of
// the layer around.
struct EquationRow {
  std::size_t row = 0;                 // its length, and to the next voxel along y; whole vectors
  std::size_t plane = 0;               // to the next voxel along z
  std::array<const float*, 3> open{};  // of the face below each voxel along an axis
  const float* inverse = nullptr;  // one over what its six faces let through; 0 where no pressure is sought
  // Whether all faces of voxels whose pressure is sought are open altogether, and by how much along each
  // axis.
  bool isPlain = false;
  std::array<float, 3> whole{};
};

// Solves the equations of every second voxel, those at even places in the row or at odd ones, with all others
// as they are.
void smoothRow(const EquationRow& equations, const float* right, bool atOdd, float* pressure);
// The same from a pressure of 0.
void smoothRowFromZero(const EquationRow& equations, const float* right, bool atOdd, float* pressure);

// A * pressure; 0 where no pressure is sought.
void productRow(const EquationRow& equations, const float* pressure, float* product);
// (right - A * pressure) * norm.
void residualRow(const EquationRow& equations, const float* pressure, const float* right, const float* norm,
                 float* residual);

// The sum of some rows, each by its weight.
void mixRows(const float* const* rows, const float* weights, std::size_t rowCount, std::size_t count,
             float* mixed);

// From a row to one of half as many voxels, by the weights 1/4, 3/4, 3/4, 1/4; 0 where `inverse` of the
// coarser row is. `count` is of the coarser row; of the finer one twice as many are read, and two before its
// first.
void halveRow(const float* fine, const float* inverse, std::size_t count, float* coarse);
// And back: one before the finer row's first is written, and twice `count` in all. Of the coarser row one
// before its first and one behind its last are read.
void doubleRow(const float* coarse, std::size_t count, float* fine);
// pressure += norm * more.
void addToRow(const float* norm, const float* more, std::size_t count, float* pressure);

// Of a multiple of kPressureLanes numbers: the sum of the products, and the largest magnitude.
double dotOf(const float* a, const float* b, std::size_t count);
float largestOf(const float* values, std::size_t count);

}  // namespace comet
