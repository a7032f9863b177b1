// tawny-comet: the desktop application.
#include "theme/theme.h"
#include "window/main_window.h"

#include <QApplication>
#include <QCommandLineParser>

int main(int argc, char** argv) {
  QApplication application(argc, argv);
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
  const QCommandLineOption play("play", QObject::tr("start playing at once"));
  parser.addOptions({demo, play});
  parser.process(application);

  comet::theme::apply(application);
  comet::MainWindow window;
  if (parser.isSet(demo)) window.openDemo(parser.value(demo));
  if (!parser.positionalArguments().isEmpty()) window.openFile(parser.positionalArguments().front());
  window.show();
  if (parser.isSet(play)) window.play();
  return QApplication::exec();
}
