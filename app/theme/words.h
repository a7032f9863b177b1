// Words for functions that belong to no window class.
#pragma once

#include <QCoreApplication>
#include <QString>
#include <string>

namespace comet {

// In the user's language.
inline QString tr(const char* words) { return QCoreApplication::translate("comet", words); }

inline QString text(const std::string& utf8) { return QString::fromStdString(utf8); }

}  // namespace comet
