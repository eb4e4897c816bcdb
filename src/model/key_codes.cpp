#include "model/key_codes.h"

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

} // namespace kiai::model
