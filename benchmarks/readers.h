// The reader that benchmarks share.
#pragma once

#include "readers/file_reader.h"

namespace comet::benchmarks {

// Made when it is first asked for: in main, before there are threads.
const FileReader& reader();

}  // namespace comet::benchmarks
