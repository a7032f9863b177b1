// What of a sheet is looked at, and on what: a channel, a mip level, a ground.
#pragma once

#include "bake/game_preview.h"

#include <QImage>
#include <QStringList>

namespace comet {

enum class SheetChannel {
  Color,
  Red,
  Green,
  Blue,
  Alpha,
  Glow,
  Fire,
  Motion,
  Depth,
  Age,
  Density,
  Temperature,
  Normal,
  LightA,
  LightB,
  Texture
};

struct SheetLook {
  SheetChannel channel = SheetChannel::Color;
  Ground ground = Ground::Checker;
  int mipLevel = 0;
};

// In the order of the enumerations.
QStringList channelNames();
QStringList groundNames();
// Whether the flipbook has it.
bool hasChannel(const Flipbook& book, SheetChannel channel);

// The sheet as it is looked at; a pixel of a mip level is a pixel of the image.
QImage sheetImage(const Flipbook& book, const SheetLook& look);

// What of a pixel is looked at, in numbers.
QString valueText(const Flipbook& book, SheetChannel channel, int x, int y);

}  // namespace comet
