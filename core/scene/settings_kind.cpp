#include "scene/settings_kind.h"

namespace comet {

const KindSpec& settingsKind() {
  static const KindSpec kind(
      "scene", "Scene", ItemFamily::Settings, "Time, units and limits of the whole scene.",
      {
          number("frame_rate", "Frame rate", 24)
              .in("Time")
              .unit("/s")
              .range(1, 240)
              .usual(12, 60)
              .tip("Frames a second. Times in seconds keep their length; keys and bursts keep their frames."),
          integer("first_frame", "First frame", 1)
              .in("Time")
              .range(-100000, 100000)
              .usual(0, 100)
              .tip("Where the simulation starts; nothing has been born before it."),
          integer("last_frame", "Last frame", 96)
              .in("Time")
              .range(-100000, 100000)
              .usual(1, 500)
              .tip("Where playing ends and starts again."),
          flag("plays_part", "Play a part", false)
              .in("Time")
              .affects(Affects::View)
              .tip("Whether only a part of the scene's frames is played; all of them are baked."),
          integer("play_first", "Play from", 1)
              .in("Time")
              .range(-100000, 100000)
              .usual(1, 200)
              .affects(Affects::View)
              .when("plays_part", {"true"})
              .frame()
              .tip("The first frame that is played."),
          integer("play_last", "Play until", 48)
              .in("Time")
              .range(-100000, 100000)
              .usual(1, 200)
              .affects(Affects::View)
              .when("plays_part", {"true"})
              .frame()
              .tip("The last frame that is played."),
          markers("markers", "Markers")
              .in("Time")
              .affects(Affects::View)
              .tip("Notes at frames; set them in the timeline's ruler."),
          flag("loops", "Exact loop", false)
              .in("Time")
              .tip("Whether the frames repeat for ever: births, noise and keys come round again, so that the "
                   "last frame leads into the first. What was born before the first frame is there already."),
          number("warm_up", "Warm-up", 0)
              .in("Time")
              .unit("s")
              .range(0, 600)
              .usual(0, 10)
              .tip("Time that is simulated before the first frame, so that the effect is under way when it "
                   "starts. A start state takes its place; an exact loop warms up by itself."),
          data("start_state", "Start state")
              .in("Time")
              .tip("Particles taken from a frame, with which the first frame begins."),
          integer("substeps", "Substeps", 1)
              .in("Time")
              .range(1, 32)
              .usual(1, 8)
              .tip("How often the influences are evaluated in each frame. More makes fast turbulence more "
                   "exact "
                   "and takes as many times longer."),
          integer("seed", "Seed", 1)
              .in("Time")
              .range(0, 1e9)
              .usual(0, 100)
              .tip("Another number gives another take of all that is random in the scene."),
          choice("draw_order", "Draw order",
                 {{"depth", "By depth", "What is nearer to the camera covers what is further away."},
                  {"oldest", "Oldest first", "Younger particles cover older ones."},
                  {"youngest", "Youngest first", "Older particles cover younger ones."}})
              .in("Stage")
              .affects(Affects::Look)
              .tip("Which sprites are drawn over which."),
          vector("light_from", "Light from", {-0.5, 0.8, 0.6})
              .in("Light")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .affects(Affects::Look)
              .tip("Where the light comes from that falls on meshes; only the direction counts."),
          color("light_color", "Light colour", {1, 0.9, 0.75})
              .in("Light")
              .keyed()
              .affects(Affects::Look)
              .tip("Colour of that light."),
          number("light_strength", "Strength", 1)
              .in("Light")
              .unit("×")
              .range(0, 1000)
              .usual(0, 5)
              .keyed()
              .affects(Affects::Look)
              .tip("How bright that light is."),
          color("light_around", "Light around", {0.16, 0.2, 0.24})
              .in("Light")
              .keyed()
              .affects(Affects::Look)
              .tip("Light from all sides, which keeps what is turned away from going black."),
          number("units_per_metre", "Units per metre", 1)
              .in("Stage")
              .range(0.001, 1000)
              .usual(1, 100)
              .affects(Affects::View)
              .tip("What the ground grid writes beside its lines; a game's own scale."),
          integer("most_particles", "Most particles", 1000000)
              .in("Limits")
              .range(1, 50000000)
              .usual(1000, 2000000)
              .tip("When as many are alive, births stop and a notice says so, so that the machine stays "
                   "usable."),
          integer("memory_budget", "Frame memory", 2048)
              .in("Limits")
              .unit("MB")
              .range(16, 1000000)
              .usual(256, 8192)
              .affects(Affects::View)
              .tip("How much simulated frames may take. Beyond it, frames are dropped and run again when "
                   "needed."),
          flag("keep_frames", "Keep on disk", false)
              .in("Limits")
              .affects(Affects::View)
              .tip("Whether simulated frames are kept in a folder beside the scene's file, so that they need "
                   "not "
                   "run again when it is opened next."),
          integer("keep_megabytes", "At most", 4096)
              .in("Limits")
              .unit("MB")
              .range(16, 10000000)
              .usual(256, 20000)
              .affects(Affects::View)
              .when("keep_frames", {"true"})
              .tip("How much the folder may hold; the longest unused go first."),
          integer("keep_days", "Unused for", 14)
              .in("Limits")
              .unit("days")
              .range(1, 10000)
              .usual(1, 60)
              .affects(Affects::View)
              .when("keep_frames", {"true"})
              .tip("Frames that nobody used for so long are removed."),
      });
  return kind;
}

}  // namespace comet
