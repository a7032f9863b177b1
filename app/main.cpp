// tawny-comet: the desktop application.
#include "window/application.h"

#include <QApplication>
#include <csignal>
#include <memory>

int main(int argc, char** argv) {
  // A file that would be larger than allowed is then an error like any other.
  std::signal(SIGXFSZ, SIG_IGN);
  const auto files = std::make_shared<const comet::FileReader>();
  QApplication application(argc, argv);
  return comet::runApplication(application, files);
}
