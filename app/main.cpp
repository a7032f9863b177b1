// tawny-comet: the desktop application.
#include "window/application.h"

#include <QApplication>

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  return comet::runApplication(application);
}
