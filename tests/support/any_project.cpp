#include "any_project.h"

#include "files_in_memory.h"
#include "signal.h"
#include "storm.h"

#include <kiai/keys.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>
#include <map>
#include <vector>

namespace support {

namespace {

using kiai::Key;
using kiai::Takes;
using Names = std::vector<std::string>;

std::string number(double value) {
    std::array<char, 40> text{};
    return {text.data(), std::to_chars(text.data(), text.data() + text.size(), value).ptr};
}

/// Returns a valid text for each key, by section and key. A key without one is never written.
const std::map<std::string, Names>& texts() {
    static const Names sounds{"hum", "far", "pile", "knock", "a-1", "b"};
    static const Names zones{"plank", "lid"}, scopes{"bench", "drawer"}, keys{"KeyT"},
        buses{"low", "deep", "main", "high"};
    static const Names notices{"more", "quiet", "loud", "still", "on", "n"};
    static const Names conditions{"fill > 0.5", "stock <= 0.25 and fill >= 0.1", "strength < 0.5", "speed != 1"};
    static const std::map<std::string, Names> all{{"clip.author", {"A. Turner"}},
                                                  {"clip.licence", {"CC0-1.0", "MIT"}},
                                                  {"clip.source", {"a test"}},
                                                  {"clip.note", {"a tone"}},
                                                  {"sound.bus", buses},
                                                  {"duck.under", {"high"}},
                                                  {"take.clip", {"a-1", "a-2", "b", "c", "long"}},
                                                  {"follow.value", {"strength", "place", "speed"}},
                                                  {"follow.dial", {"fill", "stock"}},
                                                  {"zone.scope", scopes},
                                                  {"sequence.scope", scopes},
                                                  {"step.wait", {"end", "1 ms", "30 ms", "1 frames", "0.2 s"}},
                                                  {"binding.scope", scopes},
                                                  {"binding.when", conditions},
                                                  {"trigger.press", zones},
                                                  {"trigger.release", zones},
                                                  {"trigger.enter", zones},
                                                  {"trigger.leave", zones},
                                                  {"trigger.key-down", keys},
                                                  {"trigger.key-up", keys},
                                                  {"trigger.contact", {"[\"x\", \"y\"]", "[\"x\", \"x\"]"}},
                                                  {"trigger.contact-end", {"[\"x\", \"y\"]"}},
                                                  {"trigger.marker", {"[\"wheel\", \"tooth\"]"}},
                                                  {"layer.label", {"body", "edge"}},
                                                  {"trigger.watch", {"fill > 0.5", "stock <= 0.25 and fill >= 0.1"}},
                                                  {"trigger.notice", notices},
                                                  {"trigger.scope-enter", scopes},
                                                  {"trigger.scope-leave", scopes},
                                                  {"trigger.ended", sounds},
                                                  {"action.play", sounds},
                                                  {"action.hold", sounds},
                                                  {"action.toggle", sounds},
                                                  {"action.restart", sounds},
                                                  {"action.notice", notices},
                                                  {"action.run", {"finish"}},
                                                  {"target.bus", buses},
                                                  {"target.scope", scopes},
                                                  {"target.sequence", {"finish"}}};
    return all;
}

/// A table has exactly one of these keys.
const std::map<std::string, Names>& alternatives() {
    static const std::map<std::string, Names> all{
        {"zone", {"circle", "ellipse", "rectangle", "polygon"}},
        {"follow", {"value", "dial"}},
        {"target", {"bus", "scope", "sequence", "everything"}},
        {"step", {"action", "action", "wait", "repeat", "together"}}, // the first two: keys of an action
        {"trigger",
         {"press", "release", "enter", "leave", "key-down", "key-up", "contact", "contact-end", "marker", "watch",
          "notice", "start", "after", "scope-enter", "scope-leave", "every", "ended"}},
        {"action",
         {"play", "play", "hold", "toggle", "restart", "stop", "pause", "resume", "mute", "unmute", "set", "notice",
          "run", "nothing"}}};
    return all;
}

/// Returns true if a key is valid with the chosen alternative.
bool belongs(const std::string& section, const std::string& key, const std::string& chosen) {
    static const std::map<std::string, Names> beside{
        {"trigger.margin", {"watch", "contact", "contact-end"}},
        {"trigger.lost", {"release", "key-up", "leave", "contact-end"}},
        {"trigger.repeat", {"key-down"}},
        {"action.gain", {"play", "hold", "toggle", "restart"}},
        {"action.pitch", {"play", "hold", "toggle", "restart"}},
        {"action.for", {"play", "restart"}},
        {"action.fade", {"stop"}},
        {"step.steps", {"repeat"}},
    };
    const auto found = beside.find(section + "." + key);
    return found == beside.end() ||
           std::find(found->second.begin(), found->second.end(), chosen) != found->second.end();
}

class Writer {
  public:
    Writer(const Choose& choose, std::set<std::string>& written) : choose_(choose), written_(written) {}

