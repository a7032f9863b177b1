// Files that belong together and replace others together, such as the sheets of a flipbook.
#pragma once

#include "base/error.h"
#include "base/file_destination.h"

#include <filesystem>
#include <string>
#include <vector>

namespace comet {

// They are written aside, in a folder within their own, and given their names once all are there. The last
// that was added speaks for the others: it goes first and comes back last, so that where it is, the set is
// whole, even after the program was killed in between. One thread at a time.
class FileSet {
 public:
  // Also removes what a program that was killed has left in the folder. Throws Error(Write) if nothing can be
  // written into it.
  explicit FileSet(std::filesystem::path folder);
  // Removes all that was not kept.
  ~FileSet();
  FileSet(const FileSet&) = delete;
  FileSet& operator=(const FileSet&) = delete;

  // Where to write the file that is to have this name in the folder. Throws Error(Write) if the file of that
  // name is write-protected.
  std::filesystem::path add(const std::string& name);

  // Calls what writes some of them; what it throws names the files as they will be named. May be called from
  // several threads.
  template <typename Write>
  void write(const Write& write) const {
    try {
      write();
    } catch (const Error& error) {
      throw seenOutside(error);
    }
  }

  // Gives all their names; returns their paths in the order in which they were added. Throws Error(Write): as
  // long as all can be stored, before anything was replaced.
  std::vector<std::filesystem::path> keep();

 private:
  struct Member {
    std::filesystem::path path;
    FileDestination destination;
    std::filesystem::path staged;
  };

  Error seenOutside(const Error& error) const;

  std::filesystem::path folder_, aside_;
  int lock_ = -1;  // of the folder aside; while it is held, nobody takes that for abandoned
  std::vector<Member> members_;
};

// Removes files and folders that a program that was killed has left behind when it wrote into the folder.
// What others are still writing stays.
void removeAbandonedFiles(const std::filesystem::path& folder);

// Marks what was just made as being written. False if it was taken for abandoned and removed just before:
// make it again.
bool lockUnfinished(int descriptor, const std::filesystem::path& path);

}  // namespace comet
