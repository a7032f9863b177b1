#include "window/driver.h"

#include <QElapsedTimer>
#include <QThread>
#include <csignal>

namespace comet::test {
namespace {

constexpr int kAnswerMilliseconds = 30000;
constexpr int kScrollTries = 60;

QPoint pointFrom(const nlohmann::json& json) { return {json.at(0).get<int>(), json.at(1).get<int>()}; }
QRect rectFrom(const nlohmann::json& json) {
  return {json.at(0).get<int>(), json.at(1).get<int>(), json.at(2).get<int>(), json.at(3).get<int>()};
}

}  // namespace

void WindowTest::start(const QStringList& arguments) {
  QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
  for (const char* variable :
       {"HOME", "XDG_CONFIG_HOME", "XDG_DATA_HOME", "XDG_CACHE_HOME", "XDG_RUNTIME_DIR"})
    environment.insert(variable, folder_.path());
  environment.insert("DISPLAY", desktop_.name());
  environment.insert("QT_QPA_PLATFORM", "xcb");
  const QString socket = folder_.filePath("reporter");
  environment.insert("COMET_REPORTER", socket);
  program_.setProcessEnvironment(environment);
  program_.setProcessChannelMode(QProcess::ForwardedChannels);
  program_.start(COMET_WINDOW_PROGRAM, arguments);
  ASSERT_TRUE(program_.waitForStarted());
  waitFor(
      [&] {
        socket_.connectToServer(socket);
        return socket_.waitForConnected(200);
      },
      "the program answers");
  waitFor([this] { return isShown("window"); }, "the window is shown");
}

void WindowTest::startNewScene() {
  start();
  click("start_new");
  waitFor([this] { return state()["page"] == 1 && state()["playing"] == true; }, "the new scene plays");
  click("play");
  waitFor([this] { return state()["playing"] == false; }, "playing stops");
}

void WindowTest::TearDown() {
  if (HasFailure()) {
    // What the screen showed says more than the message.
    QString name = ::testing::UnitTest::GetInstance()->current_test_info()->name();
    const QString path = QDir::temp().filePath(name.replace('/', '_') + ".png");
    desktop_.picture().save(path);
    std::cerr << "the screen when it failed: " << path.toStdString() << '\n';
  }
  end();
}

void WindowTest::end() {
  socket_.abort();
  if (program_.state() == QProcess::NotRunning) return;
  program_.kill();
  program_.waitForFinished();
  QFile::remove(folder_.filePath("reporter"));
}

WindowTest::Json WindowTest::ask(Json question) {
  socket_.write(QByteArray::fromStdString(question.dump() + "\n"));
  while (!socket_.canReadLine())
    if (!socket_.waitForReadyRead(kAnswerMilliseconds))
      throw std::runtime_error("the program does not answer " + question.dump());
  const Json answer = Json::parse(socket_.readLine().toStdString());
  if (answer.contains("problem")) throw std::runtime_error(answer["problem"].get<std::string>());
  return answer;
}

WindowTest::Json WindowTest::scene() {
  return Json::parse(ask({{"ask", "scene"}})["scene"].get<std::string>());
}

WindowTest::Json WindowTest::item(const std::string& name) {
  const Json all = scene();
  for (const Json& each : all["items"])
    if (each["name"] == name) return each;
  return nullptr;
}

WindowTest::Json WindowTest::param(const std::string& itemName, const std::string& name) {
  const Json found = item(itemName);
  return found.is_null() || !found["params"].contains(name) ? Json() : found["params"][name];
}

bool WindowTest::comesTrue(const std::function<bool()>& condition, int milliseconds) {
  QElapsedTimer clock;
  clock.start();
  while (!condition()) {
    if (clock.elapsed() > milliseconds) return false;
    QThread::msleep(15);
  }
  return true;
}

void WindowTest::waitFor(const std::function<bool()>& condition, const char* what) {
  if (!comesTrue(condition)) throw std::runtime_error(std::string("waited in vain until ") + what);
}

bool WindowTest::isShown(const std::string& name) {
  const Json found = widget(name);
  return found["exists"] == true && found["visible"] == true;
}

std::string WindowTest::textOf(const std::string& name) { return widget(name).value("text", std::string()); }

QRect WindowTest::rectOf(const std::string& name) {
  const Json found = widget(name);
  if (found["exists"] != true) throw std::runtime_error("there is no " + name);
  return rectFrom(found["rect"]);
}

QPoint WindowTest::middleOf(const std::string& name) {
  waitFor([&] { return isShown(name); }, (name + " is shown").c_str());
  QRect seen = rectFrom(widget(name)["seen"]);
  const QRect rect = rectOf(name);
  const int wanted = std::min(rect.height(), 20);
  if (seen.height() >= wanted) return seen.center();
  // Out of sight in a panel: the wheel brings it there, as a hand would.
  for (int i = 0; i < kScrollTries && seen.height() < wanted; ++i) {
    const QRect panel = rectOf("inspector");
    desktop_.move({panel.left() + 40, panel.center().y()});
    const auto wheel = rectOf(name).center().y() > panel.center().y() ? Desktop::WheelDown : Desktop::WheelUp;
    desktop_.press(wheel);
    desktop_.release(wheel);
    QThread::msleep(20);
    seen = rectFrom(widget(name)["seen"]);
  }
  if (seen.height() < 4) throw std::runtime_error(name + " cannot be scrolled into sight");
  return seen.center();
}

QPoint WindowTest::placeOf(Json question) {
  question["ask"] = "place";
  return pointFrom(ask(question)["at"]);
}

void WindowTest::typeInto(const std::string& field, const QString& text) {
  desktop_.doubleClick(middleOf(field));
  desktop_.type(text);
  desktop_.key("Return");
}

void WindowTest::chooseInMenu(const std::string& entry) {
  const auto find = [&]() -> std::optional<QPoint> {
    const Json now = state();
    for (const Json& each : now["menu"])
      if (each["text"] == entry) return pointFrom(each["at"]);
    return std::nullopt;
  };
  waitFor([&] { return find().has_value(); }, ("a menu offers " + entry).c_str());
  desktop_.click(*find());
}

void WindowTest::choose(const std::string& box, const QString& entry) {
  click(box);
  desktop_.type(entry);
  desktop_.key("Return");
}

void WindowTest::addInfluence(const QString& name) {
  click("add_influence");
  waitFor([this] { return isShown("influence_search"); }, "influences are offered");
  desktop_.type(name);
  desktop_.key("Return");
}

void WindowTest::whileItIsBusy(const std::function<void()>& act) {
  const auto process = static_cast<pid_t>(processId());
  ::kill(process, SIGSTOP);
  act();
  ::kill(process, SIGCONT);
}

void WindowTest::expectOneUndoStep(const std::function<void()>& act, const char* what) {
  const Json before = scene();
  act();
  EXPECT_TRUE(comesTrue([&] { return scene() != before; })) << what << " changed nothing";
  undo();
  EXPECT_TRUE(comesTrue([&] { return scene() == before; }))
      << what << ": one step of undo does not bring back what was there";
}

}  // namespace comet::test