    std::string project() {
        std::string text = "format = 1\n";
        for (const char* one : {"clip.file", "series.series", "sound.layer"}) written_.insert(one); // below, by hand
        for (const char* clip : {"a-1", "a-2", "b", "c", "long"})
            text += "[clip." + std::string(clip) + "]\nfile = \"" + clip + ".wav\"\n" + lines("clip");
        for (const char* bus : {"low", "deep", "high"}) {
            ducks_ = bus[0] != 'h'; // it cannot be ducked under itself
            text += "[bus." + std::string(bus) + "]\n" + lines("bus");
            if (bus[0] == 'l' && some(2)) wrote("bus", "into"), text += "into = \"deep\"\n";
        }
        for (const char* section : {"dial.fill", "dial.stock", "scope.bench", "scope.drawer", "zone.plank", "zone.lid",
                                    "motion.wheel", "sequence.finish"})
            text += "[" + std::string(section) + "]\n" +
                    lines(std::string(section).substr(0, std::string(section).find('.')));
        for (const char* sound : {"hum", "far", "pile", "knock"}) {
            text += "[sound." + std::string(sound) + "]\n" + lines("sound");
            const unsigned layers = choose_(3);
            if (layers == 0) text += lines("layer", 0);
            for (unsigned layer = 0; layer < layers; ++layer)
                text += "[[sound." + std::string(sound) + ".layer]]\n" + lines("layer");
        }
        for (unsigned bindings = 6 + choose_(10); bindings > 0; --bindings) text += "[[binding]]\n" + lines("binding");
        return text;
    }

  private:
    bool some(unsigned of) { return choose_(of) == 0; }
    void wrote(const std::string& section, const std::string& key) { written_.insert(section + "." + key); }
    const std::string& one_of(const Names& names) { return names[choose_(static_cast<unsigned>(names.size()))]; }

    std::string lines(const std::string& section, unsigned rarity = 3) {
        std::string text;
        in_bus_ = section == "bus";
        in_layer_ = section == "layer";
        for (const auto& [key, value] : keys_of(section, rarity)) text += key + " = " + value + "\n";
        return text;
    }

    std::string table(const std::string& section) {
        std::string text = "{ ";
        for (const auto& [key, value] : keys_of(section, 3))
            text += (text.size() > 2 ? ", " : "") + key + " = " + value;
        return text + " }";
    }

    std::string tables(const std::string& section, unsigned most) {
        std::string text = "[" + table(section);
        for (unsigned more = choose_(most); more > 0; --more) text += ", " + table(section);
        return text + "]";
    }

    /// Returns keys of a section with their values: the required keys, one of the alternatives, and one in `rarity` of
    /// the others (0: none).
    std::vector<std::pair<std::string, std::string>> keys_of(const std::string& section, unsigned rarity) {
        std::vector<std::pair<std::string, std::string>> out;
        const auto choice = alternatives().find(section);
        const Names others = choice == alternatives().end() ? Names() : choice->second;
        std::string chosen = others.empty() ? "" : one_of(others);
        if (section == "follow" && in_bus_) chosen = "dial";
        if (section == "step" && depth_ > 5) chosen = some(2) ? "action" : "wait";
        if (chosen == "action") return keys_of("action", rarity);
        if (section == "trigger") ends_ = ending().contains(chosen);
        if (chosen == "hold" && !ends_) chosen = "toggle";
        if (section == "sequence") ends_ = false;
        if (section == "layer") weighted_ = false;
        const bool outside = in_lfo_;
        if (section == "lfo") in_lfo_ = true, free_ = false;
        ++depth_;
        for (const Key& key : kiai::project_keys()) {
            const std::string name = key.name;
            if (section != key.parent || left_out(section, name)) continue;
            if (name != chosen && std::find(others.begin(), others.end(), name) != others.end()) continue;
            const bool needed = name == chosen || std::strcmp(key.default_value, "needed") == 0 ||
                                (name == "steps" && chosen == "repeat");
            if (!needed && (rarity == 0 || !belongs(section, name, chosen) || !some(rarity))) continue;
            const std::string value = value_of(key);
            if (value.empty()) continue;
            wrote(section, name);
            out.emplace_back(name, value);
            if (name == "target") moves_ = value;
            if (section == "action" && name == "fade" && some(2)) {
                out.emplace_back("fade-curve", some(2) ? "\"equal-power\"" : "\"equal-gain\"");
                wrote("action", "fade-curve");
            }
            if (name != "set") continue; // a dial is set `to`; a sound or a bus has a `gain` and a time for it
            const bool dial = value == "\"fill\"";
            out.emplace_back(dial ? "to" : "gain", number(dial ? choose_(3) : -1.0 * choose_(90)));
            if (!dial) out.emplace_back("over", time());
            for (const char* one : {"to", "gain", "over"}) wrote("action", one);
        }
        --depth_;
        in_lfo_ = outside;
        return out;
    }

