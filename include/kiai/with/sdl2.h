// Input of SDL2: `while (SDL_PollEvent(&event)) kiai::with::sdl2(bench, event);`
#pragma once

#include <kiai/engine.h>
#include <kiai/with/view.h>

#include <SDL.h>

#include <array>
#include <cstdint>
#include <string_view>

namespace kiai::with {

/// Returns the W3C UI Events code of a key by its position on the keyboard, or an empty text.
inline std::string_view code_of(SDL_Scancode key) noexcept {
    // In the order of SDL's numbers, which are those of USB (HID usage tables, page 0x07).
    static constexpr std::array<std::string_view, 101> first{"KeyA",
                                                             "KeyB",
                                                             "KeyC",
                                                             "KeyD",
                                                             "KeyE",
                                                             "KeyF",
                                                             "KeyG",
                                                             "KeyH",
                                                             "KeyI",
                                                             "KeyJ",
                                                             "KeyK",
                                                             "KeyL",
                                                             "KeyM",
                                                             "KeyN",
                                                             "KeyO",
                                                             "KeyP",
                                                             "KeyQ",
                                                             "KeyR",
                                                             "KeyS",
                                                             "KeyT",
                                                             "KeyU",
                                                             "KeyV",
                                                             "KeyW",
                                                             "KeyX",
                                                             "KeyY",
                                                             "KeyZ",
                                                             "Digit1",
                                                             "Digit2",
                                                             "Digit3",
                                                             "Digit4",
                                                             "Digit5",
                                                             "Digit6",
                                                             "Digit7",
                                                             "Digit8",
                                                             "Digit9",
                                                             "Digit0",
                                                             "Enter",
                                                             "Escape",
                                                             "Backspace",
                                                             "Tab",
                                                             "Space",
                                                             "Minus",
                                                             "Equal",
                                                             "BracketLeft",
                                                             "BracketRight",
                                                             "Backslash",
                                                             "Backslash",
                                                             "Semicolon",
                                                             "Quote",
                                                             "Backquote",
                                                             "Comma",
                                                             "Period",
                                                             "Slash",
                                                             "CapsLock",
                                                             "F1",
                                                             "F2",
                                                             "F3",
                                                             "F4",
                                                             "F5",
                                                             "F6",
                                                             "F7",
                                                             "F8",
                                                             "F9",
                                                             "F10",
                                                             "F11",
                                                             "F12",
                                                             "PrintScreen",
                                                             "ScrollLock",
                                                             "Pause",
                                                             "Insert",
                                                             "Home",
                                                             "PageUp",
                                                             "Delete",
                                                             "End",
                                                             "PageDown",
                                                             "ArrowRight",
                                                             "ArrowLeft",
                                                             "ArrowDown",
                                                             "ArrowUp",
                                                             "NumLock",
                                                             "NumpadDivide",
                                                             "NumpadMultiply",
                                                             "NumpadSubtract",
                                                             "NumpadAdd",
                                                             "NumpadEnter",
                                                             "Numpad1",
                                                             "Numpad2",
                                                             "Numpad3",
                                                             "Numpad4",
                                                             "Numpad5",
                                                             "Numpad6",
                                                             "Numpad7",
                                                             "Numpad8",
                                                             "Numpad9",
                                                             "Numpad0",
                                                             "NumpadDecimal",
                                                             "IntlBackslash",
                                                             "ContextMenu",
                                                             "Power",
                                                             "NumpadEqual"};
    constexpr int begin = SDL_SCANCODE_A;
    if (key >= begin && key < begin + static_cast<int>(first.size()) - 1)
        return first[static_cast<std::size_t>(key - begin)];
    if (key >= SDL_SCANCODE_F13 && key <= SDL_SCANCODE_F24) {
        static constexpr std::array<std::string_view, 12> more{"F13", "F14", "F15", "F16", "F17", "F18",
                                                               "F19", "F20", "F21", "F22", "F23", "F24"};
        return more[static_cast<std::size_t>(key - SDL_SCANCODE_F13)];
    }
    switch (key) {
    case SDL_SCANCODE_KP_EQUALS:
        return "NumpadEqual";
    case SDL_SCANCODE_HELP:
        return "Help";
    case SDL_SCANCODE_MUTE:
    case SDL_SCANCODE_AUDIOMUTE:
        return "AudioVolumeMute";
    case SDL_SCANCODE_VOLUMEUP:
        return "AudioVolumeUp";
    case SDL_SCANCODE_VOLUMEDOWN:
        return "AudioVolumeDown";
    case SDL_SCANCODE_KP_COMMA:
        return "NumpadComma";
    case SDL_SCANCODE_INTERNATIONAL1:
        return "IntlRo";
    case SDL_SCANCODE_INTERNATIONAL2:
        return "KanaMode";
    case SDL_SCANCODE_INTERNATIONAL3:
        return "IntlYen";
    case SDL_SCANCODE_INTERNATIONAL4:
        return "Convert";
    case SDL_SCANCODE_INTERNATIONAL5:
        return "NonConvert";
    case SDL_SCANCODE_LANG1:
        return "Lang1";
    case SDL_SCANCODE_LANG2:
        return "Lang2";
    case SDL_SCANCODE_LANG3:
        return "Lang3";
    case SDL_SCANCODE_LANG4:
        return "Lang4";
    case SDL_SCANCODE_LANG5:
        return "Lang5";
    case SDL_SCANCODE_LCTRL:
        return "ControlLeft";
    case SDL_SCANCODE_LSHIFT:
        return "ShiftLeft";
    case SDL_SCANCODE_LALT:
        return "AltLeft";
    case SDL_SCANCODE_LGUI:
        return "MetaLeft";
    case SDL_SCANCODE_RCTRL:
        return "ControlRight";
    case SDL_SCANCODE_RSHIFT:
        return "ShiftRight";
    case SDL_SCANCODE_RALT:
        return "AltRight";
    case SDL_SCANCODE_RGUI:
        return "MetaRight";
    case SDL_SCANCODE_AUDIONEXT:
        return "MediaTrackNext";
    case SDL_SCANCODE_AUDIOPREV:
        return "MediaTrackPrevious";
    case SDL_SCANCODE_AUDIOSTOP:
        return "MediaStop";
    case SDL_SCANCODE_AUDIOPLAY:
        return "MediaPlayPause";
    default:
        return {};
    }
}

/// Returns the pointer number of a finger; the mouse is pointer 0.
inline std::uint64_t pointer_of(SDL_FingerID finger) noexcept {
    return static_cast<std::uint64_t>(finger) + 1;
}

/// Reports an event. Returns true if the event was input that Kiai uses. The left mouse button presses; the wheel,
/// other buttons and mouse events that SDL makes of touches are ignored. Each finger is a pointer. When the window
/// loses the focus, every press and key ends. When the mouse leaves the window, the pointer is gone. [any]
inline bool sdl2(Engine& engine, const SDL_Event& event, const View& view = {}) {
    const auto finger = [&] {
        int width = 1, height = 1;
        if (SDL_Window* const window = SDL_GetWindowFromID(event.tfinger.windowID))
            SDL_GetWindowSize(window, &width, &height);
        return view(double{event.tfinger.x} * width, double{event.tfinger.y} * height);
    };
    switch (event.type) {
    case SDL_MOUSEMOTION:
        if (event.motion.which == SDL_TOUCH_MOUSEID) return false;
        engine.pointer(view(event.motion.x, event.motion.y));
        return true;
    case SDL_MOUSEBUTTONDOWN:
        if (event.button.which == SDL_TOUCH_MOUSEID || event.button.button != SDL_BUTTON_LEFT) return false;
        engine.press(view(event.button.x, event.button.y));
        return true;
    case SDL_MOUSEBUTTONUP:
        if (event.button.which == SDL_TOUCH_MOUSEID || event.button.button != SDL_BUTTON_LEFT) return false;
        engine.release();
        return true;
    case SDL_FINGERDOWN:
        engine.press(finger(), pointer_of(event.tfinger.fingerId));
        return true;
    case SDL_FINGERMOTION:
        engine.pointer(finger(), pointer_of(event.tfinger.fingerId));
        return true;
    case SDL_FINGERUP:
        engine.release(pointer_of(event.tfinger.fingerId));
        engine.pointer_gone(pointer_of(event.tfinger.fingerId));
        return true;
    case SDL_KEYDOWN:
    case SDL_KEYUP: {
        const std::string_view code = code_of(event.key.keysym.scancode);
        if (code.empty() || event.key.repeat != 0) return false;
        if (event.type == SDL_KEYDOWN)
            engine.key_down(code);
        else
            engine.key_up(code);
        return true;
    }
    case SDL_WINDOWEVENT:
        if (event.window.event == SDL_WINDOWEVENT_LEAVE)
            engine.pointer_gone();
        else if (event.window.event == SDL_WINDOWEVENT_FOCUS_LOST)
            engine.input_lost();
        else
            return false;
        return true;
    default:
        return false;
    }
}

} // namespace kiai::with
