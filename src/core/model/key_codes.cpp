#include "core/model/key_codes.h"

#include "core/model/near.h"

#include <algorithm>

namespace kiai::model {
namespace {

std::vector<std::string> make() {
    std::vector<std::string> codes{"Backquote",
                                   "Backslash",
                                   "BracketLeft",
                                   "BracketRight",
                                   "Comma",
                                   "Equal",
                                   "IntlBackslash",
                                   "IntlRo",
                                   "IntlYen",
                                   "Minus",
                                   "Period",
                                   "Quote",
                                   "Semicolon",
                                   "Slash",
                                   "AltLeft",
                                   "AltRight",
                                   "Backspace",
                                   "CapsLock",
                                   "ContextMenu",
                                   "ControlLeft",
                                   "ControlRight",
                                   "Enter",
                                   "MetaLeft",
                                   "MetaRight",
                                   "ShiftLeft",
                                   "ShiftRight",
                                   "Space",
                                   "Tab",
                                   "Convert",
                                   "KanaMode",
                                   "Lang1",
                                   "Lang2",
                                   "Lang3",
                                   "Lang4",
                                   "Lang5",
                                   "NonConvert",
                                   "Delete",
                                   "End",
                                   "Help",
                                   "Home",
                                   "Insert",
                                   "PageDown",
                                   "PageUp",
                                   "ArrowDown",
                                   "ArrowLeft",
                                   "ArrowRight",
                                   "ArrowUp",
                                   "NumLock",
                                   "NumpadAdd",
                                   "NumpadBackspace",
                                   "NumpadClear",
                                   "NumpadClearEntry",
                                   "NumpadComma",
                                   "NumpadDecimal",
                                   "NumpadDivide",
                                   "NumpadEnter",
                                   "NumpadEqual",
                                   "NumpadHash",
                                   "NumpadMemoryAdd",
                                   "NumpadMemoryClear",
                                   "NumpadMemoryRecall",
                                   "NumpadMemoryStore",
                                   "NumpadMemorySubtract",
                                   "NumpadMultiply",
                                   "NumpadParenLeft",
                                   "NumpadParenRight",
                                   "NumpadStar",
                                   "NumpadSubtract",
                                   "Escape",
                                   "Fn",
                                   "FnLock",
                                   "PrintScreen",
                                   "ScrollLock",
                                   "Pause",
                                   "BrowserBack",
                                   "BrowserFavorites",
                                   "BrowserForward",
                                   "BrowserHome",
                                   "BrowserRefresh",
                                   "BrowserSearch",
                                   "BrowserStop",
                                   "Eject",
                                   "LaunchApp1",
                                   "LaunchApp2",
                                   "LaunchMail",
                                   "MediaPlayPause",
                                   "MediaSelect",
                                   "MediaStop",
                                   "MediaTrackNext",
                                   "MediaTrackPrevious",
                                   "Power",
                                   "Sleep",
                                   "AudioVolumeDown",
                                   "AudioVolumeMute",
                                   "AudioVolumeUp",
                                   "WakeUp"};
    for (char c = 'A'; c <= 'Z'; ++c) codes.push_back(std::string("Key") + c);
    for (char c = '0'; c <= '9'; ++c) {
        codes.push_back(std::string("Digit") + c);
        codes.push_back(std::string("Numpad") + c);
    }
    for (int n = 1; n <= 24; ++n) codes.emplace_back("F").append(std::to_string(n));
    return codes;
}

} // namespace

const std::vector<std::string>& key_codes() {
    static const std::vector<std::string> codes = make();
    return codes;
}

bool is_key_code(const std::string& code) {
    return std::find(key_codes().begin(), key_codes().end(), code) != key_codes().end();
}

std::string nearest_key_code(const std::string& code) {
    if (code.size() == 1 && ((code[0] >= 'a' && code[0] <= 'z') || (code[0] >= 'A' && code[0] <= 'Z')))
        return std::string("Key") + static_cast<char>(code[0] & ~0x20);
    if (code.size() == 1 && code[0] >= '0' && code[0] <= '9') return "Digit" + code;
    const bool number = code.size() == 2 && code.find_first_not_of("0123456789") == std::string::npos;
    if (const int value = number ? 10 * (code[0] - '0') + code[1] - '0' : 0; value >= 'A' && value <= 'Z')
        return std::string("Key") + static_cast<char>(value); // as many systems number them
    return nearest(code, key_codes());
}

} // namespace kiai::model
