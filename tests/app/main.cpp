#include "support/reader.h"
#include "theme/theme.h"

#include <QApplication>
#include <QDir>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <gtest/gtest.h>

int main(int argc, char** argv) {
  comet::test::reader();
  ::testing::InitGoogleTest(&argc, argv);
  // No screen is needed, and no file of the user's is touched.
  if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
  QTemporaryDir home;
  for (const char* variable : {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME"})
    qputenv(variable, home.path().toUtf8());
  QApplication application(argc, argv);
  QApplication::setApplicationName("Tawny Comet Tests");
  QApplication::setOrganizationName("Tawny Comet Tests");
  comet::theme::apply(application);
  return RUN_ALL_TESTS();
}
