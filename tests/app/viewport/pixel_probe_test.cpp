// The value under the pointer, told in the real window.
#include "viewport/pixel_probe.h"

#include "app/driver.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QPushButton>
#include <QRegularExpression>

namespace comet {
namespace {

using PixelProbeTest = test::WindowTest;

TEST_F(PixelProbeTest, TellsWhatIsUnderThePointer) {
  window_.showPage(MainWindow::Shape);
  // One large disc of half opacity in the middle of the picture.
  document().replace(
      test::with(test::oneBurst(),
                 {"scene.last_frame=3", "emitter.speed=0", "emitter.position=0,1,0", "emitter.size=4",
                  "emitter.hardness=100", "emitter.opacity=50", "emitter.color=[{\"color\":[0.5,0.25,0]}]",
                  "camera.position=0,1,6", "camera.aim=0,1,0"}),
      {});
  document().setFrame(2);
  document().select(scene().settings().id);
  Viewport& viewport = window_.viewport();
  test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), "Value under the pointer");
  const QPoint place = viewport.rect().center() + QPoint(23, 11);
  QTest::mouseMove(&viewport, place);
  const auto isTold = [&] { return viewport.valueText().contains("linear"); };
  ASSERT_TRUE(test::eventually(isTold));
  const QRegularExpression pattern(
      "R ([0-9.]+)  G ([0-9.]+)  B ([0-9.]+)  A ([0-9.]+).*straight ([0-9.]+)  ([0-9.]+).*on screen (\\d+)");
  const auto match = pattern.match(viewport.valueText());
  ASSERT_TRUE(match.hasMatch()) << viewport.valueText().toStdString();
  const double red = match.captured(1).toDouble(), alpha = match.captured(4).toDouble();
  EXPECT_NEAR(alpha, 0.5, 0.02);
  EXPECT_NEAR(red, 0.25, 0.02);
  EXPECT_NEAR(match.captured(5).toDouble(), 0.5, 0.02);
  EXPECT_NEAR(match.captured(6).toDouble(), 0.25, 0.02);
  EXPECT_EQ(match.captured(7).toInt(), viewport.picture().pixelColor(place).red());
  QTest::mouseMove(&viewport, {3, 3});
  EXPECT_TRUE(test::eventually([&] { return viewport.valueText().contains("A 0.000"); }));
  // An edit makes it another picture, and another value.
  document().edit(test::with(scene(), {"emitter.opacity=100"}), "opaque");
  QTest::mouseMove(&viewport, place);
  EXPECT_TRUE(test::eventually([&] { return viewport.valueText().contains("A 1.000"); }));
}

}  // namespace
}  // namespace comet
