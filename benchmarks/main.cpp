#include "readers.h"

#include <benchmark/benchmark.h>

int main(int argc, char** argv) {
  comet::benchmarks::reader();
  benchmark::Initialize(&argc, argv);
  if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 1;
  benchmark::RunSpecifiedBenchmarks();
}
