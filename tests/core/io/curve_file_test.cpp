#include "io/curve_file.h"

#include <assimp/Importer.hpp>
#include <assimp/mesh.h>
#include <assimp/scene.h>
#include <cmath>
#include <glm/geometric.hpp>
#include <gmock/gmock.h>
#include <regex>

namespace comet {
namespace {

using ::testing::HasSubstr;

CurveFrame twoLines(int frame) {
  return {frame,
          {{{{0, 0, 0}, 0.1, {1, 0, 0}, 1}, {{1, 0, 0}, 0.2, {0, 1, 0}, 0.5}, {{1, 2, 0}, 0.3, {0, 0, 1}, 0}},
           {{{5, 5, 5}, 1, {1, 1, 1}, 1}, {{6, 5, 5}, 1, {1, 1, 1}, 1}}}};
}

TEST(CurveFile, ObjIsReadAsLinesByAnotherLibrary) {
  const std::string text = encodeObjLines(twoLines(1));
  Assimp::Importer importer;
  const aiScene* read = importer.ReadFileFromMemory(text.data(), text.size(), 0, "obj");
  ASSERT_TRUE(read) << importer.GetErrorString();
  ASSERT_EQ(read->mNumMeshes, 1U);
  const aiMesh& mesh = *read->mMeshes[0];
  EXPECT_EQ(mesh.mPrimitiveTypes, static_cast<unsigned>(aiPrimitiveType_LINE));
  ASSERT_EQ(mesh.mNumFaces, 3U) << "two pieces and one";
  double length = 0;
  for (unsigned f = 0; f < mesh.mNumFaces; ++f) {
    ASSERT_EQ(mesh.mFaces[f].mNumIndices, 2U);
    length += static_cast<double>(
        (mesh.mVertices[mesh.mFaces[f].mIndices[1]] - mesh.mVertices[mesh.mFaces[f].mIndices[0]]).Length());
  }
  EXPECT_NEAR(length, 1 + 2 + 1, 1e-5);
}

// The numbers of the list that an attribute has at a frame.
std::vector<double> numbersAt(const std::string& text, const std::string& attribute, int frame) {
  const auto start = text.find(attribute + ".timeSamples");
  EXPECT_NE(start, std::string::npos) << attribute;
  const auto sample = text.find("\n            " + std::to_string(frame) + ": [", start);
  EXPECT_NE(sample, std::string::npos) << attribute;
  const auto open = text.find('[', sample), close = text.find(']', open);
  std::string list = text.substr(open + 1, close - open - 1);
  list = std::regex_replace(list, std::regex("[(),]"), " ");
  std::istringstream in(list);
  std::vector<double> numbers;
  for (double number = 0; in >> number;) numbers.push_back(number);
  return numbers;
}

TEST(CurveFile, UsdHoldsASampleForEachFrame) {
  const std::string text = encodeUsdCurves({twoLines(3), {4, {}}, twoLines(5)}, 24);
  EXPECT_EQ(text.rfind("#usda 1.0\n", 0), 0U);
  EXPECT_THAT(text, HasSubstr("startTimeCode = 3"));
  EXPECT_THAT(text, HasSubstr("endTimeCode = 5"));
  EXPECT_THAT(text, HasSubstr("timeCodesPerSecond = 24"));
  EXPECT_EQ(std::count(text.begin(), text.end(), '{'), std::count(text.begin(), text.end(), '}'));
  for (const int frame : {3, 5}) {
    EXPECT_EQ(numbersAt(text, "int[] curveVertexCounts", frame), (std::vector<double>{3, 2}));
    EXPECT_EQ(numbersAt(text, "float[] widths", frame), (std::vector<double>{0.1, 0.2, 0.3, 1, 1}));
    EXPECT_EQ(numbersAt(text, "point3f[] points", frame),
              (std::vector<double>{0, 0, 0, 1, 0, 0, 1, 2, 0, 5, 5, 5, 6, 5, 5}));
    EXPECT_EQ(numbersAt(text, "color3f[] primvars:displayColor", frame).size(), 15U);
    EXPECT_EQ(numbersAt(text, "float[] primvars:displayOpacity", frame).size(), 5U);
  }
  EXPECT_TRUE(numbersAt(text, "int[] curveVertexCounts", 4).empty());
}

TEST(CurveFile, ResamplingKeepsTheEndsAndSpacesEvenly) {
  const CurveLine line = twoLines(1).lines.front();
  const CurveLine even = resampled(line, 7);
  ASSERT_EQ(even.size(), 7U);
  EXPECT_EQ(even.front().place, line.front().place);
  EXPECT_LT(glm::length(even.back().place - line.back().place), 1e-12);
  // Three units in six pieces, none of which cuts the corner at 1.
  for (std::size_t i = 1; i < even.size(); ++i)
    EXPECT_NEAR(glm::length(even[i].place - even[i - 1].place), 0.5, 1e-9) << i;
  EXPECT_NEAR(even[1].width, 0.15, 1e-9);
  EXPECT_NEAR(even[4].opacity, 0.25, 1e-9);
}

}  // namespace
}  // namespace comet