    /// Triggers that end, so that `hold` is possible.
    static const std::set<std::string>& ending() {
        static const std::set<std::string> all{"press", "enter", "key-down", "contact", "watch", "scope-enter"};
        return all;
    }

    /// Keys that are written elsewhere, or that do not affect what is heard.
    static bool left_out(const std::string& section, const std::string& key) {
        static const std::set<std::string> all{"clip.file",        "clip.from-app", "clip.pending", "clip.outside",
                                               "bus.into",         "sound.pending", "sound.layer",  "loop.points",
                                               "sound.variant",    "sound.use",     "action.to",    "action.over",
                                               "action.fade-curve"};
        return all.contains(section + "." + key);
    }

    std::string time(bool frames = true) {
        static const Names real{"0 s", "1 ms", "20 ms", "100 ms", "0.5 s"};
        static const Names all{"0 s", "1 frames", "1 ms", "7 frames", "20 ms", "100 ms", "0.5 s"};
        const Names& times = frames ? all : real;
        return "\"" + one_of(times) + "\"";
    }

    /// The range of the moved value.
    double reach() const { return moves_ == "\"gain\"" || moves_ == "\"pitch\"" ? 24 : 1; }

    std::string in_range(const Key& key) {
        const double low = key.low, high = std::strcmp(key.name, "depth") == 0 ? reach() : key.high;
        switch (choose_(6)) {
        case 0:
            return number(low);
        case 1:
            return number(high);
        case 2:
            return number(std::clamp(0.0, low, high));
        case 3:
            return number(std::clamp(50.0, low, high));
        default:
            return number(low + (high - low) * choose_(1001) / 1000);
        }
    }

    std::string value_of(const Key& key) {
        const std::string full = std::string(key.parent) + "." + key.name;
        const auto text = texts().find(full);
        switch (key.takes) {
        case Takes::text:
            return text == texts().end() ? "" : "\"" + one_of(text->second) + "\"";
        case Takes::truth:
            return full == "action.nothing" || full == "trigger.start" || full == "target.everything" || some(2)
                       ? "true"
                   : full == "layer.repeats" && !weighted_ ? "true"
                                                           : "false";
        case Takes::number:
            if (full == "dial.start") return number(choose_(3) / 2.0);
            return in_range(key);
        case Takes::whole: {
            const auto low = static_cast<long>(key.low), high = static_cast<long>(key.high);
            const long small = std::clamp(static_cast<long>(choose_(5)), low, high);
            return std::to_string(some(4) ? low : some(4) ? high : small);
        }
        case Takes::time: {
            if (full == "loop.to") return "\"" + number(20 + choose_(40)) + " ms\"";
            if (full == "loop.from") return "\"" + number(choose_(20)) + " ms\"";
            if (full == "trigger.after") return time(false);
            if (full != "layer.start" && some(8)) return "\"" + number(key.high) + " s\"";
            return time();
        }
        case Takes::word: {
            Names words{""};
            for (const char* at = key.choices; *at != '\0'; ++at) {
                if (*at == '|')
                    words.emplace_back();
                else
                    words.back() += *at;
            }
            if (full == "follow.target")
                words.resize(words.size() - (in_layer_ ? 3 : 2)); // no depth and rate; no balance
            if (full == "follow.target" && in_lfo_) words = {"depth", "rate"};
            if (full == "follow.target" && in_lfo_ && free_) words = {"depth"};
            if (full == "follow.target" && in_bus_) words = {"low-pass", "high-pass"};
            const std::string word = "\"" + one_of(words) + "\"";
            if (full == "layer.pick") weighted_ = word == "\"weighted\"";
            if (full == "lfo.phase") free_ = word == "\"free\"";
            return word;
        }
        case Takes::spread:
            return some(2) ? number(key.high * choose_(1001) / 1000)
                           : "[" + number(key.low) + ", " + in_range(key) + "]";
        case Takes::timing: {
            const unsigned low = 1 + choose_(200);
            const std::string time = "\"" + number(low) + " ms\"";
            if (full == "step.wait" && some(3)) return "\"end\"";
            return some(2) ? time : "[" + time + ", \"" + number(low + choose_(200)) + " ms\"]";
        }
        case Takes::times:
            return some(2) ? time(false) : "[\"0 s\", " + time(false) + "]";
        case Takes::names:
            return some(3) ? "{ series = \"a\" }" : tables("take", 3);
        case Takes::points: {
            if (full == "zone.polygon") return "[[0, 0], [100, 0], [100, 100], [" + number(choose_(100)) + ", 50]]";
            const auto amount = [&] {
                if (moves_.find("-pass") != std::string::npos) return number(10 + 19990 * (choose_(5) / 4.0));
                return number(moves_ == "\"balance\"" ? choose_(3) / 2.0 : reach() * (choose_(5) - 2.0) / 2);
            };
            return "[[0, " + amount() + "], [0.5, " + amount() + "], [" + (some(2) ? "1" : "1e6") + ", " + amount() +
                   "]]";
        }
        case Takes::pair:
            if (full == "dial.range") return some(4) ? "[-1e6, 1e6]" : "[0, 1]";
            return one_of(text->second);
        case Takes::table:
            return table(key.section);
        case Takes::tables:
            if (full == "step.steps") return "[{ wait = \"30 ms\" }, " + tables(key.section, 3).substr(1);
            return tables(key.section, 3);
        case Takes::loop:
            return some(2) ? "true" : table("loop");
        case Takes::actions:
            if (full == "bus.duck" && !ducks_) return "";
            return some(2) ? table(key.section) : tables(key.section, 3);
        case Takes::lists:
            return "[" + tables("step", 2) + ", " + tables("step", 2) + "]";
        case Takes::places:
            return "{ tooth = [0, 0.5] }";
        case Takes::target:
            if (std::strcmp(key.name, "set") == 0)
                return some(3) ? "\"fill\"" : some(2) ? "\"hum\"" : "{ bus = \"low\" }";
            if (full.starts_with("zone.")) return some(2) ? "\"hum\"" : "{ toggle = \"hum\" }";
            if (std::strstr(key.name, "mute") != nullptr) return some(2) ? "\"hum\"" : "{ bus = \"low\" }";
            return some(2) ? "\"hum\"" : table("target");
        case Takes::entries:
            return "";
        }
        return "";
    }

