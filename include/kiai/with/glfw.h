// Input of a GLFW window: `kiai::with::Glfw input(bench, window);`
#pragma once

#include <kiai/engine.h>
#include <kiai/with/view.h>

#include <GLFW/glfw3.h>

#include <map>
#include <string_view>
#include <utility>

namespace kiai::with {

/// Returns the W3C UI Events code of a key by its position on the keyboard, or an empty text.
inline std::string_view code_of_glfw(int key) {
    static const std::map<int, std::string_view> codes{
        {GLFW_KEY_A, "KeyA"},
        {GLFW_KEY_B, "KeyB"},
        {GLFW_KEY_C, "KeyC"},
        {GLFW_KEY_D, "KeyD"},
        {GLFW_KEY_E, "KeyE"},
        {GLFW_KEY_F, "KeyF"},
        {GLFW_KEY_G, "KeyG"},
        {GLFW_KEY_H, "KeyH"},
        {GLFW_KEY_I, "KeyI"},
        {GLFW_KEY_J, "KeyJ"},
        {GLFW_KEY_K, "KeyK"},
        {GLFW_KEY_L, "KeyL"},
        {GLFW_KEY_M, "KeyM"},
        {GLFW_KEY_N, "KeyN"},
        {GLFW_KEY_O, "KeyO"},
        {GLFW_KEY_P, "KeyP"},
        {GLFW_KEY_Q, "KeyQ"},
        {GLFW_KEY_R, "KeyR"},
        {GLFW_KEY_S, "KeyS"},
        {GLFW_KEY_T, "KeyT"},
        {GLFW_KEY_U, "KeyU"},
        {GLFW_KEY_V, "KeyV"},
        {GLFW_KEY_W, "KeyW"},
        {GLFW_KEY_X, "KeyX"},
        {GLFW_KEY_Y, "KeyY"},
        {GLFW_KEY_Z, "KeyZ"},
        {GLFW_KEY_0, "Digit0"},
        {GLFW_KEY_KP_0, "Numpad0"},
        {GLFW_KEY_1, "Digit1"},
        {GLFW_KEY_KP_1, "Numpad1"},
        {GLFW_KEY_2, "Digit2"},
        {GLFW_KEY_KP_2, "Numpad2"},
        {GLFW_KEY_3, "Digit3"},
        {GLFW_KEY_KP_3, "Numpad3"},
        {GLFW_KEY_4, "Digit4"},
        {GLFW_KEY_KP_4, "Numpad4"},
        {GLFW_KEY_5, "Digit5"},
        {GLFW_KEY_KP_5, "Numpad5"},
        {GLFW_KEY_6, "Digit6"},
        {GLFW_KEY_KP_6, "Numpad6"},
        {GLFW_KEY_7, "Digit7"},
        {GLFW_KEY_KP_7, "Numpad7"},
        {GLFW_KEY_8, "Digit8"},
        {GLFW_KEY_KP_8, "Numpad8"},
        {GLFW_KEY_9, "Digit9"},
        {GLFW_KEY_KP_9, "Numpad9"},
        {GLFW_KEY_F1, "F1"},
        {GLFW_KEY_F2, "F2"},
        {GLFW_KEY_F3, "F3"},
        {GLFW_KEY_F4, "F4"},
        {GLFW_KEY_F5, "F5"},
        {GLFW_KEY_F6, "F6"},
        {GLFW_KEY_F7, "F7"},
        {GLFW_KEY_F8, "F8"},
        {GLFW_KEY_F9, "F9"},
        {GLFW_KEY_F10, "F10"},
        {GLFW_KEY_F11, "F11"},
        {GLFW_KEY_F12, "F12"},
        {GLFW_KEY_F13, "F13"},
        {GLFW_KEY_F14, "F14"},
        {GLFW_KEY_F15, "F15"},
        {GLFW_KEY_F16, "F16"},
        {GLFW_KEY_F17, "F17"},
        {GLFW_KEY_F18, "F18"},
        {GLFW_KEY_F19, "F19"},
        {GLFW_KEY_F20, "F20"},
        {GLFW_KEY_F21, "F21"},
        {GLFW_KEY_F22, "F22"},
        {GLFW_KEY_F23, "F23"},
        {GLFW_KEY_F24, "F24"},
        {GLFW_KEY_SPACE, "Space"},
        {GLFW_KEY_APOSTROPHE, "Quote"},
        {GLFW_KEY_COMMA, "Comma"},
        {GLFW_KEY_MINUS, "Minus"},
        {GLFW_KEY_PERIOD, "Period"},
        {GLFW_KEY_SLASH, "Slash"},
        {GLFW_KEY_SEMICOLON, "Semicolon"},
        {GLFW_KEY_EQUAL, "Equal"},
        {GLFW_KEY_LEFT_BRACKET, "BracketLeft"},
        {GLFW_KEY_BACKSLASH, "Backslash"},
        {GLFW_KEY_RIGHT_BRACKET, "BracketRight"},
        {GLFW_KEY_GRAVE_ACCENT, "Backquote"},
        {GLFW_KEY_WORLD_1, "IntlBackslash"},
        {GLFW_KEY_ESCAPE, "Escape"},
        {GLFW_KEY_ENTER, "Enter"},
        {GLFW_KEY_TAB, "Tab"},
        {GLFW_KEY_BACKSPACE, "Backspace"},
        {GLFW_KEY_INSERT, "Insert"},
        {GLFW_KEY_DELETE, "Delete"},
        {GLFW_KEY_RIGHT, "ArrowRight"},
        {GLFW_KEY_LEFT, "ArrowLeft"},
        {GLFW_KEY_DOWN, "ArrowDown"},
        {GLFW_KEY_UP, "ArrowUp"},
        {GLFW_KEY_PAGE_UP, "PageUp"},
        {GLFW_KEY_PAGE_DOWN, "PageDown"},
        {GLFW_KEY_HOME, "Home"},
        {GLFW_KEY_END, "End"},
        {GLFW_KEY_CAPS_LOCK, "CapsLock"},
        {GLFW_KEY_SCROLL_LOCK, "ScrollLock"},
        {GLFW_KEY_NUM_LOCK, "NumLock"},
        {GLFW_KEY_PRINT_SCREEN, "PrintScreen"},
        {GLFW_KEY_PAUSE, "Pause"},
        {GLFW_KEY_KP_DECIMAL, "NumpadDecimal"},
        {GLFW_KEY_KP_DIVIDE, "NumpadDivide"},
        {GLFW_KEY_KP_MULTIPLY, "NumpadMultiply"},
        {GLFW_KEY_KP_SUBTRACT, "NumpadSubtract"},
        {GLFW_KEY_KP_ADD, "NumpadAdd"},
        {GLFW_KEY_KP_ENTER, "NumpadEnter"},
        {GLFW_KEY_KP_EQUAL, "NumpadEqual"},
        {GLFW_KEY_LEFT_SHIFT, "ShiftLeft"},
        {GLFW_KEY_LEFT_CONTROL, "ControlLeft"},
        {GLFW_KEY_LEFT_ALT, "AltLeft"},
        {GLFW_KEY_LEFT_SUPER, "MetaLeft"},
        {GLFW_KEY_RIGHT_SHIFT, "ShiftRight"},
        {GLFW_KEY_RIGHT_CONTROL, "ControlRight"},
        {GLFW_KEY_RIGHT_ALT, "AltRight"},
        {GLFW_KEY_RIGHT_SUPER, "MetaRight"},
        {GLFW_KEY_MENU, "ContextMenu"},
    };
    const auto found = codes.find(key);
    return found == codes.end() ? std::string_view() : found->second;
}

/// Reports the input of a window until destroyed. Also calls the callbacks that the app set before; the app must not
/// set callbacks afterwards. The left mouse button presses; the scroll wheel is ignored. When the window loses the
/// focus, every press and key ends. When the mouse leaves the window, the pointer is gone. Runs on the thread of the
/// window. The engine and the window must outlive it.
class Glfw {
  public:
    Glfw(Engine& engine, GLFWwindow* window, const View& view = {}) : engine_(engine), window_(window), view_(view) {
        of()[window] = this;
        key_ = glfwSetKeyCallback(window, [](GLFWwindow* w, int key, int place, int action, int mods) {
            Glfw& self = *of()[w];
            self.key(key, action);
            if (self.key_) self.key_(w, key, place, action, mods);
        });
        button_ = glfwSetMouseButtonCallback(window, [](GLFWwindow* w, int button, int action, int mods) {
            Glfw& self = *of()[w];
            self.button(button, action);
            if (self.button_) self.button_(w, button, action, mods);
        });
        place_ = glfwSetCursorPosCallback(window, [](GLFWwindow* w, double x, double y) {
            Glfw& self = *of()[w];
            self.engine_.pointer(self.view_(x, y));
            if (self.place_) self.place_(w, x, y);
        });
        enter_ = glfwSetCursorEnterCallback(window, [](GLFWwindow* w, int entered) {
            Glfw& self = *of()[w];
            if (!entered) self.engine_.pointer_gone();
            if (self.enter_) self.enter_(w, entered);
        });
        focus_ = glfwSetWindowFocusCallback(window, [](GLFWwindow* w, int focused) {
            Glfw& self = *of()[w];
            if (!focused) self.engine_.input_lost();
            if (self.focus_) self.focus_(w, focused);
        });
    }
    ~Glfw() {
        glfwSetKeyCallback(window_, key_);
        glfwSetMouseButtonCallback(window_, button_);
        glfwSetCursorPosCallback(window_, place_);
        glfwSetCursorEnterCallback(window_, enter_);
        glfwSetWindowFocusCallback(window_, focus_);
        of().erase(window_);
    }
    Glfw(const Glfw&) = delete;
    Glfw& operator=(const Glfw&) = delete;

  private:
    static std::map<GLFWwindow*, Glfw*>& of() {
        static std::map<GLFWwindow*, Glfw*> all;
        return all;
    }
    void key(int key, int action) {
        const std::string_view code = code_of_glfw(key);
        if (code.empty() || action == GLFW_REPEAT) return;
        if (action == GLFW_PRESS)
            engine_.key_down(code);
        else
            engine_.key_up(code);
    }
    void button(int button, int action) {
        if (button != GLFW_MOUSE_BUTTON_LEFT) return;
        double x = 0, y = 0;
        glfwGetCursorPos(window_, &x, &y);
        if (action == GLFW_PRESS)
            engine_.press(view_(x, y));
        else
            engine_.release();
    }

    Engine& engine_;
    GLFWwindow* window_;
    View view_;
    GLFWkeyfun key_ = nullptr; ///< the callbacks of the app
    GLFWmousebuttonfun button_ = nullptr;
    GLFWcursorposfun place_ = nullptr;
    GLFWcursorenterfun enter_ = nullptr;
    GLFWwindowfocusfun focus_ = nullptr;
};

} // namespace kiai::with
