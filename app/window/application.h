// Starts the desktop application: reads the command line, opens the window and runs until it is closed.
#pragma once

#include "readers/file_reader.h"

#include <functional>

class QApplication;

namespace comet {

class MainWindow;

// Runs the application with the arguments that `application` was made with and returns its exit code. `files`
// has to be made before the application, which starts threads.
// `started` is called once with the window, after it has been shown. Call it on the main thread.
int runApplication(QApplication& application, FileReaderPtr files,
                   const std::function<void(MainWindow&)>& started = {});

}  // namespace comet
