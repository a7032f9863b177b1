#include "params/search.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <numeric>
#include <utility>

namespace comet {
namespace {

// What is typed, and what it may be called here instead. Words are in American spelling, as normalized()
// gives them.
struct Synonym {
  std::string_view typed;
  std::vector<std::string_view> means;
};

const std::vector<Synonym>& synonyms() {
  static const std::vector<Synonym> list{
      {"collider", {"deflector"}},
      {"collision", {"deflector", "collision test", "on hit"}},
      {"obstacle", {"deflector"}},
      {"ground", {"deflector", "ground fade"}},
      {"wall", {"deflector", "enclosure"}},
      {"kill", {"bounds", "die", "lifetime"}},
      {"death", {"bounds", "lifetime", "at death"}},
      {"location", {"position"}},
      {"place", {"position"}},
      {"translate", {"position"}},
      {"move", {"position"}},
      {"orientation", {"rotation", "facing", "orient shape"}},
      {"angle", {"rotation", "cone"}},
      {"turn", {"rotation", "spin", "angular speed"}},
      {"rotate", {"rotation", "spin"}},
      {"push", {"force"}},
      {"lift", {"force"}},
      {"thrust", {"force"}},
      {"attract", {"attractor"}},
      {"pull", {"attractor", "gravity"}},
      {"magnet", {"attractor"}},
      {"noise", {"turbulence", "curl noise", "noise scale", "direction noise", "speed noise"}},
      {"chaos", {"turbulence", "kicks"}},
      {"jitter", {"turbulence", "kicks", "wander"}},
      {"swirl", {"vortex", "turbulence", "bend", "curl noise"}},
      {"tornado", {"vortex"}},
      {"whirl", {"vortex"}},
      {"damping", {"drag"}},
      {"friction", {"friction", "drag"}},
      {"resistance", {"drag"}},
      {"smoke", {"gas", "density", "source"}},
      {"steam", {"gas", "density", "source"}},
      {"fog", {"gas", "density"}},
      {"mist", {"gas", "density"}},
      {"fluid", {"gas"}},
      {"volume", {"gas", "resolution"}},
      {"voxel", {"resolution", "voxel size"}},
      {"heat", {"temperature", "buoyancy"}},
      {"flame", {"burning", "fire colour"}},
      {"combustion", {"burning"}},
      {"explosion", {"burning", "expansion"}},
      {"emissive", {"fire colour", "brightness"}},
      {"incandescence", {"fire colour"}},
      {"advect", {"gas flow"}},
      {"lamp", {"light", "strength"}},
      {"lantern", {"light"}},
      {"torch", {"light", "flicker"}},
      {"sun", {"light direction", "light"}},
      {"shade", {"shading", "shadows in gas", "lit"}},
      {"attenuation", {"falloff"}},
      {"curl", {"vorticity", "curl noise"}},
      {"swarm", {"flock"}},
      {"herd", {"flock"}},
      {"crowd", {"flock"}},
      {"follow", {"flock", "path", "follow"}},
      {"spline", {"path"}},
      {"goal", {"arrive", "target"}},
      {"formation", {"arrive"}},
      {"assemble", {"arrive"}},
      {"landing", {"arrive"}},
      {"cloth", {"card", "sprite"}},
      {"paper", {"card", "sprite"}},
      {"confetti", {"card", "sprite"}},
      {"leaf", {"card", "sprite"}},
      {"flutter", {"card", "sprite"}},
      {"pile", {"contact"}},
      {"heap", {"contact"}},
      {"grain", {"contact"}},
      {"sand", {"contact"}},
      {"granular", {"contact"}},
      {"overlap", {"contact", "separation"}},
      {"cage", {"enclosure"}},
      {"container", {"enclosure"}},
      {"velocity", {"speed", "velocity"}},
      {"spawn", {"birth", "rate", "bursts"}},
      {"emission", {"birth", "rate", "emits"}},
      {"emit", {"birth", "rate", "emits"}},
      {"count", {"rate", "bursts", "max particles", "particle limit"}},
      {"child", {"parent", "birth trigger"}},
      {"explosion", {"bursts"}},
      {"amount", {"rate", "strength"}},
      {"duration", {"lifetime", "last frame", "trail time"}},
      {"age", {"lifetime", "age range"}},
      {"transparency", {"opacity", "alpha"}},
      {"alpha", {"opacity", "alpha"}},
      {"fade out", {"opacity", "fade-out time"}},
      {"fade in", {"opacity", "fade in"}},
      {"scale", {"size", "scale"}},
      {"radius", {"size", "radius"}},
      {"thickness", {"trail width", "thickness"}},
      {"hdr", {"exposure", "brightness"}},
      {"intensity", {"brightness", "strength"}},
      {"bloom", {"glow"}},
      {"motion blur", {"shutter angle"}},
      {"blur", {"shutter angle", "softness"}},
      {"fov", {"field of view"}},
      {"zoom", {"field of view", "height", "fit view"}},
      {"fps", {"frame rate"}},
      {"speed of playback", {"frame rate"}},
      {"length", {"last frame", "trail length"}},
      {"prewarm", {"warm-up"}},
      {"preroll", {"warm-up"}},
      {"loop", {"exact loop", "loop"}},
      {"seamless", {"exact loop", "loop"}},
      {"memory", {"frame cache", "memory budget"}},
      {"ram", {"frame cache"}},
      {"cache", {"frame cache", "disk cache"}},
      {"limit", {"particle limit", "max particles", "speed limit"}},
      {"falloff", {"falloff", "reach"}},
      {"region", {"reach"}},
      {"mask", {"reach", "mask"}},
      {"sprite sheet", {"flipbook", "columns", "rows"}},
      {"atlas", {"flipbook", "columns", "rows"}},
      {"texture", {"picture", "flipbook", "format"}},
      {"image", {"picture", "image sequence"}},
      {"smoke", {"sprite", "puff"}},
      {"billboard", {"facing"}},
      {"tumble", {"facing", "spin"}},
      {"align", {"facing", "orient shape"}},
      {"additive", {"blend mode"}},
      {"blending", {"blend mode"}},
      {"tail", {"trail"}},
      {"streak", {"trail", "stretch"}},
      {"connect", {"links", "connect"}},
      {"lines", {"links", "trail"}},
      {"hair", {"trail", "connect", "birth points"}},
      {"strand", {"trail", "connect", "birth points"}},
      {"rope", {"trail", "connect", "birth points"}},
      {"tube", {"trail"}},
      {"cut open", {"clipping plane"}},
      {"cross-section", {"clipping plane"}},
      {"roll", {"rolling"}},
      {"mesh", {"mesh", "surface"}},
      {"metaball", {"surface"}},
      {"liquid", {"surface"}},
      {"inherit", {"inherit"}},
      {"randomness", {"seed", "distribution"}},
      {"random", {"seed", "distribution"}},
      {"variation", {"seed", "distribution"}},
      {"event", {"rules", "birth trigger"}},
      {"script", {"rules"}},
      {"trigger", {"rules", "birth trigger"}},
      {"render", {"bake", "in renders"}},
      {"save", {"save", "export"}},
      {"resolution", {"cell width", "cell height", "resolution"}},
      {"png", {"format"}},
      {"exr", {"format"}},
      {"gif", {"video"}},
      {"movie", {"video"}},
      {"mp4", {"video"}},
      {"flow map", {"motion vectors"}},
      {"border", {"padding"}},
      {"bleed", {"edge bleed", "padding"}},
      {"antialiasing", {"supersampling"}},
      {"shortcut", {"keys and gestures"}},
      {"hotkey", {"keys and gestures"}},
      {"help", {"guide"}},
  };
  return list;
}

// Lower case, and American spelling.
std::string normalized(std::string_view text) {
  std::string plain;
  for (const char c : text) plain += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  static constexpr std::array<std::pair<std::string_view, std::string_view>, 5> kSpellings{
      {{"colour", "color"},
       {"centre", "center"},
       {"grey", "gray"},
       {"metre", "meter"},
       {"neighbour", "neighbor"}}};
  for (const auto& [british, american] : kSpellings)
    for (std::size_t at = plain.find(british); at != std::string::npos; at = plain.find(british, at))
      plain.replace(at, british.size(), american);
  return plain;
}

bool isPartOfWord(char c) { return std::isalnum(static_cast<unsigned char>(c)) != 0; }

bool beginsAWord(const std::string& text, std::string_view word) {
  for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1))
    if (at == 0 || !isPartOfWord(text[at - 1])) return true;
  return false;
}

