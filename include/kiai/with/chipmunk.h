// Contacts of Chipmunk 7: `kiai::with::ChipmunkContacts contacts(bench, space, kind_of);`
#pragma once

#include <kiai/engine.h>
#include <kiai/with/strike.h>

#include <chipmunk/chipmunk.h>

#include <cmath>
#include <cstdint>
#include <functional>
#include <string>
#include <string_view>
#include <utility>

namespace kiai::with {

/// Reports the contacts of shapes that have a kind: the start with strength and place, and the end. Uses the default
/// collision handler of the space, and restores it when destroyed. Runs on the thread that steps the space. The engine
/// and the space must outlive it.
class ChipmunkContacts {
  public:
    /// Returns the kind of a shape, as in kiai.toml; empty: its contacts are not reported.
    using KindOf = std::function<std::string_view(cpShape&)>;

    ChipmunkContacts(Engine& engine, cpSpace* space, KindOf kind_of, const StrikeSettings& settings = {})
        : engine_(engine), kind_of_(std::move(kind_of)), settings_(settings),
          handler_(cpSpaceAddDefaultCollisionHandler(space)), before_(*handler_) {
        handler_->userData = this;
        handler_->beginFunc = [](cpArbiter* arbiter, cpSpace*, cpDataPointer self) -> cpBool {
            return static_cast<ChipmunkContacts*>(self)->begin(arbiter);
        };
        handler_->postSolveFunc = [](cpArbiter* arbiter, cpSpace*, cpDataPointer self) {
            static_cast<ChipmunkContacts*>(self)->solved(arbiter);
        };
        handler_->separateFunc = [](cpArbiter* arbiter, cpSpace*, cpDataPointer self) {
            const auto pair = reinterpret_cast<std::uintptr_t>(cpArbiterGetUserData(arbiter));
            if (pair != 0) static_cast<ChipmunkContacts*>(self)->engine_.contact_end(pair);
            cpArbiterSetUserData(arbiter, nullptr);
        };
    }
    ~ChipmunkContacts() {
        handler_->userData = before_.userData;
        handler_->beginFunc = before_.beginFunc;
        handler_->postSolveFunc = before_.postSolveFunc;
        handler_->separateFunc = before_.separateFunc;
    }
    ChipmunkContacts(const ChipmunkContacts&) = delete;
    ChipmunkContacts& operator=(const ChipmunkContacts&) = delete;

  private:
    using Two = std::pair<cpShape*, cpShape*>;

    static Two lighter_first(const cpArbiter* arbiter) {
        Two two;
        cpArbiterGetShapes(arbiter, &two.first, &two.second);
        if (weight(two.second) < weight(two.first)) std::swap(two.first, two.second);
        return two;
    }
    /// A static body counts as the heavier one.
    static double weight(cpShape* shape) {
        cpBody* const body = cpShapeGetBody(shape);
        return cpBodyGetType(body) == CP_BODY_TYPE_DYNAMIC ? cpBodyGetMass(body) : INFINITY;
    }
    cpBool begin(cpArbiter* arbiter) {
        cpArbiterSetUserData(arbiter, nullptr);
        const auto [light, heavy] = lighter_first(arbiter);
        if (settings_.by_speed || cpShapeGetSensor(light) || cpShapeGetSensor(heavy)) {
            const cpVect at = cpArbiterGetCount(arbiter) > 0 ? cpArbiterGetPointA(arbiter, 0) : cpvzero;
            const cpVect relative = cpvsub(cpBodyGetVelocityAtWorldPoint(cpShapeGetBody(heavy), at),
                                           cpBodyGetVelocityAtWorldPoint(cpShapeGetBody(light), at));
            strike(arbiter, std::fabs(cpvdot(relative, cpArbiterGetNormal(arbiter))));
        }
        return cpTrue;
    }
    void solved(cpArbiter* arbiter) {
        if (settings_.by_speed || cpArbiterGetUserData(arbiter)) return;
        const double mass = weight(lighter_first(arbiter).first);
        if (std::isfinite(mass) && mass > 0)
            strike(arbiter, std::fabs(cpvdot(cpArbiterTotalImpulse(arbiter), cpArbiterGetNormal(arbiter))) / mass);
    }
    void strike(cpArbiter* arbiter, double speed) {
        const auto [light, heavy] = lighter_first(arbiter);
        const std::string kind(kind_of_(*light)), other(kind_of_(*heavy));
        const float strength = settings_.strength(static_cast<float>(speed));
        if (kind.empty() || other.empty() || strength < settings_.least) return;
        const std::uintptr_t pair = ++pairs_;
        cpArbiterSetUserData(arbiter, reinterpret_cast<cpDataPointer>(pair));
        const float x = static_cast<float>(cpBodyGetPosition(cpShapeGetBody(light)).x);
        engine_.contact(kind, other, {.strength = strength, .place = settings_.place(x), .pair = pair});
    }

    Engine& engine_;
    KindOf kind_of_;
    StrikeSettings settings_;
    cpCollisionHandler* handler_;
    cpCollisionHandler before_;
    std::uintptr_t pairs_ = 0;
};

} // namespace kiai::with
