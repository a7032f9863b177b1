#include "bake/flipbook_file.h"
#include "bake/flipbook_player.h"
#include "bake/flipbook_texture.h"
#include "base/file.h"
#include "base/file_set.h"
#include "base/parallel.h"
#include "io/video_file.h"

#include <algorithm>
#include <atomic>
#include <exception>
#include <fmt/format.h>
#include <functional>
#include <thread>

namespace comet {
namespace {

namespace fs = std::filesystem;

// A file that is to be written.
struct FileTask {
  fs::path path;
  int steps = 1;  // that its progress has
  std::function<void(const fs::path&, const Progress&)> write;
};

void addTextures(const std::vector<FlipbookPart>& parts, const FlipbookLayout& layout, FileSet& files,
                 std::vector<FileTask>& tasks) {
  for (const FlipbookPart& part : parts)
    if (!part.textureFile.empty())
      tasks.push_back({files.add(part.textureFile), part.rows.steps(),
                       [&part, &layout](const fs::path& to, const Progress& progress) {
                         writeFileAtomically(to, ktx2Of(textureOf(part, layout, progress)));
                       }});
}

void addSheets(const std::vector<FlipbookPart>& parts, FileSet& files, std::vector<FileTask>& tasks) {
  for (const FlipbookPart& part : parts) {
    if (!isFloat(part.format)) {
      tasks.push_back(
          {files.add(part.file), part.rows.steps(), [&part](const fs::path& to, const Progress& progress) {
             writePicture(to, part.rows, part.format, part.channels, part.encoding, progress);
           }});
      continue;
    }
    // OpenEXR files hold all layers of a sheet, and are written with the first of them.
    std::vector<PicturePart> together;
    for (const FlipbookPart& other : parts)
      if (other.file == part.file)
        together.push_back({other.layer, other.channelNames, other.channels, other.rows});
    if (together.front().name != part.layer) continue;
    const int steps = static_cast<int>(together.size()) * part.rows.steps();
    tasks.push_back(
        {files.add(part.file), steps, [together, &part](const fs::path& to, const Progress& progress) {
           writePictureParts(to, together, part.format, progress);
         }});
  }
}

// Each cell as a picture of its own.
void addCells(const Flipbook& book, FileSet& files, std::vector<FileTask>& tasks) {
  const FlipbookLayout& layout = book.layout;
  for (std::size_t cell = 0; cell < layout.cells.size(); ++cell) {
    const std::string variant =
        layout.variants.size() > 1 ? fmt::format(".{:02}", layout.cells[cell].variant + 1) : "";
    tasks.push_back({files.add(fmt::format("{}{}.{:04}{}", layout.name, variant,
                                           cell % layout.cellsEach() + 1, extensionOf(layout.format))),
                     1, [&book, cell](const fs::path& to, const Progress& progress) {
                       const Picture stored =
                           withAlphaKind(cellOf(book.color, book.layout, cell), book.layout.alpha);
                       writePicture(to, rowsOf(stored), book.layout.format, book.layout.channels(),
                                    book.layout.colorEncoding(), progress);
                     }});
  }
}

void addVideo(const Flipbook& book, FileSet& files, std::vector<FileTask>& tasks) {
  const FlipbookLayout& layout = book.layout;
  const int frames = static_cast<int>(layout.cells.size());
  tasks.push_back({files.add(layout.name + std::string(extensionOf(*layout.video))), frames,
                   [&book, frames](const fs::path& to, const Progress& progress) {
                     const FlipbookLayout& shown = book.layout;
                     const auto frame = [&book](int cell) {
                       const auto index = static_cast<std::size_t>(cell);
                       return withAlphaKind(seenCell(book, index), AlphaKind::Straight);
                     };
                     writeVideo(to, {shown.cellWidth, shown.cellHeight, shown.framesPerSecond, frames, frame},
                                *shown.video, progress);
                   }});
}

// All at the same time. How far they are in all is told from the calling thread whenever it has done a step
// itself. Throws what the first of them in the list has thrown.
void perform(const std::vector<FileTask>& tasks, const Progress& progress) {
  int total = 0;
  for (const FileTask& task : tasks) total += task.steps;
  std::atomic<int> done{0};
  std::atomic<bool> hasFailed{false};
  std::vector<std::exception_ptr> failures(tasks.size());
  const std::thread::id caller = std::this_thread::get_id();
  const auto advance = [&](int, int) {
    const int now = ++done;
    if (std::this_thread::get_id() == caller) progress.step(std::min(now, total), total);
  };
  parallelFor(tasks.size(), [&](std::size_t i) {
    if (hasFailed) return;
    try {
      tasks[i].write(tasks[i].path, Progress(progress, advance));
    } catch (...) {
      failures[i] = std::current_exception();
      hasFailed = true;
    }
  });
  for (const std::exception_ptr& failure : failures)
    if (failure) std::rethrow_exception(failure);
}

}  // namespace

std::vector<fs::path> writeFlipbook(const Flipbook& book, const fs::path& folder, const Progress& progress) {
  makeFolder(folder);
  const FlipbookLayout& layout = book.layout;
  const std::vector<FlipbookPart> parts = flipbookParts(book, layout);
  FileSet files(folder);
  std::vector<FileTask> tasks;
  addSheets(parts, files, tasks);
  addTextures(parts, layout, files, tasks);
  if (layout.asSequence) addCells(book, files, tasks);
  if (layout.video) addVideo(book, files, tasks);
  if (layout.withPlayer)
    tasks.push_back({files.add(layout.name + ".html"), 3 * parts.front().rows.steps(),
                     [&book](const fs::path& to, const Progress& steps) {
                       writeFileAtomically(to, flipbookPlayer(book, steps));
                     }});
  const fs::path description = files.add(layout.name + ".json");
  files.write([&] {
    perform(tasks, progress);
    writeFileAtomically(description, describeFlipbook(book, layout));
  });
  return files.keep();
}

}  // namespace comet
