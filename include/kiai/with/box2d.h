// Contacts of Box2D 2.4: `kiai::with::Box2dContacts contacts(bench, kind_of); world.SetContactListener(&contacts);`
#pragma once

#include <kiai/engine.h>
#include <kiai/with/strike.h>

#include <box2d/box2d.h>

#include <cmath>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <utility>

namespace kiai::with {

/// Reports the contacts of fixtures that have a kind: the start with strength and place, and the end. `Reports`: the
/// engine, or another type with `contact` and `contact_end`. Runs on the thread that steps the world.
template<class Reports = Engine>
class Box2dContacts : public b2ContactListener {
  public:
    /// Returns the kind of a fixture, as in kiai.toml; empty: its contacts are not reported.
    using KindOf = std::function<std::string_view(b2Fixture&)>;

    Box2dContacts(Reports& reports, KindOf kind_of, const StrikeSettings& settings = {})
        : reports_(reports), kind_of_(std::move(kind_of)), settings_(settings) {}

    void BeginContact(b2Contact* contact) override {
        touching_[contact] = 0;
        const bool felt = contact->GetFixtureA()->IsSensor() || contact->GetFixtureB()->IsSensor();
        if (settings_.by_speed || felt) strike(contact, approach(*contact)); // a sensor is given no impulse
    }
    void PostSolve(b2Contact* contact, const b2ContactImpulse* impulse) override {
        const auto found = touching_.find(contact);
        if (settings_.by_speed || found == touching_.end() || found->second != 0) return;
        const float mass = lighter_first(*contact).first->GetBody()->GetMass();
        if (mass > 0) strike(contact, impulse->normalImpulses[0] / mass);
    }
    void EndContact(b2Contact* contact) override {
        const auto found = touching_.find(contact);
        if (found == touching_.end()) return;
        if (found->second != 0) reports_.contact_end(found->second);
        touching_.erase(found);
    }

  private:
    using Two = std::pair<b2Fixture*, b2Fixture*>;

    /// A static body has the mass 0, and counts as the heavier one.
    static Two lighter_first(b2Contact& contact) {
        Two two{contact.GetFixtureA(), contact.GetFixtureB()};
        const float a = two.first->GetBody()->GetMass(), b = two.second->GetBody()->GetMass();
        if (a <= 0 || (b > 0 && b < a)) std::swap(two.first, two.second);
        return two;
    }
    static float approach(b2Contact& contact) {
        b2WorldManifold manifold;
        contact.GetWorldManifold(&manifold);
        const b2Body &a = *contact.GetFixtureA()->GetBody(), &b = *contact.GetFixtureB()->GetBody();
        if (contact.GetManifold()->pointCount == 0) // a sensor has no point of contact
            return (b.GetLinearVelocity() - a.GetLinearVelocity()).Length();
        const b2Vec2 relative = b.GetLinearVelocityFromWorldPoint(manifold.points[0]) -
                                a.GetLinearVelocityFromWorldPoint(manifold.points[0]);
        return std::fabs(b2Dot(relative, manifold.normal));
    }
    void strike(b2Contact* contact, float speed) {
        const auto [light, heavy] = lighter_first(*contact);
        const std::string kind(kind_of_(*light)), other(kind_of_(*heavy));
        const float strength = settings_.strength(speed);
        if (kind.empty() || other.empty() || strength < settings_.least) return;
        const std::uint64_t pair = touching_[contact] = ++pairs_;
        reports_.contact(kind, other, Contact{strength, settings_.place(light->GetBody()->GetPosition().x), pair});
    }

    Reports& reports_;
    KindOf kind_of_;
    StrikeSettings settings_;
    std::unordered_map<b2Contact*, std::uint64_t> touching_; ///< with the pair number; 0: not reported yet
    std::uint64_t pairs_ = 0;
};

} // namespace kiai::with
