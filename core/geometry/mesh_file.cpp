#include "geometry/mesh_file.h"

#include "base/error.h"

#include <algorithm>
#include <array>
#include <assimp/Exporter.hpp>
#include <assimp/IOStream.hpp>
#include <assimp/IOSystem.hpp>
#include <assimp/Importer.hpp>
#include <assimp/config.h>
#include <assimp/material.h>
#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <cctype>
#include <cmath>
#include <cstring>
#include <fmt/format.h>
#include <glm/geometric.hpp>
#include <memory>
#include <sstream>

namespace comet {
namespace {

constexpr std::size_t kMaxTriangles = 10000000;
constexpr unsigned kMaxCorners = 10000;
constexpr int kMaxPlyLines = 1000;
constexpr std::array<std::string_view, 5> kExtensions{"obj", "ply", "stl", "gltf", "glb"};

std::string extensionOf(const std::string& name) {
  const auto dot = name.rfind('.');
  std::string extension = dot == std::string::npos ? "" : name.substr(dot + 1);
  std::transform(extension.begin(), extension.end(), extension.begin(),
                 [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
  return extension;
}

Mesh::PartNames namesOf(const aiScene& scene, const aiMesh& part) {
  Mesh::PartNames names{part.mName.C_Str(), {}};
  aiString material;
  if (part.mMaterialIndex < scene.mNumMaterials &&
      scene.mMaterials[part.mMaterialIndex]->Get(AI_MATKEY_NAME, material) == aiReturn_SUCCESS &&
      std::string_view(material.C_Str()) != AI_DEFAULT_MATERIAL_NAME)
    names.material = material.C_Str();
  return names;
}

void addPart(const aiScene& scene, const aiMesh& part, const aiMatrix4x4& place, Mesh& mesh) {
  const auto first = static_cast<std::uint32_t>(mesh.points.size());
  const aiMatrix3x3 turn = aiMatrix3x3(place).Inverse().Transpose();
  for (unsigned i = 0; i < part.mNumVertices; ++i) {
    const aiVector3D point = place * part.mVertices[i];
    if (!std::isfinite(point.x) || !std::isfinite(point.y) || !std::isfinite(point.z))
      refuseInput("", fmt::format("point {} has a coordinate that is not a number", i + 1));
    mesh.points.emplace_back(point.x, point.y, point.z);
    const aiVector3D normal = part.HasNormals() ? turn * part.mNormals[i] : aiVector3D(0, 1, 0);
    mesh.normals.emplace_back(Vec3(unitOr(Vec3d(normal.x, normal.y, normal.z), Vec3d(0, 1, 0))));
  }
  const auto index = static_cast<std::uint32_t>(mesh.partNames.size());
  mesh.partNames.push_back(namesOf(scene, part));
  for (unsigned i = 0; i < part.mNumFaces; ++i) {
    const aiFace& face = part.mFaces[i];
    if (face.mNumIndices != 3) continue;  // points and lines
    mesh.triangles.push_back({first + face.mIndices[0], first + face.mIndices[1], first + face.mIndices[2]});
    mesh.parts.push_back(index);
  }
}

void addNode(const aiScene& scene, const aiNode& node, const aiMatrix4x4& parent, Mesh& mesh) {
  const aiMatrix4x4 place = parent * node.mTransformation;
  for (unsigned i = 0; i < node.mNumMeshes; ++i) addPart(scene, *scene.mMeshes[node.mMeshes[i]], place, mesh);
  for (unsigned i = 0; i < node.mNumChildren; ++i) addNode(scene, *node.mChildren[i], place, mesh);
}

// Files repeat a point for each face, group or normal at it; births on points and edges, and the question
// whether a mesh is closed, need it once.
Mesh withPointsJoined(const Mesh& mesh) {
  std::vector<std::uint32_t> order(mesh.points.size());
  for (std::size_t i = 0; i < order.size(); ++i) order[i] = static_cast<std::uint32_t>(i);
  const auto key = [&mesh](std::uint32_t i) {
    const Vec3& p = mesh.points[i];
    return std::array<float, 3>{p.x, p.y, p.z};
  };
  std::stable_sort(order.begin(), order.end(),
                   [&key](std::uint32_t a, std::uint32_t b) { return key(a) < key(b); });
  std::vector<std::uint32_t> first(order.size());
  for (std::size_t i = 0; i < order.size(); ++i)
    first[order[i]] = i > 0 && key(order[i]) == key(order[i - 1]) ? first[order[i - 1]] : order[i];

  Mesh joined;
  joined.partNames = mesh.partNames;
  joined.parts = mesh.parts;
  std::vector<std::uint32_t> place(order.size());
  for (std::uint32_t i = 0; i < order.size(); ++i) {
    if (first[i] == i) {
      place[i] = static_cast<std::uint32_t>(joined.points.size());
      joined.points.push_back(mesh.points[i]);
      joined.normals.push_back(mesh.normals[i]);
    } else {
      place[i] = place[first[i]];
      joined.normals[place[i]] += mesh.normals[i];
    }
  }
  for (Vec3& normal : joined.normals) normal = Vec3(unitOr(Vec3d(normal), Vec3d(0, 1, 0)));
  for (const Mesh::Triangle& t : mesh.triangles)
    joined.triangles.push_back({place[t[0]], place[t[1]], place[t[2]]});
  return joined;
}

unsigned wantedSteps() {
  return aiProcess_Triangulate | aiProcess_GenSmoothNormals | aiProcess_JoinIdenticalVertices |
         aiProcess_SortByPType;
}

// The library's own steps believe the indices, and cut a polygon in the square of its corners.
void checkFaces(const aiMesh& part) {
  for (unsigned i = 0; i < part.mNumFaces; ++i) {
    if (part.mFaces[i].mNumIndices > kMaxCorners)
      refuseInput(
          "", fmt::format("has a face of {} corners, more than {}", part.mFaces[i].mNumIndices, kMaxCorners),
          "Cut it into triangles first");
    for (unsigned k = 0; k < part.mFaces[i].mNumIndices; ++k)
      if (part.mFaces[i].mIndices[k] >= part.mNumVertices)
        refuseInput("",
                    fmt::format("face {} names point {}, but there are {}", i + 1,
                                part.mFaces[i].mIndices[k] + 1, part.mNumVertices),
                    "It is damaged: export it again");
  }
}

// What the importer has read, as a mesh.
Mesh meshFrom(Assimp::Importer& importer) {
  const aiScene* scene = importer.GetScene();
  if (scene)
    for (unsigned i = 0; i < scene->mNumMeshes; ++i) checkFaces(*scene->mMeshes[i]);
  if (scene) scene = importer.ApplyPostProcessing(wantedSteps());
  if (!scene)
    refuseInput("", fmt::format("is not a mesh that can be read ({})", importer.GetErrorString()),
                "Export it again");
  std::size_t triangles = 0;
  for (unsigned i = 0; i < scene->mNumMeshes; ++i) triangles += scene->mMeshes[i]->mNumFaces;
  if (triangles > kMaxTriangles)
    refuseInput("", fmt::format("has {} triangles, more than {}", triangles, kMaxTriangles),
                "Simplify it first");
  Mesh mesh;
  if (scene->mRootNode) addNode(*scene, *scene->mRootNode, aiMatrix4x4(), mesh);
  if (mesh.points.empty()) refuseInput("", "holds no points", "Export it again, with its mesh chosen");
  return withPointsJoined(mesh);
}

void checkExtension(const std::string& name) {
  const std::string extension = extensionOf(name);
  if (std::find(kExtensions.begin(), kExtensions.end(), extension) == kExtensions.end())
    refuseInput("", fmt::format("is not of a kind that can be read (\"{}\")", extension),
                "Use OBJ, PLY, STL or glTF");
}

bool isOneOf(const std::string& word, std::initializer_list<std::string_view> words) {
  return std::find(words.begin(), words.end(), word) != words.end();
}

bool isPlyType(const std::string& word) {
  return isOneOf(word, {"char", "uchar", "short", "ushort", "int", "uint", "float", "double", "int8", "uint8",
                        "int16", "uint16", "int32", "uint32", "float32", "float64"});
}

// Adds to `entries` what a line of the header promises; false if it is no line of a header.
bool readPlyLine(const std::string& line, double& entries) {
  std::istringstream words(line);
  std::string word, first, second, third, name;
  if (!(words >> word)) return true;
  if (isOneOf(word, {"ply", "comment", "obj_info"})) return true;
  if (word == "format")
    return words >> first >> second && isOneOf(first, {"ascii", "binary_little_endian", "binary_big_endian"});
  if (word == "element") {
    double count = 0;
    if (!(words >> name >> count) || !(count >= 0)) return false;
    entries += count;
    return true;
  }
  if (word != "property" || !(words >> first)) return false;
  if (first == "list") return words >> second >> third >> name && isPlyType(second) && isPlyType(third);
  return words >> name && isPlyType(first);
}

// The library believes a PLY header: it waits for what never comes, and for the end of lines that have none.
void checkPlyHeader(std::string_view bytes) {
  double entries = 0;
  std::size_t at = 0;
  for (int number = 1;; ++number) {
    const std::size_t end = bytes.find('\n', at);
    if (end == std::string_view::npos) refuseInput("", "has a header without an end", "Export it again");
    std::string line(bytes.substr(at, end - at));
    at = end + 1;
    if (!line.empty() && line.back() == '\r') line.pop_back();
    if (line == "end_header") break;
    // The library looks for each property among all of them.
    if (number > kMaxPlyLines)
      refuseInput("", fmt::format("has a header of more than {} lines", kMaxPlyLines),
                  "Export points and faces alone");
    if (line.find('\0') != std::string::npos || !readPlyLine(line, entries))
      refuseInput("", fmt::format("has a header whose line {} cannot be read", number),
                  "It is damaged: export it again");
  }
  const std::size_t left = bytes.size() - at;
  if (entries == 0) refuseInput("", "names no points", "Export it again, with its mesh chosen");
  // No entry is shorter than a byte.
  if (!(entries <= static_cast<double>(left)))
    refuseInput("", fmt::format("promises {:.0f} points and faces, but has {} bytes of them", entries, left),
                "It is cut short: export it again");
}

// The library takes what does not begin like glTF for any other format, and skips that format's checks here.
void checkGltfStart(std::string_view bytes) {
  const std::size_t first = bytes.find_first_not_of(" \t\r\n");
  const bool isText = first != std::string_view::npos && bytes[first] == '{';
  if (!isText && bytes.substr(0, 4) != "glTF") refuseInput("", "is not a glTF file", "Export it again");
}

void checkStart(std::string_view bytes, const std::string& extension) {
  if (extension == "ply") checkPlyHeader(bytes);
  if (extension == "gltf" || extension == "glb") checkGltfStart(bytes);
}

// A file of the library's that lies in memory.
class MemoryFile : public Assimp::IOStream {
 public:
  explicit MemoryFile(std::string_view bytes) : bytes_(bytes) {}
  explicit MemoryFile(std::string bytes) : own_(std::move(bytes)), bytes_(own_) {}

  size_t Read(void* target, size_t size, size_t count) override {
    const std::size_t whole = size == 0 ? 0 : std::min(count, (bytes_.size() - at_) / size);
    if (whole > 0) std::memcpy(target, bytes_.data() + at_, whole * size);
    at_ += whole * size;
    return whole;
  }
  size_t Write(const void*, size_t, size_t) override { return 0; }
  aiReturn Seek(size_t offset, aiOrigin origin) override {
    const std::size_t from = origin == aiOrigin_SET ? 0 : origin == aiOrigin_CUR ? at_ : bytes_.size();
    if (offset > bytes_.size() - from) return aiReturn_FAILURE;
    at_ = from + offset;
    return aiReturn_SUCCESS;
  }
  size_t Tell() const override { return at_; }
  size_t FileSize() const override { return bytes_.size(); }
  void Flush() override {}

 private:
  std::string own_;
  std::string_view bytes_;
  std::size_t at_ = 0;
};

// The mesh's own file by its name, and what `further` gives.
class NamedFiles : public Assimp::IOSystem {
 public:
  NamedFiles(std::string name, std::string_view bytes, FurtherFiles further)
      : name_(std::move(name)), bytes_(bytes), further_(std::move(further)) {}

  bool Exists(const char* name) const override { return name == name_; }
  char getOsSeparator() const override { return '/'; }
  Assimp::IOStream* Open(const char* name, const char*) override {
    if (name == name_) return new MemoryFile(bytes_);
    auto found = further_ ? further_(name) : std::nullopt;
    return found ? new MemoryFile(std::move(*found)) : nullptr;
  }
  void Close(Assimp::IOStream* file) override { delete file; }

 private:
  std::string name_;
  std::string_view bytes_;
  FurtherFiles further_;
};

// As the library has it; it frees what it is given.
std::unique_ptr<aiScene> sceneOf(const Mesh& mesh) {
  auto scene = std::make_unique<aiScene>();
  scene->mNumMaterials = 1;
  scene->mMaterials = new aiMaterial* [1] { new aiMaterial };
  scene->mNumMeshes = 1;
  scene->mMeshes = new aiMesh* [1] { new aiMesh };
  aiMesh& part = *scene->mMeshes[0];
  part.mPrimitiveTypes = aiPrimitiveType_TRIANGLE;
  part.mNumVertices = static_cast<unsigned>(mesh.points.size());
  part.mVertices = new aiVector3D[mesh.points.size()];
  part.mNormals = new aiVector3D[mesh.points.size()];
  for (std::size_t i = 0; i < mesh.points.size(); ++i) {
    part.mVertices[i] = {mesh.points[i].x, mesh.points[i].y, mesh.points[i].z};
    part.mNormals[i] = {mesh.normals[i].x, mesh.normals[i].y, mesh.normals[i].z};
  }
  part.mNumFaces = static_cast<unsigned>(mesh.triangles.size());
  part.mFaces = new aiFace[mesh.triangles.size()];
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Mesh::Triangle& corners = mesh.triangles[i];
    part.mFaces[i].mNumIndices = 3;
    part.mFaces[i].mIndices = new unsigned[3]{corners[0], corners[1], corners[2]};
  }
  scene->mRootNode = new aiNode;
  scene->mRootNode->mNumMeshes = 1;
  scene->mRootNode->mMeshes = new unsigned[1]{0};
  return scene;
}

}  // namespace

Mesh meshFromBytes(std::string_view bytes, const std::string& name, const FurtherFiles& further) {
  checkExtension(name);
  const std::string extension = extensionOf(name);
  checkStart(bytes, extension);
  Assimp::Importer importer;
  if (extension == "gltf") {
    const std::string own = "mesh." + extension;
    importer.SetIOHandler(new NamedFiles(own, bytes, further));  // which takes it over
    importer.ReadFile(own, 0);
  } else {
    importer.ReadFileFromMemory(bytes.data(), bytes.size(), 0, extension.c_str());
  }
  return meshFrom(importer);
}

std::string_view extensionOf(MeshFormat format) {
  constexpr std::array<std::string_view, 3> kNames{".obj", ".ply", ".glb"};
  return kNames[static_cast<std::size_t>(format)];
}

std::string meshBytes(const Mesh& mesh, MeshFormat format) {
  constexpr std::array<const char*, 3> kIds{"objnomtl", "plyb", "glb2"};
  Assimp::Exporter exporter;
  const std::unique_ptr<aiScene> scene = sceneOf(mesh);
  const aiExportDataBlob* blob = exporter.ExportToBlob(scene.get(), kIds[static_cast<std::size_t>(format)]);
  if (!blob)
    throw Error(ErrorKind::Write, "",
                fmt::format("the mesh cannot be written: {}", exporter.GetErrorString()));
  return {static_cast<const char*>(blob->data), blob->size};
}

}  // namespace comet
