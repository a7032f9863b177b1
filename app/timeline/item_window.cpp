#include "timeline/item_window.h"

#include <algorithm>

namespace comet {
namespace {

struct WindowParams {
  const char* choice;
  const char* from;
  const char* until;
};

std::optional<WindowParams> paramsOf(const Item& item) {
  if (item.kind->family() == ItemFamily::Emitter || item.kind->family() == ItemFamily::Source)
    return WindowParams{"emits", "emits_from", "emits_until"};
  if (item.kind->family() == ItemFamily::Influence) return WindowParams{"acts", "acts_from", "acts_until"};
  return std::nullopt;
}

}  // namespace

std::optional<ItemWindow> windowOf(const Item& item, double frame) {
  const auto params = paramsOf(item);
  if (!params || !item.chooses(params->choice, "frame_range")) return std::nullopt;
  ItemWindow window{item.number(params->from, frame), item.number(params->until, frame)};
  if (item.kind->family() == ItemFamily::Influence) {
    window.softIn = item.number("fade_in", frame);
    window.softOut = item.number("fade_out", frame);
  }
  return window;
}

void setWindow(Document& document, ItemId item, double from, double until, const QString& mergeKey) {
  const Scene::ItemPtr target = document.scene().find(item);
  if (!target || !windowOf(*target, document.frame())) return;
  const WindowParams params = *paramsOf(*target);
  document.setBases(item, {{params.from, from}, {params.until, std::max(from, until)}},
                    QObject::tr("change frame range"), mergeKey);
}

}  // namespace comet
