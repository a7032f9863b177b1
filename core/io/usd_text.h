// What the files of the open scene-description standard's text form have in common.
#pragma once

#include <string>

namespace comet {

// Values of each point of a line, or of each point.
constexpr const char* kUsdPerVertex = "interpolation = \"vertex\"";

// A file with one prim, `def` such as `Points "particles"`; frames are time codes, `rate` of them a second.
std::string usdFile(const std::string& def, const std::string& body, int firstFrame, int lastFrame,
                    double rate);

// A line of an attribute's samples.
std::string usdSample(int frame, const std::string& value);
// The attribute with its lines.
std::string usdAttribute(const std::string& declaration, const std::string& samples,
                         const std::string& metadata = "");

}  // namespace comet
