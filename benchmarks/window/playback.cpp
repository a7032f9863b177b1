// Playback of each demo at 1920 × 1080 in the real window, by the pictures that come to the screen, once all
// are drawn ahead; and how long the screen takes to follow an edit to looks.
#include "catalog.h"
#include "demos.h"
#include "each_demo.h"
#include "scene/override.h"
#include "support/reader.h"
#include "viewport/viewport.h"
#include "window/main_window.h"

#include <QAbstractButton>
#include <QApplication>
#include <QElapsedTimer>
#include <QEventLoop>
#include <QTimer>
#include <algorithm>
#include <benchmark/benchmark.h>
#include <functional>
#include <stdexcept>
#include <string>
#include <vector>

namespace comet::benchmarks {
namespace {

constexpr QSize kViewport{1920, 1080};

// Handles events until the condition holds, and sleeps between them, as the program does.
void waitFor(const std::function<bool()>& condition, double seconds) {
  QElapsedTimer clock;
  clock.start();
  QEventLoop loop;
  QTimer look;
  QObject::connect(&look, &QTimer::timeout, &loop, [&] {
    if (condition() || static_cast<double>(clock.elapsed()) > 1e3 * seconds) loop.quit();
  });
  look.start(20);
  loop.exec();
  if (!condition()) throw std::runtime_error("waited in vain");
}

void waitOut(double seconds) {
  QElapsedTimer clock;
  clock.start();
  waitFor([&] { return static_cast<double>(clock.elapsed()) >= 1e3 * seconds; }, 2 * seconds + 1);
}

// Counts a widget's frames as they are painted.
class PaintedFrames : public QObject {
 public:
  explicit PaintedFrames(Viewport& viewport) : viewport_(viewport) { viewport.installEventFilter(this); }

  int frames = 0;   // painted one after the other
  int reduced = 0;  // of them, with fewer pixels

 protected:
  bool eventFilter(QObject* object, QEvent* event) override {
    if (event->type() == QEvent::Paint && viewport_.shownFrame() != last_) {
      last_ = viewport_.shownFrame();
      ++frames;
      reduced += viewport_.reduction() > 1 ? 1 : 0;
    }
    return QObject::eventFilter(object, event);
  }

 private:
  Viewport& viewport_;
  int last_ = 0;
};

// The window with a viewport of just that size.
class Window {
 public:
  Window() : window_(test::reader()) {
    window_.show();
    window_.showPage(MainWindow::Shape);
    for (int i = 0; i < 10 && window_.viewport().size() != kViewport; ++i) {
      window_.resize(window_.size() + kViewport - window_.viewport().size());
      waitOut(0.1);
    }
    if (window_.viewport().size() != kViewport) throw std::runtime_error("the screen has no room");
  }

  MainWindow* operator->() { return &window_; }

  void play(bool plays) {
    if (window_.isPlaying() != plays) window_.findChild<QAbstractButton*>("play")->click();
  }
  void waitUntilDrawn() {
    const FrameRange range = frameRange(window_.document().scene());
    PictureRun& pictures = window_.pictureRun();
    waitFor(
        [&] {
          if (pictures.isFull()) return true;
          for (int frame = range.first; frame <= range.last; ++frame)
            if (!pictures.isDrawn(frame)) return false;
          return true;
        },
        1800);
  }

 private:
  MainWindow window_;
};

// Of the scene's rate, how much comes to the screen.
void playDemo(benchmark::State& state, const std::string& name) {
  constexpr double kSeconds = 4;
  for (auto _ : state) {
    Window window;
    window->openDemo(QString::fromStdString(name));
    window.play(false);
    window.waitUntilDrawn();
    window.play(true);
    // The rate is measured over a second.
    waitOut(1);
    PaintedFrames painted(window->viewport());
    waitOut(kSeconds);
    window.play(false);
    state.counters["shown_fps"] = painted.frames / kSeconds;
    state.counters["scene_fps"] = frameRate(window->document().scene());
    state.counters["reduced"] = painted.reduced;
    state.counters["kept_MB"] = static_cast<double>(window->pictureRun().cache().bytes() >> 20U);
    state.counters["budget_MB"] = static_cast<double>(window->pictureRun().cache().budget() >> 20U);
  }
}

// 200 000 particles over the whole picture, whose brightness is edited; the best of several times. Beside
// it, what drawing the picture in full took.
void editToLooks(benchmark::State& state) {
  Scene scene = startingScene();
  for (const char* setting :
       {"scene.last_frame=24", "emitter.rate=0", R"(emitter.bursts=[{"frame":1,"count":200000}])",
        "emitter.lifetime_mode=endless", "emitter.speed=0", "emitter.shape=box", "emitter.extent=17.7,10,1",
        "emitter.size=0.07", "camera.projection=orthographic", "camera.height=10", "camera.position=0,0,10",
        "camera.aim=0,0,0"})
    scene = withOverride(scene, setting);
  for (auto _ : state) {
    Window window;
    window->document().replace(scene, {});
    window->viewport().look(ViewKind::Camera);
    const ItemId emitter = scene.findByName("emitter")->id;
    double toFirst = 1e9, toFull = 1e9, drawing = 1e9;
    int reduction = 1;
    for (int edit = 1; edit <= 8; ++edit) {
      window.waitUntilDrawn();
      QElapsedTimer clock;
      clock.start();
      double first = 0, full = 0;
      const QObject context;
      QObject::connect(&window->viewport(), &Viewport::shown, &context, [&] {
        const double now = 1e-6 * static_cast<double>(clock.nsecsElapsed());
        if (first <= 0) {
          first = now;
          reduction = window->viewport().reduction();
        }
        if (window->viewport().reduction() > 1 || full > 0) return;
        full = now;
        drawing = std::min(drawing, window->viewport().drawMilliseconds().value_or(1e9));
      });
      window->document().setBase(emitter, "brightness", 1 + 0.1 * edit);
      waitFor([&] { return full > 0; }, 60);
      toFirst = std::min(toFirst, first);
      toFull = std::min(toFull, full);
    }
    state.counters["ms_to_first"] = toFirst;
    state.counters["fewer_pixels"] = reduction;
    state.counters["ms_to_full"] = toFull;
    state.counters["ms_drawing"] = drawing;
  }
}
BENCHMARK(editToLooks)->Iterations(1);

const bool kAreRegistered = registerForEachDemo("playDemo", playDemo);

}  // namespace
}  // namespace comet::benchmarks
