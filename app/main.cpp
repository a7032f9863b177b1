// tawny-comet: the desktop application.
#include "window/application.h"
#include "window/start_options.h"

#include <QApplication>
#include <cstdio>
#include <cstdlib>
#include <memory>
#include <string>
#include <vector>

namespace {

// The toolkit ends the program where it finds no display, with advice to whoever develops it.
void tellOfNoDisplay(QtMsgType type, const QMessageLogContext&, const QString& message) {
  if (type != QtFatalMsg) return;
  std::fprintf(
      stderr,
      "tawny-comet: no window can be opened: no display can be reached. Start it in a desktop session, or "
      "set DISPLAY or WAYLAND_DISPLAY; comet bakes and renders without a display (comet --help).\n%s\n",
      qPrintable(message.section('\n', 0, 0)));
  std::_Exit(EXIT_FAILURE);
}

}  // namespace

int main(int argc, char** argv) {
  // Help and the like are there without a display.
  comet::StartOptions options;
  const std::vector<std::string> arguments(argv + 1, argv + argc);
  if (const auto code = comet::readStartOptions(arguments, comet::UnknownArguments::Pass, options))
    return *code;

  const auto files = std::make_shared<const comet::FileReader>();
  const QtMessageHandler usual = qInstallMessageHandler(tellOfNoDisplay);
  QApplication application(argc, argv);
  qInstallMessageHandler(usual);
  return comet::runApplication(application, files);
}
