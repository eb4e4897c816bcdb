// The adapters for input, with the real libraries: what they report for events, and that every key has the right code.
#include "core/model/key_codes.h"
#include "support/project_folder.h"

#include <kiai/kiai.h>
#include <kiai/with/glfw.h>
#include <kiai/with/sdl2.h>

#include <catch2/catch.hpp>

#include <set>
#include <string>

using namespace support;

namespace {

const char* const stage = "[clip]\ntone = \"tone.wav\"\n[sound.s]\ntakes = [\"tone\"]\n"
                          "[zone.left]\nrectangle = { x = 0, y = 0, width = 100, height = 100 }\n"
                          "[zone.right]\nrectangle = { x = 100, y = 0, width = 100, height = 100 }\n"
                          "[[binding]]\ntrigger = { press = \"left\" }\naction = { hold = \"s\" }\n"
                          "[[binding]]\ntrigger = { press = \"right\" }\naction = { hold = \"s\" }\n"
                          "[[binding]]\ntrigger = { enter = \"left\" }\naction = { play = \"s\" }\n"
                          "[[binding]]\ntrigger = { leave = \"left\" }\naction = { play = \"s\" }\n"
                          "[[binding]]\ntrigger = { key-down = \"KeyT\" }\naction = { hold = \"s\" }\n";

/// What was reported to an engine, according to the trace of a recording.
struct Recorded {
    Recorded() : engine((folder.write("tone.wav", wav_bytes(sine(440, 0.1, 4800))), folder.load())) {
        engine.set_log({});
        engine.set_findings({});
        engine.start_recording();
    }
    /// Returns `press 10,20 #0`, one line each.
    std::string reports() {
        render(engine, 64);
        engine.poll();
        std::string all;
        for (const kiai::TraceLine& line : engine.stop_recording().lines) {
            const kiai::Report& one = line.report;
            if (one.kind == kiai::ReportKind::counted) continue;
            all += to_string(one.kind);
            if (!one.name.empty()) all += ' ' + one.name;
            if (one.kind == kiai::ReportKind::press || one.kind == kiai::ReportKind::pointer)
                all += ' ' + std::to_string(static_cast<int>(one.point.x)) + ',' +
                       std::to_string(static_cast<int>(one.point.y));
            if (one.pointer != 0) all += " #" + std::to_string(one.pointer);
            all += '\n';
        }
        engine.start_recording();
        return all;
    }
    ProjectFolder folder{stage};
    kiai::Engine engine;
};

SDL_Event mouse(std::uint32_t type, int x, int y, std::uint8_t button = SDL_BUTTON_LEFT, std::uint32_t which = 0) {
    SDL_Event event{};
    event.type = type;
    if (type == SDL_MOUSEMOTION) {
        event.motion.x = x, event.motion.y = y, event.motion.which = which;
    } else {
        event.button.x = x, event.button.y = y, event.button.button = button, event.button.which = which;
    }
    return event;
}

SDL_Event key(std::uint32_t type, SDL_Scancode code, std::uint8_t repeat = 0) {
    SDL_Event event{};
    event.type = type;
    event.key.keysym.scancode = code;
    event.key.repeat = repeat;
    return event;
}

SDL_Event window_event(std::uint8_t what) {
    SDL_Event event{};
    event.type = SDL_WINDOWEVENT;
    event.window.event = what;
    return event;
}

} // namespace

