// Sheets as textures for graphics processors: compressed, with mip levels in which no cell runs into another.
#pragma once

#include "bake/flipbook_file.h"
#include "io/texture.h"

namespace comet {

// BC keeps one or two channels, or colours, each in its own way; ASTC keeps all alike. Of motion vectors and
// normals BC keeps the first two channels.
BlockFormat blockFormatOf(TextureCompression compression, std::string_view layer, PictureChannels channels);

// How many levels there are whose blocks hold parts of one cell each; one even if those of the whole sheet do
// not.
int mipLevelsOf(const FlipbookLayout& layout, BlockFormat format);

// A part as a texture. The layout has to ask for one. Throws what compressed() throws.
Texture textureOf(const FlipbookPart& part, const FlipbookLayout& layout, const Progress& progress = {});

// The sheet of colours as it comes back from its texture. Throws what compressed() throws.
TextureLook lookOfTexture(const Flipbook& book, const Progress& progress = {});

}  // namespace comet
