// Benchmarks that are run for each demo.
#pragma once

#include "demos.h"

#include <benchmark/benchmark.h>
#include <string>

namespace comet::benchmarks {

// Registers `run(state, demo)` as NAME/DEMO. Before main runs, as the macro does it for one: initialise a
// constant with it.
template <typename Run>
bool registerForEachDemo(const std::string& name, const Run& run) {
  for (const Demo& demo : demos())
    benchmark::RegisterBenchmark((name + "/" + std::string(demo.name)).c_str(), run, std::string(demo.name))
        ->Iterations(1);
  return true;
}

}  // namespace comet::benchmarks