// Whether each word that was typed begins a word of the text.
bool holdsAllWords(const std::string& text, const std::string& typed) {
  std::size_t from = 0;
  while (from < typed.size()) {
    const std::size_t to = std::min(typed.find(' ', from), typed.size());
    if (to > from && !beginsAWord(text, typed.substr(from, to - from))) return false;
    from = to + 1;
  }
  return true;
}

enum Rank { Exact, Begins, BeginsWord, Synonymous, Contains, WordsWithContext, IdOrSection, Described };

// The rank of a label that means what was typed.
bool isSynonym(const std::string& label, const std::string& typed) {
  return std::any_of(synonyms().begin(), synonyms().end(), [&](const Synonym& synonym) {
    // Half a word finds its synonyms too, as soon as it can be few others.
    constexpr std::size_t kFewest = 4;
    const bool isTyped =
        synonym.typed == typed || (typed.size() >= kFewest && synonym.typed.substr(0, typed.size()) == typed);
    return isTyped && std::any_of(synonym.means.begin(), synonym.means.end(),
                                  [&](std::string_view meant) { return beginsAWord(label, meant); });
  });
}

// Levenshtein, 1966: how many letters have to be changed, added or left out.
std::size_t editDistance(const std::string& a, const std::string& b) {
  std::vector<std::size_t> row(b.size() + 1);
  std::iota(row.begin(), row.end(), std::size_t{0});
  for (std::size_t i = 1; i <= a.size(); ++i) {
    std::size_t diagonal = std::exchange(row[0], i);
    for (std::size_t j = 1; j <= b.size(); ++j) {
      const std::size_t changed = diagonal + (a[i - 1] == b[j - 1] ? 0 : 1);
      diagonal = row[j];
      row[j] = std::min({changed, row[j] + 1, row[j - 1] + 1});
    }
  }
  return row.back();
}

}  // namespace

