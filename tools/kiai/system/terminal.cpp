#include "terminal.h"

#include <atomic>
#include <csignal>

#include <poll.h>
#include <termios.h>
#include <unistd.h>

namespace kiai::tool {
namespace {

std::atomic<bool> ended{false};

} // namespace

struct Keyboard::State {
    termios before{};
    bool changed = false;
};

bool interactive() {
    return isatty(STDIN_FILENO) == 1 && prints_to_terminal();
}

bool prints_to_terminal() {
    return isatty(STDOUT_FILENO) == 1;
}

bool reports_to_terminal() {
    return isatty(STDERR_FILENO) == 1;
}

Keyboard::Keyboard() : state_(std::make_unique<State>()) {
    if (tcgetattr(STDIN_FILENO, &state_->before) != 0) return;
    termios raw = state_->before;
    raw.c_lflag &= ~static_cast<tcflag_t>(ICANON | ECHO);
    raw.c_cc[VMIN] = 0;
    raw.c_cc[VTIME] = 0;
    state_->changed = tcsetattr(STDIN_FILENO, TCSANOW, &raw) == 0;
    ended = false;
    for (const int signal : {SIGINT, SIGTERM}) std::signal(signal, [](int) { ended = true; });
}

Keyboard::~Keyboard() {
    for (const int signal : {SIGINT, SIGTERM}) std::signal(signal, SIG_DFL);
    if (state_->changed) tcsetattr(STDIN_FILENO, TCSANOW, &state_->before);
}

KeyPress Keyboard::read(std::chrono::milliseconds most) const {
    const auto next = [](int wait) -> int { // a byte, 0 after the wait, or -1 if the terminal is gone
        pollfd input{STDIN_FILENO, POLLIN, 0};
        if (poll(&input, 1, wait) <= 0) return 0;
        unsigned char byte = 0;
        return ::read(STDIN_FILENO, &byte, 1) == 1 ? byte : -1;
    };
    const int byte = ended ? -1 : next(static_cast<int>(most.count()));
    if (byte < 0 || ended) return KeyPress::quit;
    constexpr int rest_of_key = 20; // milliseconds: an arrow key sends its bytes together
    switch (byte) {
    case 0:
        return KeyPress::none;
    case ' ':
        return KeyPress::space;
    case 'n':
        return KeyPress::right;
    case 'p':
        return KeyPress::left;
    case 'a':
        return KeyPress::add;
    case 'q':
    case 4: // Ctrl-D
        return KeyPress::quit;
    case 27: {
        const int second = next(rest_of_key);
        if (second != '[' && second != 'O') return KeyPress::quit; // the escape key alone
        const int third = next(rest_of_key);
        return third == 'C' ? KeyPress::right : third == 'D' ? KeyPress::left : KeyPress::other;
    }
    default:
        return KeyPress::other;
    }
}

} // namespace kiai::tool
