#include "window/guide_view.h"

#include <QFile>
#include <QHBoxLayout>
#include <QImage>
#include <QPushButton>
#include <QRegularExpression>
#include <QTextBrowser>
#include <QVBoxLayout>

// Outside of any namespace, as the library asks.
static void nameGuide() { Q_INIT_RESOURCE(guide); }

namespace comet {
namespace {

const QString kFolder = QStringLiteral(":/guide/");
const QString kContents = QStringLiteral("README.md");
constexpr int kOpeningLength = 600;
constexpr int kPictureWidth = 680;

QString read(const QString& file) {
  QFile page(kFolder + file);
  return page.open(QIODevice::ReadOnly) ? QString::fromUtf8(page.readAll()) : QString();
}

std::vector<GuidePage> readPages() {
  nameGuide();
  std::vector<GuidePage> pages;
  static const QRegularExpression kLink("\\]\\(([a-z-]+\\.md)\\)");
  for (auto link = kLink.globalMatch(read(kContents)); link.hasNext();) {
    const QString file = link.next().captured(1), page = read(file);
    const qsizetype end = page.indexOf('\n');
    pages.push_back({file, page.left(end).remove(0, 2), page.mid(end).left(kOpeningLength).simplified()});
  }
  return pages;
}

// Pictures as wide as the page at most.
class GuideText : public QTextBrowser {
 protected:
  QVariant loadResource(int type, const QUrl& name) override {
    const QVariant resource = QTextBrowser::loadResource(type, name);
    if (type != QTextDocument::ImageResource) return resource;
    const QImage picture = QImage::fromData(resource.toByteArray());
    return picture.width() > kPictureWidth ? picture.scaledToWidth(kPictureWidth, Qt::SmoothTransformation)
                                           : picture;
  }
};

}  // namespace

const std::vector<GuidePage>& guidePages() {
  static const std::vector<GuidePage> pages = readPages();
  return pages;
}

GuideView::GuideView(QWidget* parent) : QDialog(parent), text_(new GuideText) {
  nameGuide();
  setObjectName("guide");
  setWindowTitle(tr("Guide"));
  resize(760, 640);
  auto* column = new QVBoxLayout(this);
  auto* row = new QHBoxLayout;
  auto* contents = new QPushButton(tr("Contents"));
  contents->setObjectName("guide_contents");
  contents->setAutoDefault(false);
  connect(contents, &QPushButton::clicked, this, [this] { open(kContents); });
  auto* back = new QPushButton(tr("Back"));
  back->setObjectName("guide_back");
  back->setAutoDefault(false);
  back->setEnabled(false);
  connect(back, &QPushButton::clicked, text_, &QTextBrowser::backward);
  connect(text_, &QTextBrowser::backwardAvailable, back, &QPushButton::setEnabled);
  row->addWidget(contents);
  row->addWidget(back);
  row->addStretch(1);
  column->addLayout(row);
  text_->setObjectName("guide_text");
  text_->setOpenExternalLinks(true);
  text_->setFrameShape(QFrame::NoFrame);
  text_->document()->setDocumentMargin(16);
  column->addWidget(text_);
}

void GuideView::open(const QString& file, const QString& words) {
  text_->setSource(QUrl("qrc" + kFolder + file), QTextDocument::MarkdownResource);
  show();
  // In a sentence a control's name may begin small.
  const QTextDocument::FindFlags whole = QTextDocument::FindWholeWords;
  if (!words.isEmpty() && !text_->find(words, whole | QTextDocument::FindCaseSensitively))
    text_->find(words, whole);
  raise();
  activateWindow();
  text_->setFocus();
}

}  // namespace comet