std::optional<int> searchRank(const SearchEntry& entry, std::string_view typed) {
  const std::string words = normalized(typed);
  if (words.empty()) return std::nullopt;
  const std::string label = normalized(entry.label);
  if (label == words) return Exact;
  if (label.rfind(words, 0) == 0) return Begins;
  if (beginsAWord(label, words)) return BeginsWord;
  if (isSynonym(label, words)) return Synonymous;
  if (label.find(words) != std::string::npos) return Contains;
  const std::string context = normalized(entry.context);
  if (holdsAllWords(label + " " + context, words) && !holdsAllWords(context, words)) return WordsWithContext;
  if (beginsAWord(normalized(entry.id), words) || holdsAllWords(context, words)) return IdOrSection;
  if (holdsAllWords(normalized(entry.tip), words)) return Described;
  return std::nullopt;
}

std::optional<std::string> nearestWord(std::string_view typed, const std::vector<std::string>& words) {
  const std::string wanted = normalized(typed);
  // Of a short word no more than one letter may differ, or anything would be near.
  constexpr std::size_t kLettersForEachFault = 3;
  std::size_t nearest = std::max<std::size_t>(1, wanted.size() / kLettersForEachFault) + 1;
  std::optional<std::string> best;
  for (const std::string& word : words) {
    const std::size_t distance = editDistance(wanted, normalized(word));
    if (distance >= nearest) continue;
    nearest = distance;
    best = word;
  }
  for (const Synonym& synonym : synonyms()) {
    const std::size_t distance = editDistance(wanted, std::string(synonym.typed));
    if (distance >= nearest) continue;
    nearest = distance;
    best = std::string(synonym.typed);
  }
  return best;
}

}  // namespace comet
