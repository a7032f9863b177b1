// Which page of the guide tells of what is under the hand.
#pragma once

#include "params/schema.h"

#include <QString>

class QWidget;

namespace comet {

class Document;

struct GuideTopic {
  QString file;   // in the guide's folder; empty for none
  QString words;  // that are looked for on the page; may be empty
};

// The page of a kind's section.
QString guidePageOf(const KindSpec& kind, const std::string& section);

// Of a control, or of the panel that it is in. The inspector's rows belong to the item that is selected.
GuideTopic guideTopicOf(const QWidget* widget, const Document& document);

}  // namespace comet
