// From a report to its bindings' actions, with every edge rule on the way.
#pragma once

#include "engine/core.h"
#include "triggers/bindings.h"
#include "triggers/zones.h"

#include <array>
#include <vector>

namespace kiai::triggers {

constexpr int most_pointers = 16;

class Router final : public engine::Due {
  public:
    /// [control] `plan` and `names` outlive it. `most_reports`: that may be due at one frame.
    Router(const engine::Plan& plan, engine::NameTable& names, std::size_t most_reports);
    /// Where it writes what did not lead to a play. Before the first `serve`. [control]
    void write_to(engine::Journal& journal) noexcept { journal_ = &journal; }

    void serve(std::span<engine::Command> commands, engine::Plays& plays, Frames now) noexcept override;

  private:
    void strongest_first(std::span<engine::Command> commands) noexcept;
    void serve_one(const engine::Command& command, engine::Plays& plays) noexcept;
    void serve_report(const engine::Command& command, engine::Plays& plays, engine::Record cause) noexcept;
    void press(const engine::Command& command, engine::Plays& plays, engine::Record cause) noexcept;
    void key_down(const engine::Command& command, engine::Plays& plays, engine::Record cause) noexcept;
    void carry_out(const std::vector<int>* bindings, const engine::Command& command, engine::Plays& plays,
                   engine::Record cause) noexcept;
    void turn(const engine::Command& command, engine::Plays& plays, engine::Record cause) noexcept;
    void direct(const engine::Command& command, engine::Plays& plays, engine::Record cause) noexcept;
    void write(engine::Record record, Outcome outcome) noexcept;
    void say_once(bool& said, const engine::Record& cause) noexcept;

    const engine::Plan& plan_;
    engine::Journal* journal_ = nullptr;
    Zones zones_;
    std::vector<engine::NameId> zone_names_;
    Bindings bindings_;
    Frames now_ = 0;

    struct State {
        bool down = false;
        bool said = false; ///< that it was reported again while down
    };
    std::array<State, most_pointers> pointers_{};
    std::vector<State> keys_; ///< by name
    std::vector<engine::Command> contacts_;
};

} // namespace kiai::triggers
