#include "readers/reader_task.h"

#include "base/error.h"
#include "geometry/mesh_file.h"
#include "io/picture_file.h"
#include "io/volume_file.h"

#include <OpenImageIO/imageio.h>
#include <new>
#include <optional>
#include <sys/mman.h>
#include <sys/stat.h>
#include <tbb/global_control.h>
#include <unistd.h>
#include <utility>
#include <vector>

namespace comet {
namespace {

// A whole file, as it lies on the disk.
class MappedFile {
 public:
  // Closes the descriptor.
  explicit MappedFile(int descriptor) {
    struct stat status {};
    ::fstat(descriptor, &status);
    size_ = static_cast<std::size_t>(status.st_size);
    if (size_ > 0) bytes_ = ::mmap(nullptr, size_, PROT_READ, MAP_PRIVATE, descriptor, 0);
    ::close(descriptor);
    if (bytes_ == MAP_FAILED) throw std::bad_alloc();
  }
  ~MappedFile() {
    if (bytes_) ::munmap(bytes_, size_);
  }
  MappedFile(const MappedFile&) = delete;
  MappedFile& operator=(const MappedFile&) = delete;

  std::string_view bytes() const { return {static_cast<const char*>(bytes_), size_}; }

 private:
  void* bytes_ = nullptr;
  std::size_t size_ = 0;
};

template <typename Element>
void sendAll(Channel& program, const std::vector<Element>& elements) {
  program.send(static_cast<std::uint64_t>(elements.size()));
  program.send(elements.data(), elements.size() * sizeof(Element));
}

void sendPicture(Channel& program, std::string_view bytes, const std::string& name) {
  PictureDecoder decoder(bytes, name);
  const PictureLayout& layout = decoder.layout();
  program.send(ReaderAnswer::Result);
  program.send(layout);
  std::vector<std::byte> samples;
  for (int first = 0; first < layout.height; first += layout.rowsAtOnce) {
    const int count = std::min(layout.rowsAtOnce, layout.height - first);
    samples.resize(layout.bytesOf(count));
    decoder.rows(first, count, samples.data());
    program.send(ReaderAnswer::Result);
    program.send(samples.data(), samples.size());
  }
}

void sendMesh(Channel& program, std::string_view bytes, const std::string& name) {
  const auto further = [&program](const std::string& wanted) -> std::optional<std::string> {
    program.send(ReaderAnswer::FurtherFile);
    program.sendText(wanted);
    if (!program.receive<bool>()) return std::nullopt;
    return std::string(MappedFile(program.receiveFile()).bytes());
  };
  const Mesh mesh = meshFromBytes(bytes, name, further);
  program.send(ReaderAnswer::Result);
  sendAll(program, mesh.points);
  sendAll(program, mesh.normals);
  sendAll(program, mesh.triangles);
  sendAll(program, mesh.parts);
  program.send(static_cast<std::uint64_t>(mesh.partNames.size()));
  for (const Mesh::PartNames& names : mesh.partNames) {
    program.sendText(std::string_view(names.group).substr(0, kLongestText));
    program.sendText(std::string_view(names.material).substr(0, kLongestText));
  }
}

void sendVolumes(Channel& program, std::string_view bytes, const std::string& name) {
  const std::vector<VectorVolume> volumes = vectorVolumesFromBytes(bytes, name);
  program.send(ReaderAnswer::Result);
  program.send(static_cast<std::uint64_t>(volumes.size()));
  for (const VectorVolume& volume : volumes) {
    program.sendText(std::string_view(volume.name).substr(0, kLongestText));
    program.send(&volume.centre, sizeof volume.centre);
    program.send(&volume.size, sizeof volume.size);
    program.send(volume.grid.counts());
    program.send(&volume.grid.at(0, 0, 0), volume.grid.size() * sizeof(Vec3));
  }
}

void perform(Channel& program) {
  const auto task = program.receive<ReaderTask>();
  const std::string name = program.receiveText(kLongestText);
  const MappedFile file(program.receiveFile());
  switch (task) {
    case ReaderTask::Picture:
      return sendPicture(program, file.bytes(), name);
    case ReaderTask::Mesh:
      return sendMesh(program, file.bytes(), name);
    case ReaderTask::Volumes:
      return sendVolumes(program, file.bytes(), name);
  }
}

void refuse(Channel& program, const Error& error) {
  program.send(ReaderAnswer::Refused);
  for (const std::string* text : {&error.place(), &error.problem(), &error.remedy()})
    program.sendText(std::string_view(*text).substr(0, kLongestText));
}

}  // namespace

void prepareToRead() {
  // A reader starts no threads.
  OIIO::attribute("threads", 1);
  OIIO::attribute("exr_threads", -1);
  prepareVolumes();
}

void readForOthers(Channel& program) {
  const tbb::global_control oneThread(tbb::global_control::max_allowed_parallelism, 1);
  while (true) {
    try {
      perform(program);
    } catch (const PeerGone&) {
      return;
    } catch (const Error& error) {
      refuse(program, error);
    } catch (const std::bad_alloc&) {
      program.send(ReaderAnswer::NoMemory);
    } catch (const std::exception& error) {
      refuse(program, Error(ErrorKind::Input, "", std::string("cannot be read (") + error.what() + ")",
                            "Export it again"));
    }
  }
}

}  // namespace comet
