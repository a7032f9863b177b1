#include "scene/settings_kind.h"

namespace comet {

const KindSpec& settingsKind() {
  static const KindSpec kind(
      "scene", "Scene", ItemFamily::Settings, "Time, units and limits of the whole scene.",
      {
          number("frame_rate", "Frame rate", 24)
              .in("Time")
              .unit("fps")
              .range(1, 240)
              .usual(12, 60)
              .tip("How many frames make a second. Times in seconds keep their length when this changes; "
                   "keys and bursts keep their frames."),
          integer("first_frame", "First frame", 1)
              .in("Time")
              .range(-100000, 100000)
              .usual(0, 100)
              .tip("The simulation starts at this frame; nothing has been born before it."),
          integer("last_frame", "Last frame", 96)
              .in("Time")
              .range(-100000, 100000)
              .usual(1, 500)
              .tip("Playback ends here and starts again at the first frame."),
          flag("use_playback_range", "Playback range", false)
              .in("Time")
              .affects(Affects::View)
              .tip("Plays only a part of the scene's frames. Bakes still see all of them."),
          integer("playback_first", "Playback from", 1)
              .in("Time")
              .range(-100000, 100000)
              .usual(1, 200)
              .affects(Affects::View)
              .when("use_playback_range", {"true"})
              .frame()
              .tip("Playback starts at this frame."),
          integer("playback_last", "Playback until", 48)
              .in("Time")
              .range(-100000, 100000)
              .usual(1, 200)
              .affects(Affects::View)
              .when("use_playback_range", {"true"})
              .frame()
              .tip("Playback ends at this frame and starts again."),
          markers("markers", "Markers")
              .in("Time")
              .affects(Affects::View)
              .tip("Named frames. Set them in the timeline's ruler."),
          flag("exact_loop", "Exact loop", false)
              .in("Time")
              .tip("Makes the frames repeat without a seam: births, noise and keys are periodic, so that the "
                   "last frame leads into the first. Particles that were born before the first frame are "
                   "there already."),
          number("warm_up", "Warm-up", 0)
              .in("Time")
              .unit("s")
              .range(0, 600)
              .usual(0, 10)
              .tip("Simulates this much time before the first frame, so that the effect is under way when it "
                   "starts. A start state replaces it, and an exact loop warms up by itself."),
          data("start_state", "Start state")
              .in("Time")
              .tip("The first frame begins with these particles and gases, taken from another frame."),
          integer("substeps", "Substeps", 1)
              .in("Time")
              .range(1, 32)
              .usual(1, 8)
              .tip("How many times influences are evaluated in each frame. More substeps make fast "
                   "turbulence more exact and take as many times longer."),
          integer("seed", "Seed", 1)
              .in("Time")
              .range(0, 1e9)
              .usual(0, 100)
              .tip("Another seed gives another variation of everything that is random in the scene."),
          choice("draw_order", "Draw order",
                 {{"depth", "By depth", "Nearer sprites cover those farther from the camera."},
                  {"oldest", "Oldest first", "Younger particles cover older ones."},
                  {"youngest", "Youngest first", "Older particles cover younger ones."}})
              .in("Drawing")
              .affects(Affects::Look)
              .tip("Decides which sprites are drawn over which."),
          flag("clip", "Clipping plane", false)
              .in("Drawing")
              .affects(Affects::Look)
              .tip("Cuts the scene open along a plane, in every view, bake and picture, for a look inside. "
                   "Nothing is simulated differently."),
          vector("clip_position", "Plane position", {0, 0, 0})
              .in("Drawing")
              .unit("units")
              .range(-1e6, 1e6)
              .usual(-10, 10)
              .keyed()
              .affects(Affects::Look)
              .when("clip", {"true"})
              .tip("A point of the clipping plane."),
          vector("clip_direction", "Plane direction", {0, 0, 1})
              .in("Drawing")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .affects(Affects::Look)
              .when("clip", {"true"})
              .tip("Everything on the side of the plane that this direction points to is not drawn."),
          vector("light_direction", "Light direction", {-0.5, 0.8, 0.6})
              .in("Light")
              .range(-1000, 1000)
              .usual(-1, 1)
              .keyed()
              .affects(Affects::Look)
              .tip("The direction from which the scene's own light falls on meshes, surfaces, gas and lit "
                   "sprites; its length does not matter."),
          color("light_color", "Light colour", {1, 0.9, 0.75})
              .in("Light")
              .keyed()
              .affects(Affects::Look)
              .tip("The colour of the light."),
          number("light_strength", "Light strength", 1)
              .in("Light")
              .unit("×")
              .range(0, 1000)
              .usual(0, 5)
              .keyed()
              .affects(Affects::Look)
              .tip("The brightness of the light. At 0, light items alone shine."),
          color("ambient_color", "Ambient colour", {0.16, 0.2, 0.24})
              .in("Light")
              .keyed()
              .affects(Affects::Look)
              .tip("Light from all sides, which keeps faces turned away from the light from going black."),
          number("units_per_metre", "Units per metre", 1)
              .in("Units")
              .range(0.001, 1000)
              .usual(1, 100)
              .affects(Affects::View)
              .tip("Scales the lengths written on the ground grid to those of your game."),
          integer("max_particles", "Particle limit", 1000000)
              .in("Limits")
              .range(1, 50000000)
              .usual(1000, 2000000)
              .tip("Births stop while this many particles are alive, and a notice says so. It keeps the "
                   "machine usable."),
          integer("frame_cache", "Frame cache", 2048)
              .in("Limits")
              .unit("MB")
              .range(16, 1000000)
              .usual(256, 8192)
              .affects(Affects::View)
              .tip("The memory for simulated frames. When it is full, frames are dropped and simulated again "
                   "when they are needed."),
          integer("picture_cache", "Picture cache", 1024)
              .in("Limits")
              .unit("MB")
              .range(16, 1000000)
              .usual(256, 8192)
              .affects(Affects::View)
              .tip("The memory for pictures of the viewport, which are drawn ahead once all is simulated, so "
                   "that playback shows them in full. When it is full, the other frames are drawn as they "
                   "are played."),
          flag("disk_cache", "Disk cache", false)
              .in("Limits")
              .affects(Affects::View)
              .tip("Keeps simulated frames in a folder beside the scene's file, so that they need not be "
                   "simulated again when it is next opened."),
          integer("disk_cache_size", "Max size", 4096)
              .in("Limits")
              .unit("MB")
              .range(16, 10000000)
              .usual(256, 20000)
              .affects(Affects::View)
              .when("disk_cache", {"true"})
              .tip("The most that the disk cache may hold; the frames unused for longest are removed first."),
          integer("disk_cache_days", "Max age", 14)
              .in("Limits")
              .unit("days")
              .range(1, 10000)
              .usual(1, 60)
              .affects(Affects::View)
              .when("disk_cache", {"true"})
              .tip("Frames that have not been used for this long are removed from the disk cache."),
      });
  return kind;
}

}  // namespace comet