    const Choose& choose_;
    std::set<std::string>& written_;
    int depth_ = 0;
    bool ends_ = false, in_bus_ = false, in_layer_ = false, ducks_ = true;
    bool in_lfo_ = false, free_ = false, weighted_ = false;
    std::string moves_;
};

} // namespace

std::string any_project(const Choose& choose, std::set<std::string>& written) {
    return Writer(choose, written).project();
}

kiai::LoadResult load_any_project(const std::string& toml) {
    static const std::map<std::string, std::string> clips{{"a-1.wav", wav_bytes(noise(0.3, 4800, 1))},
                                                          {"a-2.wav", wav_bytes(sine(150, 0.9, 9000))},
                                                          {"b.wav", wav_bytes(sine(700, 0.3, 3000))},
                                                          {"c.wav", wav_bytes(noise(0.2, 7000, 3), 44100)},
                                                          {"long.wav", wav_bytes(noise(0.1, 100000, 4))}};
    std::map<std::string, std::string> files = clips;
    files["kiai.toml"] = toml;
    kiai::LoadOptions options;
    options.open = files_in_memory(std::move(files));
    return kiai::load_project("bench", options);
}

History any_history(const Choose& choose, const kiai::Project& one, const kiai::Project& other, int calls) {
    constexpr std::array<std::size_t, 7> blocks{1, 7, 64, 65, 256, 1000, 4096};
    History history;
    kiai::Engine engine(one, {.seed = 1, .voices = 24, .reports = 256, .streams = 2, .synchronous_streams = true});
    engine.set_log(
        [&](const kiai::Decision& decision) { history.played += decision.outcome == kiai::Outcome::played; });
    engine.set_findings({});
    std::vector<kiai::Play> plays;
    std::vector<float> samples;
    for (bool swapped = false; calls > 0;) {
        for (unsigned now = 1 + choose(5); now > 0; --now, --calls) {
            const auto what = static_cast<std::uint64_t>(choose(1u << 31)) << 32 | choose(1u << 31);
            do_something(engine, what, plays);
        }
        if (choose(50) == 0) engine.set_project((swapped = !swapped) ? other : one);
        samples.assign(2 * blocks[choose(blocks.size())], 0);
        engine.render(samples);
        history.finite = std::all_of(samples.begin(), samples.end(), [](float s) { return std::abs(s) <= 1; });
        if (!history.finite) return history;
        engine.poll();
    }
    return history;
}

} // namespace support
