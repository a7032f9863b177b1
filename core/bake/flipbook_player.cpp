#include "bake/flipbook_player.h"

#include "base/base64.h"

#include <algorithm>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace comet {
namespace {

constexpr std::string_view kPage = R"page(<!doctype html>
<meta charset="utf-8">
<title>@TITLE@</title>
<style>
  body { margin: 0; font: 14px sans-serif; background: #1b2124; color: #ddd7cc; }
  main { display: flex; flex-direction: column; align-items: center; gap: 12px; padding: 16px; }
  canvas { image-rendering: auto; background: #000; }
  label { margin-right: 12px; }
  .alone main { padding: 0; align-items: start; }
  .alone main div { display: none; }
</style>
<main>
  <canvas id="cell"></canvas>
  <div>
    <label><input type="checkbox" id="play" checked> play</label>
    <label>cells a second <input type="number" id="rate" min="0.1" step="0.1" style="width: 5em"></label>
    <label>cell <input type="range" id="position" min="0" step="0.01"></label>
    <label id="variants">variant <select id="variant"></select></label>
    <label>between cells <select id="blend"></select></label>
    <label>ground <select id="ground"><option>black<option>grey<option>white</select></label>
  </div>
  <div id="facts"></div>
</main>
<script>
"use strict";
// The description as it is written beside the sheet, and the pictures: colours, alpha, motion vectors.
const book = @BOOK@;
const pictures = { color: "@COLOR@", alpha: "@ALPHA@", motion: "@MOTION@" };

const width = book.cell.width, height = book.cell.height;
const canvas = document.getElementById("cell"), context = canvas.getContext("2d");
canvas.width = width;
canvas.height = height;

function load(source) {
  return new Promise((resolve) => {
    if (!source) return resolve(null);
    const image = new Image();
    image.onload = () => {
      const sheet = document.createElement("canvas");
      sheet.width = image.width;
      sheet.height = image.height;
      const pen = sheet.getContext("2d");
      pen.drawImage(image, 0, 0);
      resolve(pen.getImageData(0, 0, image.width, image.height));
    };
    image.src = "data:image/png;base64," + source;
  });
}

// Encoded values to linear light, and back.
const isSrgb = book.color_space === "srgb";
const decode = (v) => (!isSrgb ? v : v <= 0.04045 ? v / 12.92 : Math.pow((v + 0.055) / 1.055, 2.4));
const encode = (v) => (v <= 0.0031308 ? v * 12.92 : 1.055 * Math.pow(v, 1 / 2.4) - 0.055);
const table = Float32Array.from({ length: 256 }, (_, i) => decode(i / 255));

// Linear light and alpha of a cell at (x, y), between pixels by straight lines, multiplied with alpha.
function sample(sheets, cell, x, y, out) {
  const { color, alpha } = sheets;
  x = Math.min(Math.max(x, 0), width - 1);
  y = Math.min(Math.max(y, 0), height - 1);
  const i = Math.floor(x), j = Math.floor(y);
  out.fill(0);
  for (let k = 0; k < 4; ++k) {
    const dx = k & 1, dy = k >> 1;
    const weight = (dx ? x - i : 1 - (x - i)) * (dy ? y - j : 1 - (y - j));
    if (weight === 0) continue;
    const at = 4 * ((cell.y + Math.min(j + dy, height - 1)) * color.width + cell.x + Math.min(i + dx, width - 1));
    const a = book.alpha === "on_black" ? 0 : alpha.data[at] / 255;
    const m = weight * (book.alpha === "straight" ? a : 1);
    for (let c = 0; c < 3; ++c)
      out[c] += book.alpha === "opacity" ? weight * a : m * table[color.data[at + c]];
    out[3] += weight * a;
  }
}

function motionAt(sheet, cell, x, y) {
  const at = 4 * ((cell.y + y) * sheet.width + cell.x + x);
  const layer = book.layers.motion;
  return [(sheet.data[at] / 255 - layer.zero) * layer.scale, (sheet.data[at + 1] / 255 - layer.zero) * layer.scale];
}

// One variant after the other has as many cells.
const variants = book.variants || [{ label: "", first_cell: 0, cells: book.cells.length }];
const count = variants[0].cells;

function draw(sheets, variant, position, blend, ground) {
  const loops = book.loop.kind !== "none";
  const first = Math.floor(position) % count;
  const from = book.cells[variant.first_cell + first];
  const to = book.cells[variant.first_cell + (loops ? (first + 1) % count : Math.min(first + 1, count - 1))];
  const fraction = blend === "cell by cell" ? 0 : position - Math.floor(position);
  const picture = context.createImageData(width, height);
  const a = new Float32Array(4), b = new Float32Array(4);
  const behind = { black: 0, grey: 0.18, white: 1 }[ground];
  for (let y = 0; y < height; ++y)
    for (let x = 0; x < width; ++x) {
      let out = [0, 0], back = [0, 0];
      if (fraction > 0 && blend === "along motion") {
        out = motionAt(sheets.motion, from, x, y);
        back = motionAt(sheets.motion, to, x, y);
      }
      sample(sheets, from, x - out[0] * fraction, y - out[1] * fraction, a);
      if (fraction > 0) {
        sample(sheets, to, x + back[0] * (1 - fraction), y + back[1] * (1 - fraction), b);
        for (let c = 0; c < 4; ++c) a[c] += (b[c] - a[c]) * fraction;
      }
      const at = 4 * (y * width + x);
      for (let c = 0; c < 3; ++c)
        picture.data[at + c] = Math.round(255 * encode(Math.min(1, Math.max(0, a[c] + behind * (1 - a[3])))));
      picture.data[at + 3] = 255;
    }
  context.putImageData(picture, 0, 0);
}

async function run() {
  const sheets = {};
  for (const name of Object.keys(pictures)) sheets[name] = await load(pictures[name]);
  const get = (id) => document.getElementById(id);
  const kinds = ["cell by cell", "blended"].concat(sheets.motion ? ["along motion"] : []);
  get("blend").innerHTML = kinds.map((kind) => "<option>" + kind).join("");
  get("rate").value = book.frames_per_second;
  get("variant").append(...variants.map((variant, i) => new Option(variant.label, i)));
  get("variants").hidden = variants.length === 1;
  get("position").max = count - 0.01;
  get("facts").textContent = book.name + ": " + book.cells.length + " cells of " + width + " × " + height;
  // #cell=3 shows one cell, standing; #cell=3&alone nothing else.
  const options = new URLSearchParams(location.hash.slice(1));
  const asked = options.get("cell");
  let position = asked === null ? 0 : Number(asked), before = performance.now();
  if (asked !== null) get("play").checked = false;
  get("position").value = position;
  if (options.has("alone")) document.body.classList.add("alone");
  get("position").addEventListener("input", () => {
    get("play").checked = false;
    position = Number(get("position").value);
  });
  function tick(now) {
    if (get("play").checked) {
      position = (position + ((now - before) / 1000) * Number(get("rate").value)) % count;
      get("position").value = position;
    }
    before = now;
    draw(sheets, variants[get("variant").value], position, get("blend").value, get("ground").value);
    requestAnimationFrame(tick);
  }
  requestAnimationFrame(tick);
}
run();
</script>
)page";

void replaceIn(std::string& page, std::string_view mark, const std::string& text) {
  page.replace(page.find(mark), mark.size(), text);
}

// A PNG file without what it says of colours: a browser would change its numbers by that.
std::string withoutColorChunks(const std::string& png) {
  constexpr std::size_t kSignature = 8, kAround = 12;  // a chunk's length, type and checksum
  std::string plain = png.substr(0, kSignature);
  for (std::size_t at = kSignature; at + kAround <= png.size();) {
    std::size_t length = 0;
    for (std::size_t i = 0; i < 4; ++i) length = length << 8 | static_cast<unsigned char>(png[at + i]);
    const std::string type = png.substr(at + 4, 4);
    if (type != "gAMA" && type != "cHRM" && type != "sRGB" && type != "iCCP")
      plain += png.substr(at, length + kAround);
    at += length + kAround;
  }
  return plain;
}

std::string embedded(const PictureRows& rows, PictureEncoding encoding, const Progress& progress) {
  return encodeBase64(
      withoutColorChunks(encodePicture(rows, PictureFormat::Png8, PictureChannels::Rgb, encoding, progress)));
}

// Alpha in all channels.
PictureRows alphaOf(const PictureRows& rows) {
  PictureRows alpha = rows;
  alpha.make = [make = rows.make](int first, int count) {
    return changed(make(first, count), [](const Vec4& pixel) { return Vec4(pixel.w); });
  };
  return alpha;
}

}  // namespace

std::string flipbookPlayer(const Flipbook& book, const Progress& progress) {
  FlipbookLayout layout = book.layout;
  layout.largestSheet = std::max(layout.width(), layout.height());
  if (layout.motion == MotionBits::Sixteen) layout.motion = MotionBits::Eight;
  if (isFloat(layout.format)) layout.format = PictureFormat::Png8;
  const std::vector<FlipbookPart> parts = flipbookParts(book, layout);
  const FlipbookPart& color = parts.front();
  std::string motion;
  for (const FlipbookPart& part : parts)
    if (part.layer == "motion") motion = embedded(part.rows, PictureEncoding::Linear, progress);
  std::string page(kPage);
  // A name may hold what ends a script.
  std::string description = describeFlipbook(book, layout);
  for (std::size_t at = 0; (at = description.find('<', at)) != std::string::npos;)
    description.replace(at, 1, "\\u003c");
  std::string title;
  for (const char letter : book.layout.name)
    title += letter == '<' ? "&lt;" : letter == '&' ? "&amp;" : std::string(1, letter);
  replaceIn(page, "@TITLE@", title);
  replaceIn(page, "@BOOK@", description);
  replaceIn(page, "@COLOR@", embedded(color.rows, color.encoding, progress));
  replaceIn(page, "@ALPHA@", embedded(alphaOf(color.rows), PictureEncoding::Linear, progress));
  replaceIn(page, "@MOTION@", motion);
  return page;
}

}  // namespace comet