TEST_CASE("Events of SDL2 reach the engine through its own queue", "[with]") {
    SDL_SetHint(SDL_HINT_VIDEODRIVER, "dummy");
    REQUIRE(SDL_Init(SDL_INIT_VIDEO) == 0);
    SDL_Window* const window = SDL_CreateWindow("stage", 0, 0, 400, 200, 0);
    REQUIRE(window);
    for (SDL_Event event; SDL_PollEvent(&event);) continue;
    Recorded recorded;
    const kiai::with::View view{2, {20, 0}}; // two pixels a unit, 20 pixels in
    int taken = 0;
    const auto pass = [&](SDL_Event event) {
        REQUIRE(SDL_PushEvent(&event) == 1);
        for (SDL_Event next; SDL_PollEvent(&next);) taken += kiai::with::sdl2(recorded.engine, next, view) ? 1 : 0;
    };
    pass(mouse(SDL_MOUSEMOTION, 40, 40));
    pass(mouse(SDL_MOUSEBUTTONDOWN, 40, 40));
    pass(mouse(SDL_MOUSEBUTTONUP, 300, 40));
    pass(mouse(SDL_MOUSEBUTTONDOWN, 40, 40, SDL_BUTTON_RIGHT));
    pass(mouse(SDL_MOUSEBUTTONDOWN, 40, 40, SDL_BUTTON_LEFT, SDL_TOUCH_MOUSEID));
    pass(key(SDL_KEYDOWN, SDL_SCANCODE_T));
    pass(key(SDL_KEYDOWN, SDL_SCANCODE_T, 1));
    pass(key(SDL_KEYUP, SDL_SCANCODE_T));
    pass(key(SDL_KEYDOWN, SDL_SCANCODE_UNKNOWN));
    SDL_Event wheel{};
    wheel.type = SDL_MOUSEWHEEL;
    pass(wheel);
    pass(window_event(SDL_WINDOWEVENT_LEAVE));
    pass(window_event(SDL_WINDOWEVENT_FOCUS_LOST));
    CHECK(taken == 7);
    CHECK(recorded.reports() == "pointer 10,20\npress 10,20\nrelease\nkey-down KeyT\nkey-up KeyT\npointer-gone\n"
                                "input-lost\n");
    SDL_Event finger{};
    finger.type = SDL_FINGERDOWN;
    finger.tfinger.fingerId = 6;
    finger.tfinger.windowID = SDL_GetWindowID(window);
    finger.tfinger.x = 0.5f, finger.tfinger.y = 0.25f;
    pass(finger);
    finger.type = SDL_FINGERMOTION, finger.tfinger.x = 0.25f;
    pass(finger);
    finger.type = SDL_FINGERUP;
    pass(finger);
    CHECK(recorded.reports() == "press 90,25 #7\npointer 40,25 #7\nrelease #7\npointer-gone #7\n");
    SDL_DestroyWindow(window);
    SDL_Quit();
}

TEST_CASE("Every key of SDL2 and GLFW has a code that the engine knows, and the one that SDL2 names so", "[with]") {
    std::set<std::string_view> codes;
    for (int key = 0; key < SDL_NUM_SCANCODES; ++key) {
        const std::string_view code = kiai::with::code_of(static_cast<SDL_Scancode>(key));
        if (code.empty()) continue;
        INFO(key << " " << code);
        CHECK(kiai::model::is_key_code(std::string(code)));
        codes.insert(code);
    }
    CHECK(codes.size() >= 130);
    using kiai::with::code_of;
    for (char letter = 'A'; letter <= 'Z'; ++letter)
        CHECK(code_of(SDL_GetScancodeFromName(std::string(1, letter).c_str())) == std::string("Key") + letter);
    for (char digit = '0'; digit <= '9'; ++digit) {
        CHECK(code_of(SDL_GetScancodeFromName(std::string(1, digit).c_str())) == std::string("Digit") + digit);
        CHECK(code_of(SDL_GetScancodeFromName((std::string("Keypad ") + digit).c_str())) ==
              std::string("Numpad") + digit);
    }
    const std::pair<const char*, const char*> named[] = {{"Space", "Space"},
                                                         {"Return", "Enter"},
                                                         {"Escape", "Escape"},
                                                         {"Tab", "Tab"},
                                                         {"Left Ctrl", "ControlLeft"},
                                                         {"Right Alt", "AltRight"},
                                                         {"Left", "ArrowLeft"},
                                                         {"PageDown", "PageDown"},
                                                         {"F1", "F1"},
                                                         {"F12", "F12"},
                                                         {"F24", "F24"},
                                                         {"Keypad Enter", "NumpadEnter"},
                                                         {"CapsLock", "CapsLock"},
                                                         {"`", "Backquote"},
                                                         {"/", "Slash"},
                                                         {"Right Shift", "ShiftRight"},
                                                         {"Keypad /", "NumpadDivide"},
                                                         {"Keypad .", "NumpadDecimal"},
                                                         {"Keypad =", "NumpadEqual"},
                                                         {"Insert", "Insert"},
                                                         {"Pause", "Pause"},
                                                         {"Numlock", "NumLock"},
                                                         {"Application", "ContextMenu"},
                                                         {"Delete", "Delete"}};
    for (const auto& [name, code] : named) {
        INFO(name);
        CHECK(code_of(SDL_GetScancodeFromName(name)) == code);
    }
    std::set<std::string_view> of_glfw;
    for (int key = 0; key <= GLFW_KEY_LAST; ++key) {
        const std::string_view code = kiai::with::code_of_glfw(key);
        if (code.empty()) continue;
        INFO(key << " " << code);
        CHECK(kiai::model::is_key_code(std::string(code)));
        CHECK(of_glfw.insert(code).second);
    }
    CHECK(of_glfw.size() >= 115);
    CHECK(kiai::with::code_of_glfw(GLFW_KEY_T) == "KeyT");
    CHECK(kiai::with::code_of_glfw(GLFW_KEY_KP_ADD) == "NumpadAdd");
    CHECK(kiai::with::code_of_glfw(GLFW_KEY_LEFT_SUPER) == "MetaLeft");
}

