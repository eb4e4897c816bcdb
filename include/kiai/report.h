// What an app reports, as a value: each call of the engine that reports something makes one of these, and so does each
// line of a trace.
#pragma once

#include <kiai/units.h>

#include <cstdint>
#include <string>

namespace kiai::inline v0 {

/// A place in the app's own units, the ones in which kiai.toml gives its zones.
struct Point {
    float x = 0;
    float y = 0;
};

/// How two bodies touched.
struct Touch {
    float strength = 1; ///< from 0, any number; 1 is what the curves in kiai.toml call full
    float place = 0;    ///< -1 (left) … 1 (right)
};

/// How a play that the app asks for itself differs from what kiai.toml says; the numbers are added to those there.
struct PlayOptions {
    Decibels gain = 0;   ///< -120 … 24 dB
    Semitones pitch = 0; ///< -48 … 48 semitones
    Pan pan = 0;         ///< -1 … 1
    float strength = 1;  ///< for follows of `strength`, from 0
    float place = 0;     ///< for follows of `place`, -1 … 1
    int layer = 0;       ///< 0: all layers; else only this one, from 1, to hear what it does
};

enum class ReportKind : std::uint8_t { press, release, key_down, key_up, contact, notice, play, stop, dial };

/// The word for it in traces and logs: `press`, `key-down`, …
const char* to_string(ReportKind kind) noexcept;

/// One report. Only the members that its kind names are read.
struct Report {
    ReportKind kind = ReportKind::notice;
    std::string name;    ///< key code, notice, sound, dial, or the first body's kind
    std::string other;   ///< contact: the second body's kind
    Point point;         ///< press
    int pointer = 0;     ///< press, release: which pointer, 0 … 15
    PlayOptions options; ///< play; of a contact, strength and place
    float value = 0;     ///< dial
};

} // namespace kiai::inline v0
