// The terminal that the tool runs in.
#pragma once

#include <chrono>
#include <memory>

namespace kiai::tool {

/// Returns true if a person sits at the terminal: standard input and standard output are one.
bool interactive();
/// Returns true if standard output is a terminal, not a file or a pipe.
bool prints_to_terminal();
/// The same of standard error.
bool reports_to_terminal();

enum class KeyPress { none, other, space, left, right, add, quit };

/// Delivers key presses at once, without an echo, while it exists. Restores the terminal at its end, and after SIGINT
/// and SIGTERM, which count as `quit`.
class Keyboard {
  public:
    Keyboard();
    ~Keyboard();

    /// Waits for a key, at most that long. The arrow keys, and the letters `n` and `p`, go right and left.
    KeyPress read(std::chrono::milliseconds most) const;

  private:
    struct State;
    std::unique_ptr<State> state_;
};

} // namespace kiai::tool
