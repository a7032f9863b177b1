// tawny-comet: the desktop application.
#include "window/application.h"

#include <QApplication>
#include <memory>

int main(int argc, char** argv) {
  const auto files = std::make_shared<const comet::FileReader>();
  QApplication application(argc, argv);
  return comet::runApplication(application, files);
}
