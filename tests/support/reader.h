// The reader of files that tests share.
#pragma once

#include "readers/file_reader.h"

namespace comet::test {

// Made when it is first asked for: once in main, before there are threads.
inline const FileReaderPtr& reader() {
  static const FileReaderPtr shared = std::make_shared<const FileReader>();
  return shared;
}

}  // namespace comet::test
