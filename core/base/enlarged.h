// Pictures with more pixels than they were drawn with.
#pragma once

#include <cstdint>
#include <vector>

namespace comet {

// The pixels, four channels of a byte each in rows without gaps, stretched to a larger size, smoothly: by the
// cubic filter of Mitchell and Netravali (1988), which shows neither blocks nor rings. What is the same all
// over stays so, up to the edges. Uses all threads.
std::vector<std::uint32_t> enlarged(const std::vector<std::uint32_t>& pixels, int width, int height,
                                    int toWidth, int toHeight);

}  // namespace comet
