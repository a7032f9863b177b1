#include "viewport/particle_overlay.h"

#include "app/driver.h"
#include "support/scenes.h"
#include "viewport/viewport.h"

#include <QPushButton>

namespace comet {
namespace {

class ParticleOverlayTest : public test::WindowTest {
 protected:
  void SetUp() override {
    WindowTest::SetUp();
    // One particle in the middle of a view of 10 units, going to the right; nothing of it is drawn otherwise.
    document().replace(
        test::with(test::oneBurst(),
                   {"camera.projection=orthographic", "camera.height=10", "camera.position=0,0,10",
                    "camera.aim=0,0,0", "emitter.direction=1,0,0", "emitter.speed=20", "emitter.opacity=0"}),
        {});
    document().setFrame(1);
    window_.showPage(MainWindow::Shape);
    viewport_ = test::child<Viewport>(window_, "viewport");
    ASSERT_TRUE(test::eventually([this] { return viewport_->shownFrame() == 1; }));
  }
  void choose(const QString& entry) {
    test::chooseFromMenu(test::child<QPushButton>(window_, "overlay"), entry);
  }
  QColor at(double unitsRight) {
    QApplication::processEvents();
    const QImage image = viewport_->grab().toImage();
    const QPointF middle = QRectF(viewport_->rect()).center();
    const double x = middle.x() + unitsRight * viewport_->height() / 10.0;
    return image.pixelColor(static_cast<int>(x), static_cast<int>(middle.y()));
  }

  Viewport* viewport_ = nullptr;
};

TEST_F(ParticleOverlayTest, VelocityLinesReachAsFarAsATenthOfASecond) {
  document().select(scene().settings().id);  // without handles over it
  const auto greenness = [this](double x) { return at(x).green() - at(x).red(); };
  const int before = greenness(1.5);
  choose("Velocity lines");
  EXPECT_GT(greenness(1.5), before + 10);
  EXPECT_LT(greenness(2.3), before + 10) << "20 units a second come 2 units far";
  choose("Velocity lines");
  EXPECT_EQ(greenness(1.5), before);
}

TEST_F(ParticleOverlayTest, ATintColoursEachParticle) {
  document().select(scene().settings().id);
  choose("Colour by speed");
  // A single one lies in the middle of its own range.
  EXPECT_TRUE(test::eventually([this] {
    const QColor seen = at(0);
    return std::abs(seen.red() - tintColor(0.5).red()) < 12 &&
           std::abs(seen.blue() - tintColor(0.5).blue()) < 12;
  }));
}

TEST(TintColor, GetsLighterAllTheWay) {
  const auto lightness = [](double fraction) {
    const QColor color = tintColor(fraction);
    return 0.2126 * color.redF() + 0.7152 * color.greenF() + 0.0722 * color.blueF();
  };
  for (double fraction = 0; fraction < 0.99; fraction += 0.02)
    EXPECT_GT(lightness(fraction + 0.02), lightness(fraction));
}

}  // namespace
}  // namespace comet
