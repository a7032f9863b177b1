#include "support/scenes.h"

#include "base/parallel.h"
#include "scene/override.h"
#include "simulation/gas/gas_edits.h"

#include <gtest/gtest.h>

namespace comet::test {

Scene starting() {
  return with(startingScene(),
              {"flipbook.frame_range=own", "flipbook.frame_choice=step", "flipbook.trim=false"});
}

Scene with(Scene scene, std::initializer_list<std::string> assignments) {
  for (const std::string& assignment : assignments) scene = withOverride(scene, assignment);
  return scene;
}

Scene withInfluence(const Scene& scene, std::string_view kind,
                    std::initializer_list<std::string> assignments) {
  return with(scene.withAdded(newItem(*catalog().find(kind), std::string(kind))), assignments);
}

Scene oneBurst(int count) {
  return with(starting(), {"emitter.rate=0", "emitter.cone=0", "emitter.speed=3", "emitter.lifetime=100",
                           "emitter.bursts=[{\"frame\":1,\"count\":" + std::to_string(count) + "}]"});
}

namespace {

// Some burst into crumbs when they have met a deflector.
ParamValue crumblingWhereTheyHit() {
  Rule rule;
  rule.when = {newCondition(RuleWhen::Hit)};
  rule.when.front().first = 1;
  rule.then = {newAction(RuleThen::Burst), newAction(RuleThen::Die)};
  rule.then.front().first = 3;
  rule.then.front().item.name = "crumbs";
  rule.chance = 50;
  ParamValue value;
  value.base = RuleList{rule};
  return value;
}

}  // namespace

Scene busyScene() {
  Scene scene = with(starting(), {"emitter.shape=sphere", "emitter.rate=2000±500", "emitter.lifetime=1±0.5",
                                  "emitter.speed=4±2", "emitter.cone=60", "scene.substeps=2"});
  scene = withInfluence(scene, "gravity");
  scene = withInfluence(scene, "force", {"force.push=0.5,1,0", "force.variation=1,0,1"});
  scene = withInfluence(scene, "wind");
  scene = withInfluence(scene, "drag");
  scene = withInfluence(scene, "turbulence",
                        {"turbulence.octaves=2", "turbulence.reach=cylinder", "turbulence.reach_radius=3"});
  scene = withInfluence(scene, "field", {"field.resolution=8"});
  scene = withInfluence(scene, "path", {"path.strokes=[[[-2,0,0],[0,2,0],[3,3,1]]]", "path.around=40"});
  scene = withInfluence(scene, "vortex", {"vortex.age_range=from", "vortex.age_from=0.2±0.1"});
  scene = withInfluence(scene, "attractor", {"attractor.falloff=inverse", "attractor.reach=sphere"});
  scene = withInfluence(scene, "bend");
  scene = withInfluence(scene, "speed_limit", {"speed_limit.max_speed=20"});
  scene = withInfluence(scene, "kicks", {"kicks.rate=8"});
  scene = withInfluence(scene, "spin", {"spin.rate=90±30"});
  scene = withInfluence(scene, "flock", {"flock.sight_radius=1", "flock.target=circle"});
  scene = withInfluence(scene, "enclosure", {"enclosure.size=30,30,30"});
  scene = withInfluence(scene, "arrive",
                        {"arrive.shape=sphere", "arrive.points=80", "arrive.position=3,2,0",
                         "arrive.age_range=from", "arrive.age_from=0.6±0.3", "arrive.travel_time=0.4±0.2"});
  scene = withInfluence(scene, "contact", {"contact.contact_steps=2", "contact.contact_radius=60"});
  scene = withInfluence(
      scene, "deflector",
      {R"(deflector.position={"keys":[{"frame":1,"value":[0,-1,0]},{"frame":40,"value":[0,1,0]}]})",
       "deflector.rotation=0,0,20", "deflector.bounce=40±20", "deflector.roughness=10",
       "deflector.pass_through=20", "deflector.rolling=true"});
  scene = withChild(scene, "parent_death",
                    {"dust.lifetime=0.5±0.2", "dust.speed=1", "dust.max_particles=150"}, "dust");
  scene = withChild(scene, "rules", {"crumbs.lifetime=0.5", "crumbs.speed=2", "crumbs.max_particles=150"},
                    "crumbs");
  // The flock is the emitter's own.
  for (const char* child : {"dust", "crumbs"})
    scene = scene.withResponse(scene.findByName(child)->id, scene.findByName("flock")->id, {});
  return scene.withParam(scene.findByName("emitter")->id, "rules", crumblingWhereTheyHit());
}

Scene gasScene() { return with(withNewGas(starting()), {"emitter.rate=0", "gas.resolution=24"}); }

Scene withChild(const Scene& scene, const std::string& come, std::initializer_list<std::string> assignments,
                const std::string& name, const std::string& parent) {
  Scene child = scene.withAdded(newItem(*catalog().find("emitter"), name));
  child = with(child, {name + ".birth_trigger=" + come, name + ".parent=" + parent});
  return with(child, assignments);
}

SceneFramePtr simulate(const Scene& scene, int frame) {
  return SceneRun(scene, std::make_shared<FrameCache>(memoryBudget(scene))).frame(frame);
}

void expectTheSameHoweverRun(const Scene& scene, int frame) {
  const Digest straight = simulate(scene, frame)->particles->digest();
  {
    const ThreadLimit limit(1);
    EXPECT_EQ(simulate(scene, frame)->particles->digest(), straight) << "on one thread";
  }
  const auto cache = roomyCache();
  (void)SceneRun(scene, cache).frame(frame / 2 + 2);
  EXPECT_EQ(SceneRun(scene, cache).frame(frame)->particles->digest(), straight) << "resumed";
}

Vec3d positionOf(const ParticleStore& particles, std::size_t index) { return particles.position(index); }

Vec3d velocityOf(const ParticleStore& particles, std::size_t index) { return particles.velocity(index); }

}  // namespace comet::test
