#include "catalog.h"
#include "commands.h"
#include "scene/reference.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet::cli {
namespace {

void printText() {
  for (const KindSpec* kind : catalog().kinds()) {
    fmt::print("{}  {}\n", kind->id(), kind->tip());
    for (const ParamSpec& spec : kind->params())
      fmt::print("  {:<18} {:<9} {}\n", spec.id, toString(spec.type), spec.tipText);
    fmt::print("\n");
  }
}

}  // namespace

void schema(SchemaForm form) {
  switch (form) {
    case SchemaForm::Text:
      return printText();
    case SchemaForm::Json:
      return fmt::print("{}\n", referenceJson(catalog()).dump(2));
    case SchemaForm::Markdown:
      return fmt::print("{}", referenceMarkdown(catalog()));
    case SchemaForm::JsonSchema:
      return fmt::print("{}\n", sceneJsonSchema(catalog()).dump(2));
  }
}

}  // namespace comet::cli
