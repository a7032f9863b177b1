// Everything that decides how the application looks: colours, sizes, font, style sheet, marks.
//
// No panel sets a colour of its own; it takes one from here by what it means.
#pragma once

#include <QColor>
#include <QFont>
#include <QIcon>
#include <QString>
#include <QVariant>

class QApplication;
class QWidget;

namespace comet::theme {

// Grounds, from the deepest to the most raised.
inline const QColor kGround{0x1B, 0x21, 0x24};
inline const QColor kPanel{0x23, 0x2B, 0x2E};
inline const QColor kRaised{0x2C, 0x36, 0x39};
inline const QColor kField{0x18, 0x1D, 0x20};
inline const QColor kLine{0x3B, 0x47, 0x4A};
// Neutral, right around pictures, so that their colours can be judged.
inline const QColor kNeutral{0x1E, 0x1E, 0x1E};
inline const QColor kCheckerLight{0x3A, 0x3A, 0x3A};
inline const QColor kCheckerDark{0x2E, 0x2E, 0x2E};

inline const QColor kText{0xDD, 0xD7, 0xCC};
inline const QColor kQuietText{0xA6, 0xA3, 0x9A};
inline const QColor kAccent{0xD9, 0x92, 0x4A};   // selected, running
inline const QColor kWell{0x8F, 0xB3, 0x7A};     // simulated, in order
inline const QColor kTrouble{0xD9, 0x75, 0x66};  // needs attention

// Axes of gizmos: told apart by letter as well.
inline const QColor kAxis[3] = {{0xD0, 0x84, 0x5E}, {0x9C, 0xB8, 0x6E}, {0x74, 0x9F, 0xB8}};

// Things that are told apart by colour and name: light enough to be read on any ground here.
constexpr int kSeriesCount = 6;
inline const QColor kSeries[kSeriesCount] = {{0xE0, 0xA9, 0x6A}, {0x9C, 0xC4, 0x86}, {0x86, 0xB7, 0xD2},
                                             {0xD6, 0x8F, 0xA0}, {0xD9, 0xD0, 0x7E}, {0xB3, 0x9D, 0xD6}};

constexpr int kRowHeight = 24;
constexpr int kLabelWidth = 106;  // of the inspector's rows
constexpr int kFieldsIndent = kLabelWidth + 4;
constexpr int kGap = 6;
constexpr int kRadius = 3;
// How near to the middle of a grip the pointer takes it, in pixels.
constexpr double kGripReach = 8;

// Sets font, palette and style sheet for the whole application.
void apply(QApplication& application);

// A font of the application's family; figures are all of one width.
QFont font(int pixelSize = 12, bool bold = false);

// A mark of the set in marks/, drawn in a colour.
QIcon mark(const QString& name, const QColor& color = kText);
QPixmap markPixmap(const QString& name, int size, const QColor& color, qreal ratio = 1);
bool hasMark(const QString& name);

QColor withAlpha(QColor color, int alpha);

// Sets a property that the style sheet asks for, and dresses the widget by it.
void setState(QWidget& widget, const char* property, const QVariant& value);

}  // namespace comet::theme