TEST_CASE("Callbacks of a GLFW window reach the engine, and the app's own", "[with-window]") {
    REQUIRE(glfwInit());
    glfwWindowHint(GLFW_CLIENT_API, GLFW_NO_API);
    GLFWwindow* const window = glfwCreateWindow(400, 200, "stage", nullptr, nullptr);
    REQUIRE(window);
    static int own = 0;
    own = 0;
    const GLFWkeyfun before = [](GLFWwindow*, int, int, int, int) { ++own; };
    glfwSetKeyCallback(window, before);
    Recorded recorded;
    {
        const kiai::with::Glfw input(recorded.engine, window, {2, {}});
        // Removes each callback for a moment, and calls it as the library would.
        const auto key_call = glfwSetKeyCallback(window, nullptr);
        const auto place_call = glfwSetCursorPosCallback(window, nullptr);
        const auto button_call = glfwSetMouseButtonCallback(window, nullptr);
        const auto enter_call = glfwSetCursorEnterCallback(window, nullptr);
        const auto focus_call = glfwSetWindowFocusCallback(window, nullptr);
        key_call(window, GLFW_KEY_T, 0, GLFW_PRESS, 0);
        key_call(window, GLFW_KEY_T, 0, GLFW_REPEAT, 0);
        key_call(window, GLFW_KEY_T, 0, GLFW_RELEASE, 0);
        key_call(window, GLFW_KEY_UNKNOWN, 0, GLFW_PRESS, 0);
        place_call(window, 40, 60);
        button_call(window, GLFW_MOUSE_BUTTON_RIGHT, GLFW_PRESS, 0);
        button_call(window, GLFW_MOUSE_BUTTON_LEFT, GLFW_PRESS, 0);
        button_call(window, GLFW_MOUSE_BUTTON_LEFT, GLFW_RELEASE, 0);
        enter_call(window, GLFW_TRUE);
        enter_call(window, GLFW_FALSE);
        focus_call(window, GLFW_FALSE);
        CHECK(own == 4);
        const std::string told = recorded.reports();
        CHECK(told.find("key-down KeyT\nkey-up KeyT\npointer 20,30\npress ") == 0);
        CHECK(told.find("\nrelease\npointer-gone\ninput-lost\n") != std::string::npos);
    }
    CHECK(glfwSetKeyCallback(window, nullptr) == before);
    glfwDestroyWindow(window);
    glfwTerminate();
}
