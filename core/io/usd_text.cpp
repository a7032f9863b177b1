#include "io/usd_text.h"

#include <fmt/format.h>

namespace comet {

std::string usdFile(const std::string& def, const std::string& body, int firstFrame, int lastFrame,
                    double rate) {
  return fmt::format(
      "#usda 1.0\n(\n    defaultPrim = \"effect\"\n    doc = \"written by Tawny Comet\"\n    endTimeCode = "
      "{}\n"
      "    metersPerUnit = 1\n    startTimeCode = {}\n    timeCodesPerSecond = {:g}\n    upAxis = "
      "\"Y\"\n)\n\n"
      "def Xform \"effect\"\n{{\n    def {}\n    {{\n{}    }}\n}}\n",
      lastFrame, firstFrame, rate, def, body);
}

std::string usdSample(int frame, const std::string& value) {
  return fmt::format("            {}: {},\n", frame, value);
}

std::string usdAttribute(const std::string& declaration, const std::string& samples,
                         const std::string& metadata) {
  const std::string values = fmt::format("        {}.timeSamples = {{\n{}        }}\n", declaration, samples);
  // Metadata belongs to the attribute itself.
  return metadata.empty() ? values : fmt::format("        {} ({})\n", declaration, metadata) + values;
}

}  // namespace comet
