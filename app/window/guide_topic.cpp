#include "window/guide_topic.h"

#include "controls/param_row.h"
#include "session/document.h"
#include "theme/words.h"

#include <QWidget>
#include <array>
#include <string_view>

namespace comet {
namespace {

// A section of a kind; of all its sections if none is named.
struct SectionPage {
  std::string_view kind, section;
  const char* file;
};

// The first that fits counts.
constexpr std::array kSections{
    SectionPage{"emitter", "Birth", "birth.md"},
    SectionPage{"emitter", "Shape", "birth.md"},
    SectionPage{"emitter", "Shape motion", "birth.md"},
    SectionPage{"emitter", "Parent", "children.md"},
    SectionPage{"emitter", "Rules", "children.md"},
    SectionPage{"emitter", "Launch", "launch.md"},
    SectionPage{"emitter", "Life", "launch.md"},
    SectionPage{"emitter", "Card", "cards.md"},
    SectionPage{"emitter", "Trail", "trails.md"},
    SectionPage{"emitter", "Links", "trails.md"},
    SectionPage{"emitter", "Surface", "trails.md"},
    SectionPage{"emitter", "", "looks.md"},
    SectionPage{"gas", "Fire", "fire.md"},
    SectionPage{"gas", "Fire look", "fire.md"},
    SectionPage{"gas", "", "gas.md"},
    SectionPage{"source", "", "gas.md"},
    SectionPage{"light", "", "lights.md"},
    SectionPage{"scene", "Time", "birth.md"},
    SectionPage{"scene", "Light", "lights.md"},
    SectionPage{"scene", "", "viewport.md"},
    SectionPage{"camera", "Post-processing", "looks.md"},
    SectionPage{"camera", "", "viewport.md"},
    SectionPage{"bake", "", "bake.md"},
    SectionPage{"field", "", "fields.md"},
    SectionPage{"path", "", "fields.md"},
    SectionPage{"flock", "", "flocks.md"},
    SectionPage{"arrive", "", "arriving.md"},
    SectionPage{"contact", "", "piles.md"},
    SectionPage{"deflector", "", "deflectors.md"},
    SectionPage{"gas_flow", "", "gas.md"},
};

struct PanelPage {
  const char* panel;  // the name of its widget
  const char* file;
};

constexpr std::array kPanels{
    PanelPage{"influence_grid", "influences.md"},
    PanelPage{"influence_popup", "influences.md"},
    PanelPage{"response_popup", "influences.md"},
    PanelPage{"duplicate_popup", "emitters.md"},
    PanelPage{"sweep", "values.md"},
    PanelPage{"snapshot", "compare.md"},
    PanelPage{"compare_with", "compare.md"},
    PanelPage{"compare_mode", "compare.md"},
    PanelPage{"snapshot_menu", "compare.md"},
    PanelPage{"probe_panel", "probe.md"},
    PanelPage{"preset_panel", "presets.md"},
    PanelPage{"life_chart", "life.md"},
    PanelPage{"timeline", "keys.md"},
    PanelPage{"viewport", "viewport.md"},
    PanelPage{"view", "viewport.md"},
    PanelPage{"bake_view", "bake.md"},
};

}  // namespace

QString guidePageOf(const KindSpec& kind, const std::string& section) {
  // Where and when an influence acts is the same for all.
  if (kind.family() == ItemFamily::Influence && (section == "Reach" || section == "When"))
    return "influences.md";
  for (const SectionPage& page : kSections)
    if (page.kind == kind.id() && (page.section.empty() || page.section == section)) return page.file;
  return "influences.md";
}

GuideTopic guideTopicOf(const QWidget* widget, const Document& document) {
  const Scene::ItemPtr item = document.scene().find(document.selected());
  for (; widget; widget = widget->parentWidget()) {
    if (const auto* row = qobject_cast<const ParamRow*>(widget); row && item)
      return {guidePageOf(*item->kind, row->spec().section), text(row->spec().label)};
    for (const PanelPage& page : kPanels)
      if (widget->objectName() == QLatin1String(page.panel)) return {page.file, {}};
    if (widget->objectName() == QLatin1String("inspector") && item) return {guidePageOf(*item->kind, {}), {}};
  }
  return {};
}

}  // namespace comet
