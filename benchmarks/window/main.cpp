// Benchmarks of the real window: run them where there is a screen with room for a viewport of 1920 × 1080.
#include "support/reader.h"
#include "theme/theme.h"

#include <QApplication>
#include <QTemporaryDir>
#include <benchmark/benchmark.h>

int main(int argc, char** argv) {
  // Neither the user's settings nor their caches.
  const QTemporaryDir home;
  for (const char* variable : {"XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"})
    qputenv(variable, home.path().toUtf8());
  comet::test::reader();
  QApplication application(argc, argv);
  comet::theme::apply(application);
  benchmark::Initialize(&argc, argv);
  if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 1;
  benchmark::RunSpecifiedBenchmarks();
}
