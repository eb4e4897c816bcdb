// Bodies whose places the app reports: Kiai finds out itself which of them touch.
#pragma once

#include "triggers/bindings.h"
#include "triggers/happening.h"

#include <vector>

namespace kiai::triggers {

class Bodies {
  public:
    static constexpr std::size_t most = 512;
    /// [control]
    Bodies(const std::vector<model::Binding>& bindings, const Bindings& found, Hub& hub, int rate);

    void go_on_from(Bodies& other) noexcept {
        bodies_.swap(other.bodies_);
        touching_.swap(other.touching_);
        used_ = other.used_;
    }
    /// A body of the app's own number is at a place now: a circle of radius `half_width`, or where `half_height` is
    /// above 0 an upright box. `happening.name` is its kind. [rt]
    void put(Happening happening, std::uint64_t number, Point middle, float half_width, float half_height,
             Frames now) noexcept;
    /// It is nowhere any more: its touches end. [rt]
    void gone(std::uint64_t number) noexcept;

  private:
    struct Body {
        std::uint64_t number = 0; ///< 0: free
        engine::NameId kind = engine::no_name;
        double x = 0, y = 0, half_width = 0, half_height = 0;
        double speed_x = 0, speed_y = 0; ///< per second, since its last report
        Frames since = 0;
        bool box() const noexcept { return half_height > 0; } ///< else a circle
    };
    int find(std::uint64_t number) const noexcept;
    static double apart(const Body& a, const Body& b) noexcept;
    static double closing(const Body& a, const Body& b) noexcept;
    /// Whether anything waits for these two kinds, and how far they have to part before they touch anew.
    bool bound(engine::NameId a, engine::NameId b, double& margin) const noexcept;
    std::vector<bool>::reference touching(std::size_t a, std::size_t b) noexcept;
    Holder holder_for(std::size_t a, std::size_t b) const noexcept;
    void part(std::size_t a, std::size_t b, bool lost) noexcept;

    const std::vector<model::Binding>& bindings_;
    const Bindings& found_;
    Hub& hub_;
    int rate_;
    std::vector<Body> bodies_;
    std::size_t used_ = 0;       ///< places that were ever used
    std::vector<bool> touching_; ///< of each two places
};

} // namespace kiai::triggers
