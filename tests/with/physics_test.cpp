// The adapters for physics, with the real libraries: a ball falls, strikes, rests, and is lifted.
#include "support/project_folder.h"

#include <kiai/kiai.h>
#include <kiai/with/box2d.h>
#include <kiai/with/chipmunk.h>

#include <catch2/catch.hpp>

#include <cmath>
#include <string>
#include <vector>

using namespace support;

namespace {

struct Touch {
    std::string kind, other;
    float strength = 0, place = 0;
    std::uint64_t pair = 0;
    int step = 0;
};

/// The contacts that were reported, with the step of the world.
struct Heard {
    explicit Heard(kiai::Engine& of) : engine(of) {
        engine.set_log({});
        engine.set_findings({});
        engine.start_recording();
    }
    void step() {
        render(engine, 800);
        engine.poll();
    }
    void finish() {
        for (const kiai::TraceLine& line : engine.stop_recording().lines) {
            const kiai::Report& one = line.report;
            const int step = static_cast<int>(line.frame.value_or(0) / 800);
            if (one.kind == kiai::ReportKind::contact)
                begun.push_back({one.name, one.other, one.options.strength, one.options.place, one.pair, step});
            if (one.kind == kiai::ReportKind::contact_end) ended.push_back({{}, {}, 0, 0, one.pair, step});
        }
    }
    kiai::Engine& engine;
    std::vector<Touch> begun, ended;
};

constexpr float gravity = 10, height = 5, radius = 0.5f;
/// The speed of a ball after falling that far.
const float speed = std::sqrt(2 * gravity * (height - radius));

void check_fall(const Heard& heard, bool by_speed) {
    REQUIRE(heard.begun.size() == 1);
    const Touch& touch = heard.begun[0];
    CHECK(touch.kind == "ball");
    CHECK(touch.other == "floor");
    CHECK(touch.strength == Approx(speed / 10).epsilon(by_speed ? 0.05 : 0.1));
    CHECK(touch.place == Approx(0.5f).margin(0.01));
    CHECK(touch.step == Approx(60 * speed / gravity).margin(2));
    REQUIRE(heard.ended.size() == 1);
    CHECK(heard.ended[0].pair == touch.pair);
    CHECK(heard.ended[0].step >= 120);
}

kiai::with::StrikeSettings settings(bool by_speed) {
    return {.full = 10, .least = 0.05f, .by_speed = by_speed, .scale = 100, .left = -400, .right = 400};
}

} // namespace

TEST_CASE("Box2D: a ball that falls and is lifted is one touch, as hard as it was fast", "[with]") {
    for (const bool by_speed : {false, true}) {
        INFO(by_speed);
        kiai::Engine engine{kiai::Project()};
        Heard heard(engine);
        b2World world({0, -gravity});
        const auto kind_of = [](b2Fixture& fixture) {
            return std::string_view(reinterpret_cast<const char*>(fixture.GetUserData().pointer));
        };
        kiai::with::Box2dContacts contacts(engine, kind_of, settings(by_speed));
        world.SetContactListener(&contacts);
        const auto add = [&](b2BodyType type, b2Vec2 at, const b2Shape& shape, const char* kind, bool sensor = false) {
            b2BodyDef body;
            body.type = type, body.position = at;
            b2FixtureDef fixture;
            fixture.shape = &shape, fixture.density = 1, fixture.isSensor = sensor;
            fixture.userData.pointer = reinterpret_cast<std::uintptr_t>(kind);
            b2Body* const made = world.CreateBody(&body);
            made->CreateFixture(&fixture);
            return made;
        };
        b2PolygonShape floor;
        floor.SetAsBox(20, 1);
        b2CircleShape round;
        round.m_radius = radius;
        add(b2_staticBody, {0, -1}, floor, "floor");
        b2Body* const ball = add(b2_dynamicBody, {2, height}, round, "ball");
        add(b2_staticBody, {2, 3}, round, "", true); // what has no kind is not reported
        for (int step = 0; step < 150; ++step) {
            if (step == 120) ball->SetTransform({2, height}, 0), ball->SetLinearVelocity({0, 20});
            world.Step(1 / 60.0f, 8, 3);
            heard.step();
        }
        heard.finish();
        check_fall(heard, by_speed);
    }
}

TEST_CASE("Chipmunk: a ball that falls and is lifted is one touch, as hard as it was fast", "[with]") {
    for (const bool by_speed : {false, true}) {
        INFO(by_speed);
        kiai::Engine engine{kiai::Project()};
        Heard heard(engine);
        cpSpace* const space = cpSpaceNew();
        cpSpaceSetGravity(space, cpv(0, -gravity));
        cpSpaceSetIterations(space, 20);
        cpShape* const floor = cpSegmentShapeNew(cpSpaceGetStaticBody(space), cpv(-20, -1), cpv(20, -1), 1);
        cpBody* const ball = cpBodyNew(2, cpMomentForCircle(2, 0, radius, cpvzero));
        cpBodySetPosition(ball, cpv(2, height));
        cpShape* const round = cpCircleShapeNew(ball, radius, cpvzero);
        static const char *const floor_kind = "floor", *const ball_kind = "ball";
        cpShapeSetUserData(floor, const_cast<char*>(floor_kind));
        cpShapeSetUserData(round, const_cast<char*>(ball_kind));
        cpSpaceAddShape(space, floor), cpSpaceAddBody(space, ball), cpSpaceAddShape(space, round);
        {
            const kiai::with::ChipmunkContacts contacts(
                engine, space,
                [](cpShape& shape) { return std::string_view(static_cast<const char*>(cpShapeGetUserData(&shape))); },
                settings(by_speed));
            for (int step = 0; step < 150; ++step) {
                if (step == 120) cpBodySetPosition(ball, cpv(2, height)), cpBodySetVelocity(ball, cpv(0, 20));
                cpSpaceStep(space, 1 / 60.0);
                heard.step();
            }
        }
        heard.finish();
        check_fall(heard, by_speed);
        cpSpaceRemoveShape(space, floor), cpSpaceRemoveShape(space, round), cpSpaceRemoveBody(space, ball);
        cpShapeFree(floor), cpShapeFree(round), cpBodyFree(ball), cpSpaceFree(space);
    }
}
