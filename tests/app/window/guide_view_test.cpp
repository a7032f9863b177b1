// The guide inside the application.
#include "window/guide_view.h"

#include "app/driver.h"

#include <QDir>
#include <QFile>
#include <QRegularExpression>
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

// Every link of the guide leads to a page that is there.
TEST(Guide, LeadsNowhereElse) {
  static const QRegularExpression kLink("\\]\\(([^)#:]+)");
  for (const GuidePage& page : guidePages()) {
    QFile file(":/guide/" + page.file);
    ASSERT_TRUE(file.open(QIODevice::ReadOnly)) << page.file.toStdString();
    for (auto link = kLink.globalMatch(QString::fromUtf8(file.readAll())); link.hasNext();) {
      const QString target = QDir::cleanPath(":/guide/" + link.next().captured(1));
      EXPECT_TRUE(QFile::exists(target)) << page.file.toStdString() << " " << target.toStdString();
    }
  }
}

}  // namespace
}  // namespace comet
