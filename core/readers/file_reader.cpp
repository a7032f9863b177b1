#include "readers/file_reader.h"

#include "base/error.h"
#include "base/file.h"
#include "io/picture_file.h"
#include "readers/reader_process.h"
#include "readers/reader_task.h"

#include <algorithm>
#include <chrono>
#include <fmt/format.h>
#include <limits>
#include <mutex>
#include <optional>
#include <system_error>

namespace comet {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t kMaxIdle = 4;
constexpr std::size_t kMaxElements = std::size_t{1} << 26;

// What comes from a reader may be anything too.
struct WrongAnswer : std::runtime_error {
  WrongAnswer() : std::runtime_error("a reader's answer cannot be true") {}
};

template <typename Element>
std::vector<Element> receiveAll(Channel& reader) {
  const auto count = reader.receive<std::uint64_t>();
  if (count > kMaxElements) throw WrongAnswer();
  std::vector<Element> elements(count);
  reader.receive(elements.data(), elements.size() * sizeof(Element));
  return elements;
}

Mesh receiveMesh(Channel& reader) {
  Mesh mesh;
  mesh.points = receiveAll<Vec3>(reader);
  mesh.normals = receiveAll<Vec3>(reader);
  mesh.triangles = receiveAll<Mesh::Triangle>(reader);
  mesh.parts = receiveAll<std::uint32_t>(reader);
  const auto names = reader.receive<std::uint64_t>();
  if (names > kMaxElements) throw WrongAnswer();
  for (std::uint64_t i = 0; i < names; ++i) {
    std::string group = reader.receiveText(kLongestText);
    mesh.partNames.push_back({std::move(group), reader.receiveText(kLongestText)});
  }
  const auto isWrong = [&mesh](const Mesh::Triangle& triangle) {
    return std::any_of(triangle.begin(), triangle.end(),
                       [&mesh](std::uint32_t point) { return point >= mesh.points.size(); });
  };
  if (mesh.normals.size() != mesh.points.size() || mesh.parts.size() != mesh.triangles.size() ||
      std::any_of(mesh.triangles.begin(), mesh.triangles.end(), isWrong) ||
      std::any_of(mesh.parts.begin(), mesh.parts.end(),
                  [names](std::uint32_t part) { return part >= names; }))
    throw WrongAnswer();
  return mesh;
}

std::vector<VectorVolume> receiveVolumes(Channel& reader) {
  std::vector<VectorVolume> volumes(std::min<std::uint64_t>(reader.receive<std::uint64_t>(), kMaxElements));
  for (VectorVolume& volume : volumes) {
    volume.name = reader.receiveText(kLongestText);
    reader.receive(&volume.centre, sizeof volume.centre);
    reader.receive(&volume.size, sizeof volume.size);
    const auto counts = reader.receive<VectorGrid::Counts>();
    std::uint64_t cells = 1;
    for (const int count : counts) {
      if (count < 1) throw WrongAnswer();
      cells *= static_cast<std::uint64_t>(count);
      if (cells > kMaxElements) throw WrongAnswer();
    }
    volume.grid = VectorGrid(counts);
    reader.receive(&volume.grid.at(0, 0, 0), volume.grid.size() * sizeof(Vec3));
  }
  return volumes;
}

// A file that another one names, if it lies in its folder or below.
std::optional<OpenFile> furtherFile(const fs::path& path, const std::string& name) {
  const fs::path further = fs::path(name).lexically_normal();
  if (further.empty() || further.is_absolute() || *further.begin() == "..") return std::nullopt;
  try {
    return OpenFile(path.parent_path() / further, kLargestFile);
  } catch (const Error&) {
    // The library says what is missing.
    return std::nullopt;
  }
}

// Until the result begins. Throws Error(Input) for what the reader refuses.
void awaitResult(Channel& reader, const fs::path& path) {
  while (true) switch (reader.receive<ReaderAnswer>()) {
      case ReaderAnswer::Result:
        return;
      case ReaderAnswer::Refused: {
        const std::string place = reader.receiveText(kLongestText),
                          problem = reader.receiveText(kLongestText);
        const Error error(ErrorKind::Input, place, problem, reader.receiveText(kLongestText));
        const bool isNamed = place.rfind(path.string(), 0) == 0;
        throw(isNamed ? error : error.within(path.string())).withRemedy("Export it again");
      }
      case ReaderAnswer::NoMemory:
        refuseInput(path.string(), fmt::format("takes more than {} GB to be read", kReaderMemory >> 30),
                    "Simplify it, or export it again if it is small: it is damaged then");
      case ReaderAnswer::FurtherFile: {
        const auto further = furtherFile(path, reader.receiveText(kLongestText));
        reader.send(further.has_value());
        if (further) reader.sendFile(further->descriptor());
        break;
      }
      default:
        throw WrongAnswer();
    }
}

Picture receivePicture(Channel& reader, const fs::path& path, StoredAlpha alpha) {
  const auto layout = reader.receive<PictureLayout>();
  if (!layout.isPossible()) throw WrongAnswer();
  std::vector<std::byte> samples;
  const auto rows = [&](int, int count) {
    awaitResult(reader, path);
    samples.resize(layout.bytesOf(count));
    reader.receive(samples.data(), samples.size());
    return samples.data();
  };
  return pictureFrom(layout, rows, alpha);
}

}  // namespace

