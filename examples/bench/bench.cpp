#include "bench.h"

#include <algorithm>
#include <cmath>

namespace {

constexpr float metre = 100; // pixels
constexpr float gravity = 9.81f, wheel_radius = 46, wheel_x = 330, wheel_y = 462, turns_per_second = 0.5f;
constexpr float full_strength = 6; // metres per second: about the hardest that the bench can strike
constexpr const char* marble_kind = "marble";
constexpr const char* kinds[] = {"oak", "brass", "glass"};

b2Vec2 metres(Place place) {
    return {place.x / metre, place.y / metre};
}

const char* kind_of(b2Fixture& fixture) {
    return reinterpret_cast<const char*>(fixture.GetUserData().pointer);
}

b2FixtureDef made_of(const b2Shape& shape, const char* kind, float bounce) {
    b2FixtureDef fixture;
    fixture.shape = &shape;
    fixture.density = 2.5f;
    fixture.friction = 0.25f;
    fixture.restitution = bounce;
    fixture.userData.pointer = reinterpret_cast<std::uintptr_t>(kind);
    return fixture;
}

} // namespace

Bench::Bench()
    : world_(std::make_unique<b2World>(b2Vec2(0, gravity))),
      contacts_(happened_, kind_of, {.full = full_strength, .least = 0.02f, .scale = metre, .left = 0, .right = 720}) {
    world_->SetContactListener(&contacts_);
    add_line({{84, 96}, {150, 122}, {392, 245}}, "oak"); // the chute
    add_line({{350, 296}, {416, 348}}, "glass");         // the funnel
    add_line({{545, 180}, {545, 292}, {446, 348}}, "glass");
    add_line({{196, 430}, {240, 500}, {240, 566}, {480, 566}, {480, 500}, {548, 440}}, "oak"); // the tray
    for (const Place peg : {Place{428, 258}, {466, 258}, {504, 258}, {447, 296}, {485, 296}}) {
        b2BodyDef at;
        at.position = metres(peg);
        b2CircleShape round;
        round.m_radius = 5 / metre;
        const b2FixtureDef brass = made_of(round, "brass", 0.45f);
        world_->CreateBody(&at)->CreateFixture(&brass);
    }
    b2BodyDef hub;
    hub.type = b2_kinematicBody;
    hub.position = metres({wheel_x, wheel_y});
    hub.angularVelocity = -2 * b2_pi * turns_per_second;
    wheel_ = world_->CreateBody(&hub);
    for (int paddle = 0; paddle < 3; ++paddle) {
        const float angle = 2 * b2_pi * static_cast<float>(paddle) / 3;
        b2PolygonShape blade;
        blade.SetAsBox(wheel_radius / 2 / metre, 2.5f / metre,
                       {std::cos(angle) * wheel_radius / 2 / metre, std::sin(angle) * wheel_radius / 2 / metre}, angle);
        const b2FixtureDef oak = made_of(blade, "oak", 0.1f);
        wheel_->CreateFixture(&oak);
    }
    set_piece(1);
}

b2Body* Bench::add_line(const std::vector<Place>& points, const char* kind) {
    std::vector<b2Vec2> corners;
    for (const Place point : points) corners.push_back(metres(point));
    b2BodyDef still;
    b2Body* const body = world_->CreateBody(&still);
    for (std::size_t i = 1; i < corners.size(); ++i) {
        b2EdgeShape edge;
        edge.SetTwoSided(corners[i - 1], corners[i]);
        const b2FixtureDef fixture = made_of(edge, kind, 0.35f);
        body->CreateFixture(&fixture);
    }
    return body;
}

void Bench::set_piece(int piece) {
    piece_ = piece;
    if (plank_) world_->DestroyBody(plank_);
    plank_ = add_line({{478, 392}, {388, 420}}, kinds[piece - 1]);
}

bool Bench::drop() {
    if (stock_ == 0) return false;
    --stock_;
    ++dropped_;
    b2BodyDef moving;
    moving.type = b2_dynamicBody;
    moving.position = metres({118 + static_cast<float>(numbers_ % 5), 84});
    moving.linearDamping = 0.05f;
    b2CircleShape round;
    round.m_radius = marble_radius / metre;
    const b2FixtureDef glass = made_of(round, marble_kind, 0.3f);
    Marble marble;
    marble.number = ++numbers_;
    marble.body = world_->CreateBody(&moving);
    marble.body->CreateFixture(&glass);
    marbles_.push_back(marble);
    return true;
}

Place Bench::place_of(const Marble& marble) const {
    return {marble.body->GetPosition().x * metre, marble.body->GetPosition().y * metre};
}

float Bench::speed_of(const Marble& marble) const {
    return marble.body->GetLinearVelocity().Length();
}

int Bench::in_tray() const {
    return static_cast<int>(std::count_if(marbles_.begin(), marbles_.end(), [](const Marble& m) { return m.in_tray; }));
}

Happened Bench::step() {
    happened_ = {};
    world_->SetGravity({tilted_ > 0 ? 4.0f : 0.0f, gravity});
    tilted_ = std::max(0, tilted_ - 1);
    world_->Step(step_seconds, 8, 3);
    turn_ += turns_per_second * step_seconds;
    turn_ -= std::floor(turn_);
    for (Marble& marble : marbles_) marble.touching = 0;
    for (b2Contact* contact = world_->GetContactList(); contact; contact = contact->GetNext())
        for (Marble& marble : marbles_)
            if (contact->IsTouching() &&
                (contact->GetFixtureA()->GetBody() == marble.body || contact->GetFixtureB()->GetBody() == marble.body))
                ++marble.touching;
    carry();
    look_at_tray();
    return std::move(happened_);
}

/// Carries one marble after another from the tray to the hopper.
void Bench::carry() {
    constexpr int steps_each = 30;
    const float to = lifting_ ? 1.0f : 0.0f;
    lift_ += std::clamp(to - lift_, -0.02f, 0.02f);
    if (!lifting_ || ++since_lift_ < steps_each) return;
    since_lift_ = 0;
    const auto next = std::find_if(marbles_.begin(), marbles_.end(), [](const Marble& m) { return m.in_tray; });
    if (next == marbles_.end()) return;
    happened_.gone.push_back(next->number);
    world_->DestroyBody(next->body);
    marbles_.erase(next);
    ++stock_;
}

void Bench::look_at_tray() {
    bool all = !marbles_.empty();
    for (Marble& marble : marbles_) {
        const Place at = place_of(marble);
        marble.in_tray = at.x > 240 && at.x < 480 && at.y > 505;
        all = all && marble.in_tray && speed_of(marble) < 0.3f;
    }
    for (auto marble = marbles_.begin(); marble != marbles_.end();) { // fallen off the bench: back into the hopper
        if (place_of(*marble).y < 700) {
            ++marble;
            continue;
        }
        happened_.gone.push_back(marble->number);
        world_->DestroyBody(marble->body);
        marble = marbles_.erase(marble);
        ++stock_;
    }
    if (all && dropped_ >= 3) {
        happened_.run_complete = true;
        dropped_ = 0;
    }
    happened_.tray_emptied = was_filled_ && in_tray() == 0;
    was_filled_ = in_tray() > 0;
}
