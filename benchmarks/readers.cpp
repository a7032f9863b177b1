// What it costs to read files in a process of their own: against reading them in the program.
#include "readers.h"

#include "base/file.h"
#include "io/picture_file.h"
#include "ratio.h"

#include <algorithm>
#include <benchmark/benchmark.h>
#include <filesystem>
#include <unistd.h>

namespace comet::benchmarks {
namespace {

// A picture of 1920 × 1080 that does not compress to nothing, on the disk for as long as this lives.
class PictureOnDisk {
 public:
  PictureOnDisk()
      : path_(std::filesystem::temp_directory_path() /
              ("comet-benchmark-" + std::to_string(::getpid()) + ".png")) {
    Picture picture(1920, 1080);
    for (int y = 0; y < picture.height(); ++y)
      for (int x = 0; x < picture.width(); ++x)
        picture.at(x, y) = Vec4(static_cast<float>((x * 7 + y * 13) % 251) / 251,
                                static_cast<float>(y % 97) / 97, static_cast<float>(x % 31) / 31, 1);
    writePicture(path_, picture, PictureFormat::Png8, PictureChannels::Rgba);
  }
  ~PictureOnDisk() { std::filesystem::remove(path_); }
  PictureOnDisk(const PictureOnDisk&) = delete;
  PictureOnDisk& operator=(const PictureOnDisk&) = delete;

  Picture readHere() const { return pictureFromBytes(readFile(path_, std::size_t{1} << 30), path_.string()); }
  Picture readApart(const FileReader& files) const { return files.picture(path_); }

 private:
  std::filesystem::path path_;
};

void pictureInAReader(benchmark::State& state) {
  const PictureOnDisk picture;
  double ratio = 0;
  for (auto _ : state) ratio = bestRatio([&] { picture.readApart(reader()); }, [&] { picture.readHere(); });
  report(state, ratio, 1.1);
}

// Of a program that has just started, in seconds: its process, its first reader and a small file.
void firstFile(benchmark::State& state) {
  const auto path = std::filesystem::temp_directory_path() /
                    ("comet-benchmark-first-" + std::to_string(::getpid()) + ".png");
  writePicture(path, Picture(8, 8), PictureFormat::Png8, PictureChannels::Rgba);
  double seconds = 1;
  for (auto _ : state)
    for (int i = 0; i < 5; ++i)
      seconds = std::min(seconds, secondsFor([&] { (void)FileReader().picture(path); }));
  std::filesystem::remove(path);
  report(state, seconds, 0.02);
}

BENCHMARK(firstFile)->Iterations(1);
BENCHMARK(pictureInAReader)->Iterations(1);

}  // namespace

const FileReader& reader() {
  static const FileReader shared;
  return shared;
}

}  // namespace comet::benchmarks
