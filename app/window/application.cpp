#include "window/application.h"

#include "theme/theme.h"
#include "window/main_window.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QTimer>
#include <csignal>
#include <utility>

namespace comet {

int runApplication(QApplication& application, FileReaderPtr files,
                   const std::function<void(MainWindow&)>& started) {
  // A file that would be larger than allowed is then an error like any other.
  std::signal(SIGXFSZ, SIG_IGN);
  QApplication::setApplicationName("Tawny Comet");
  QApplication::setOrganizationName("Tawny Comet");
  QApplication::setApplicationVersion(COMET_VERSION);
  QGuiApplication::setDesktopFileName("tawny-comet");
  QCommandLineParser parser;
  parser.setApplicationDescription(QObject::tr("Particle and smoke effects for games"));
  parser.addHelpOption();
  parser.addVersionOption();
  parser.addPositionalArgument("SCENE", QObject::tr("a scene file to open"), "[SCENE]");
  const QCommandLineOption demo("demo", QObject::tr("open a demo and play it"), "NAME");
  parser.addOption(demo);
  parser.process(application);

  theme::apply(application);
  MainWindow window(std::move(files));
  window.show();
  if (started) started(window);
  // With the window there: there may be something to ask.
  QTimer::singleShot(0, &window, [&] {
    if (parser.isSet(demo)) window.openDemo(parser.value(demo));
    if (!parser.positionalArguments().isEmpty()) window.openFile(parser.positionalArguments().front());
    window.tellOfRecovery();
  });
  return QApplication::exec();
}

}  // namespace comet
