#include "window/application.h"

#include "theme/theme.h"
#include "window/main_window.h"
#include "window/start_options.h"

#include <QApplication>
#include <QTimer>
#include <csignal>
#include <string>
#include <utility>
#include <vector>

namespace comet {

int runApplication(QApplication& application, FileReaderPtr files,
                   const std::function<void(MainWindow&)>& started) {
  // A file that would be larger than allowed is then an error like any other.
  std::signal(SIGXFSZ, SIG_IGN);
  QApplication::setApplicationName("Tawny Comet");
  QApplication::setOrganizationName("Tawny Comet");
  QApplication::setApplicationVersion(COMET_VERSION);
  QGuiApplication::setDesktopFileName("tawny-comet");
  std::vector<std::string> arguments;
  for (const QString& argument : QApplication::arguments().mid(1))
    arguments.push_back(argument.toStdString());
  StartOptions options;
  if (const auto code = readStartOptions(arguments, UnknownArguments::Refused, options)) return *code;

  theme::apply(application);
  MainWindow window(std::move(files));
  window.show();
  if (started) started(window);
  // With the window there: there may be something to ask.
  QTimer::singleShot(0, &window, [&] {
    if (!options.demo.empty()) window.openDemo(QString::fromStdString(options.demo));
    if (!options.scene.empty()) window.openFile(QString::fromStdString(options.scene));
    window.tellOfRecovery();
  });
  return QApplication::exec();
}

}  // namespace comet
