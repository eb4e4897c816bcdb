// Calls the C face in any order with any arguments: each call returns a status, and none crashes.
#include "support/places.h"

#include "target.h"

#include <kiai_c.h>

#include <cmath>
#include <cstdlib>
#include <cstring>
#include <memory>

namespace {

/// Reads arguments from the input; after its end all are 0 and null.
class Input {
  public:
    Input(const std::uint8_t* data, std::size_t size) : data_(data), size_(size) {}
    bool empty() const { return size_ == 0; }
    std::uint8_t byte() {
        if (size_ == 0) return 0;
        --size_;
        return *data_++;
    }
    float number() {
        static const float known[] = {0, 1, -1, 0.5f, 100, -6, 1e30f, -1e30f, NAN, INFINITY};
        const std::uint8_t which = byte();
        if (which < std::size(known)) return known[which];
        std::uint8_t bytes[4] = {byte(), byte(), byte(), byte()};
        float value = 0;
        std::memcpy(&value, bytes, sizeof value);
        return value;
    }
    const char* text() {
        static const char* const known[] = {nullptr,  "",       "oak",  "glass",        "marble",   "roll",   "fill",
                                            "bench",  "pieces", "main", "Space",        "paddle",   "finish", "speed",
                                            "hopper", "lift",   "none", "tray-emptied", "\xff\xfe", "\"%s\n"};
        return known[byte() % std::size(known)];
    }
    std::uint64_t id() { return byte() % 4 == 0 ? ~std::uint64_t{0} >> byte() % 64 : byte() % 5; }

  private:
    const std::uint8_t* data_;
    std::size_t size_;
};

void call(kiai_engine* e, Input& in, kiai_play_id& play) {
    char text[64];
    float a = 0, b = 0, c = 0;
    const kiai_play_id other = in.byte() % 2 ? play : in.id() << 32 | in.id();
    switch (in.byte() % 40) {
    case 0:
        kiai_press(e, in.number(), in.number(), in.id());
        break;
    case 1:
        kiai_release(e, in.id());
        break;
    case 2:
        kiai_click(e, in.number(), in.number(), in.id());
        break;
    case 3:
        kiai_pointer(e, in.number(), in.number(), in.id());
        break;
    case 4:
        kiai_pointer_gone(e, in.id());
        break;
    case 5:
        kiai_key_down(e, in.text());
        break;
    case 6:
        kiai_key_up(e, in.text());
        break;
    case 7:
        kiai_key_tap(e, in.text());
        break;
    case 8:
        kiai_contact(e, in.text(), in.text(), in.number(), in.number(), in.id());
        break;
    case 9:
        kiai_contact_end(e, in.id());
        break;
    case 10:
        kiai_body(e, in.id(), in.text(), in.number(), in.number(), in.number());
        break;
    case 11:
        kiai_body_box(e, in.id(), in.text(), in.number(), in.number(), in.number(), in.number());
        break;
    case 12:
        kiai_body_gone(e, in.id());
        break;
    case 13: {
        const char* names[] = {in.text(), in.text(), in.text(), in.text(), in.text()};
        const float values[] = {in.number(), in.number(), in.number(), in.number(), in.number()};
        kiai_notice(e, in.text(), names, values, in.byte() % 7 - 1 > 5 ? 5 : in.byte() % 6);
        break;
    }
    case 14:
        kiai_playhead(e, in.text(), in.number(), in.byte() - 4);
        break;
    case 15:
        kiai_playhead_gone(e, in.text(), in.byte() - 4);
        break;
    case 16:
        kiai_set_dial(e, in.text(), in.number());
        break;
    case 17:
        kiai_enter_scope(e, in.text());
        break;
    case 18:
        kiai_leave_scope(e, in.text());
        break;
    case 19:
        kiai_pause_scope(e, in.text());
        break;
    case 20:
        kiai_resume_scope(e, in.text());
        break;
    case 21:
        kiai_move_zone(e, in.text(), in.number(), in.number(), in.number());
        break;
    case 22:
        kiai_remove_zone(e, in.text());
        break;
    case 23:
        kiai_input_lost(e);
        break;
    case 24:
        play = kiai_play(e, in.text(), in.text());
        break;
    case 25:
        kiai_stop(e, in.byte() % 8, in.text(), in.number());
        break;
    case 26:
        kiai_pause(e, in.byte() % 8, in.text());
        break;
    case 27:
        kiai_resume(e, in.byte() % 8, in.text());
        break;
    case 28:
        kiai_restart(e, in.byte() % 8, in.text());
        break;
    case 29:
        kiai_toggle(e, in.text());
        break;
    case 30:
        kiai_run(e, in.text());
        break;
    case 31:
        play = kiai_crossfade(e, in.text(), in.text(), in.number());
        break;
    case 32:
        kiai_set_bus_gain(e, in.text(), in.number(), in.number()), kiai_mute_bus(e, in.text(), in.byte() % 2);
        break;
    case 33:
        kiai_play_stop(e, other, in.number()), kiai_play_pause(e, other), kiai_play_resume(e, other);
        break;
    case 34:
        kiai_play_seek(e, other, in.number()), kiai_play_set_gain(e, other, in.number(), in.number());
        break;
    case 35:
        kiai_play_set_pitch(e, other, in.number(), in.number()), kiai_play_set_pan(e, other, in.number(), in.number());
        break;
    case 36:
        kiai_play_set(e, other, in.text(), in.number()), kiai_play_state_of(e, other), kiai_play_position(e, other);
        break;
    case 37:
        kiai_dial(e, in.text(), &a), kiai_scope(e, in.text()), kiai_bus_level(e, in.text(), &a, &b, &c);
        break;
    case 38:
        kiai_next_decision(e, text, in.byte() % sizeof text), kiai_finding(e, in.byte() - 4, text, sizeof text);
        break;
    default:
        kiai_poll(e), kiai_play_reason(e, other), kiai_play_number(e, other), kiai_wind_down(e, in.number());
        break;
    }
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::unique_ptr<kiai_engine, decltype(&kiai_close)> engine(
        kiai_open_silent((support::source_folder() + "/examples/marble-run").c_str(), 48000, 1), &kiai_close);
    kiai_set_log(engine.get(), nullptr, nullptr);
    kiai_set_findings(engine.get(), nullptr, nullptr);
    Input input(data, size);
    kiai_play_id play = 0;
    float block[2 * 256];
    for (int i = 0; !input.empty(); ++i) {
        call(engine.get(), input, play);
        if (i % 8 != 7) continue;
        kiai_render(engine.get(), block, 256);
        for (const float sample : block)
            if (!(std::abs(sample) <= 1)) std::abort();
    }
    return 0;
}
