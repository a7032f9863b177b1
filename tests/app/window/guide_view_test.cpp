// The guide inside the application.
#include "window/guide_view.h"

#include "app/driver.h"

#include <QTextBrowser>
#include <QTextDocument>

namespace comet {
namespace {

TEST(Guide, HasEveryPageWithItsTitle) {
  ASSERT_GT(guidePages().size(), 15U);
  for (const GuidePage& page : guidePages()) {
    EXPECT_FALSE(page.title.isEmpty() || page.title.startsWith('#')) << page.file.toStdString();
    EXPECT_FALSE(page.opening.isEmpty()) << page.file.toStdString();
  }
}

TEST(Guide, ShowsAPageAndItsPicturesAndGoesBack) {
  GuideView guide(nullptr);
  guide.open("bake.md");
  auto* text = guide.findChild<QTextBrowser*>("guide_text");
  EXPECT_TRUE(text->toPlainText().contains("bake check"));
  EXPECT_FALSE(
      text->document()->resource(QTextDocument::ImageResource, QUrl("../screenshots/bake.png")).isNull());
  text->setSource(QUrl("trails.md"), QTextDocument::MarkdownResource);
  EXPECT_TRUE(text->toPlainText().contains("Ribbon"));
  text->backward();
  EXPECT_TRUE(text->toPlainText().contains("bake check"));
}

}  // namespace
}  // namespace comet