struct FileReader::Pool {
  ReaderHost host{prepareToRead, readForOthers};
  std::mutex mutex;
  std::vector<ReaderProcess> idle;

  ReaderProcess take(const fs::path& path) {
    {
      const std::lock_guard lock(mutex);
      if (!idle.empty()) {
        ReaderProcess reader = std::move(idle.back());
        idle.pop_back();
        return reader;
      }
    }
    try {
      return host.newReader();
    } catch (const std::exception& error) {
      refuseInput(path.string(), fmt::format("cannot be read safely: {}", error.what()),
                  "Free some memory, or start the program again");
    }
  }
  void giveBack(ReaderProcess reader) {
    const std::lock_guard lock(mutex);
    if (idle.size() < kMaxIdle) idle.push_back(std::move(reader));
  }

  // A reader that has refused something is not used again: it may be short of memory, or worse.
  template <typename Receive>
  auto read(ReaderTask task, const fs::path& path, const Progress& progress, const Receive& receive) {
    const OpenFile file(path, kLargestFile);
    ReaderProcess reader = take(path);
    const auto begin = std::chrono::steady_clock::now();
    reader.channel().setWhileWaiting([&] {
      progress.stopIfCancelled();
      if (std::chrono::steady_clock::now() - begin > std::chrono::duration<double>(kReaderSeconds))
        refuseInput(path.string(), fmt::format("takes more than {} s to be read", kReaderSeconds),
                    "Simplify it, or export it again if it is small: it is damaged then");
    });
    try {
      reader.channel().send(task);
      reader.channel().sendText(path.string());
      reader.channel().sendFile(file.descriptor());
      awaitResult(reader.channel(), path);
      auto result = receive(reader.channel());
      reader.channel().setWhileWaiting({});
      giveBack(std::move(reader));
      return result;
    } catch (const PeerGone&) {
      reader.isGone();
    } catch (const WrongAnswer&) {
    } catch (const std::length_error&) {
    }
    refuseInput(path.string(), "is damaged so that it cannot be read to its end", "Export it again");
  }
};

FileReader::FileReader() : pool_(std::make_unique<Pool>()) {}
FileReader::~FileReader() = default;

Picture FileReader::picture(const fs::path& path, const Progress& progress, StoredAlpha alpha) const {
  return pool_->read(ReaderTask::Picture, path, progress,
                     [&](Channel& reader) { return receivePicture(reader, path, alpha); });
}

Mesh FileReader::mesh(const fs::path& path, const Progress& progress) const {
  return pool_->read(ReaderTask::Mesh, path, progress, receiveMesh);
}

std::vector<VectorVolume> FileReader::volumes(const fs::path& path, const Progress& progress) const {
  return pool_->read(ReaderTask::Volumes, path, progress, receiveVolumes);
}

}  // namespace comet
