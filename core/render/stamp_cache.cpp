#include "render/stamp_cache.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace comet {
namespace {

constexpr std::size_t kMaxKept = 32;

// Large, so that all who draw the picture share them.
std::shared_ptr<const StampSet> keptWith(const PictureContent& content, const Hasher& key,
                                         const std::function<StampSet()>& make) {
  return content.derived<StampSet>(key.digest(), [&] { return std::make_shared<const StampSet>(make()); });
}

}  // namespace

std::shared_ptr<const StampSet> StampCache::kept(const Digest& key, const std::function<StampSet()>& make) {
  const auto found =
      std::find_if(kept_.begin(), kept_.end(), [&key](const auto& entry) { return entry.first == key; });
  if (found != kept_.end()) {
    std::rotate(found, found + 1, kept_.end());
    return kept_.back().second;
  }
  if (kept_.size() == kMaxKept) kept_.erase(kept_.begin());
  kept_.emplace_back(key, std::make_shared<const StampSet>(make()));
  return kept_.back().second;
}

std::shared_ptr<const StampSet> StampCache::stampsOf(const Item& emitter, double frame) {
  const std::string& sprite = emitter.choice("sprite");
  if (sprite == "streak") return kept((Hasher() << "streak").digest(), streakStamps);
  if (sprite == "puff") {
    const int variants = emitter.integer("puff_variants", frame);
    const double detail = emitter.number("puff_detail", frame) / 100.0;
    return kept((Hasher() << "puff" << variants << detail).digest(),
                [=] { return puffStamps(variants, detail); });
  }
  if (sprite == "picture" || sprite == "flipbook") return fromPicture(emitter, frame);
  return nullptr;
}

StoredAlpha storedAlphaOf(const Item& emitter) {
  return emitter.choiceAs<StoredAlpha>("picture_alpha",
                                       std::array<std::string_view, 2>{"straight", "premultiplied"});
}

std::shared_ptr<const StampSet> StampCache::ofWhole(const PictureContent& content, int frame,
                                                    StoredAlpha alpha) {
  Hasher key;
  key << "whole stamps" << content.indexAt(frame) << static_cast<int>(alpha);
  return keptWith(content, key, [&] { return pictureStamps(content.at(frame, alpha), {}, {}); });
}

std::shared_ptr<const StampSet> StampCache::fromPicture(const Item& emitter, double frame) {
  const auto content = emitter.content<PictureContent>("picture");
  if (!content) return nullptr;
  const int whole = static_cast<int>(std::lround(frame));
  const StoredAlpha alpha = storedAlphaOf(emitter);
  Hasher key;
  key << "stamps" << content->indexAt(whole) << static_cast<int>(alpha);
  if (emitter.chooses("sprite", "flipbook")) {
    SheetCells cells;
    cells.columns = emitter.integer("flipbook_columns", frame);
    cells.rows = emitter.integer("flipbook_rows", frame);
    cells.variants = emitter.integer("flipbook_variants", frame);
    cells.used = emitter.integer("flipbook_cells", frame);
    cells.padding = emitter.integer("flipbook_padding", frame);
    cells.order = emitter.choiceAs<CellOrder>("flipbook_order", kCellOrderNames);
    key << "cells" << cells.columns << cells.rows << cells.variants << cells.used << cells.padding
        << static_cast<int>(cells.order);
    return keptWith(*content, key, [&] { return flipbookStamps(content->at(whole, alpha), cells); });
  }
  const auto fraction = [&](const char* param) { return emitter.number(param, frame) / 100.0; };
  const Crop crop{fraction("crop_left"), fraction("crop_right"), fraction("crop_top"),
                  fraction("crop_bottom")};
  const auto& mask = std::get<OutlinePoints>(emitter.value("mask").base);
  key << "cut" << crop.left << crop.right << crop.top << crop.bottom;
  for (const OutlinePoint& point : mask) key << point.at.x << point.at.y << point.smooth;
  return keptWith(*content, key, [&] { return pictureStamps(content->at(whole, alpha), crop, mask); });
}

}  // namespace comet
