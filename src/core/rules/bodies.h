// Tests bodies whose positions the app reports for contacts.
#pragma once

#include "core/rules/bindings.h"
#include "core/rules/body_grid.h"
#include "core/rules/event.h"

#include <array>
#include <map>
#include <vector>

namespace kiai::rules {

class Bodies {
  public:
    static constexpr std::size_t most = 512;
    /// [control]
    Bodies(const std::vector<model::Binding>& bindings, model::NameTable& names, Hub& hub);

    void go_on_from(Bodies& other) noexcept;
    /// Moves a body of the app's number to a position at a moment, in seconds of any one clock: a circle of radius
    /// `half_width`, or an upright box if `half_height` is above 0. `event.name` is its kind. [rt]
    void put(const Event& event, std::uint64_t number, Point middle, double half_width, double half_height,
             double moment) noexcept;
    /// Calls `use` with each body: number, kind, middle, half width, half height, moment. [rt]
    template<class Use>
    void for_each(const Use& use) const noexcept {
        for (const Body& body : bodies_)
            if (body.number != 0)
                use(body.number, body.kind, Point{static_cast<float>(body.x), static_cast<float>(body.y)},
                    body.half_width, body.half_height, body.moment);
    }
    /// Removes a body and ends its contacts. [rt]
    void gone(std::uint64_t number) noexcept;

  private:
    struct Body {
        std::uint64_t number = 0; ///< 0: free
        model::NameId kind = model::no_name;
        int kind_index = -1; ///< among the kinds that bindings name; -1: none names it
        double x = 0, y = 0, half_width = 0, half_height = 0;
        double speed_x = 0, speed_y = 0; ///< per second, since its last report
        double moment = 0;
        bool box() const noexcept { return half_height > 0; } ///< else a circle
        double reach() const noexcept { return half_width > half_height ? half_width : half_height; }
    };
    int find(std::uint64_t number) const noexcept;
    int claim(std::uint64_t number) noexcept;
    void release(int at) noexcept;
    int kind_index(model::NameId kind) const noexcept;
    static bool surely_apart(const Body& a, const Body& b) noexcept;
    static double distance(const Body& a, const Body& b) noexcept;
    static double closing(const Body& a, const Body& b) noexcept;
    /// Returns how far two kinds must part before they can touch again; below 0 if nothing is bound to them.
    double margin(int kind, int other) const noexcept;
    Holder holder_for(int a, int b) const noexcept;
    void part(int a, int b, bool lost) noexcept;

    Hub& hub_;
    std::vector<model::NameId> kinds_;            ///< that bindings name, ascending
    std::map<std::pair<int, int>, double> bound_; ///< margin of each two of them that a binding names, either order
    double largest_margin_ = 0;
    std::vector<Body> bodies_;
    std::vector<std::int16_t> by_number_; ///< open addressing: places in `bodies_`; -1: empty
    std::vector<std::int16_t> free_;
    BodyGrid grid_;
    std::vector<BodySet> touching_; ///< by body
};

} // namespace kiai::rules
