#include <kiai/keys.h>

#include <map>

namespace kiai::inline v0 {
namespace {

constexpr double whole_low = -1e6, far = 1e7; // beyond it a float no longer tells neighbouring pixels apart

const std::vector<Key> keys{
    {"project", "format", Takes::whole, 0, 1 << 30, "", "warned about", "The version of this file format: 1.", "", ""},
    {"project", "name", Takes::text, 0, 0, "", "empty", "The project's name.", "", ""},
    {"project", "clip", Takes::table, 0, 0, "", "", "The audio files, by name.", "", "clip"},
    {"project", "credit", Takes::table, 0, 0, "", "", "Who made what lies in a folder.", "", "credit"},
    {"project", "sound", Takes::table, 0, 0, "", "", "What is heard, by name.", "", "sound"},
    {"project", "bus", Takes::table, 0, 0, "", "", "What sounds are grouped by.", "", "bus"},
    {"project", "dial", Takes::table, 0, 0, "", "", "Numbers that the app sets, and sounds follow.", "", "dial"},
    {"project", "zone", Takes::table, 0, 0, "", "", "Where the pointer can press.", "", "zone"},
    {"project", "binding", Takes::tables, 0, 0, "", "", "What causes what.", "", "binding"},
    {"project", "accepted", Takes::tables, 0, 0, "", "", "Findings that are meant to stay.", "", "accepted"},

    {"clip", "file", Takes::text, 0, 0, "", "needed",
     "An audio file: WAV, AIFF, AU, CAF, FLAC, Ogg Vorbis, Opus, MP3, any rate; more than two channels, at most eight, "
     "are folded to stereo.",
     "", ""},
    {"clip", "gain", Takes::number, -120, 24, "dB", "0", "Added to the gain of every layer that plays it.", "", ""},
    {"clip", "stream", Takes::truth, 0, 0, "", "true from 30 s on",
     "Whether it is read from the disk while it plays; else it is in memory whole.", "", ""},
    {"clip", "from-app", Takes::truth, 0, 0, "", "false",
     "The app gives its samples when it loads the project; there is no file.", "", ""},
    {"clip", "author", Takes::text, 0, 0, "", "its folder's", "Who made it.", "", ""},
    {"clip", "licence", Takes::text, 0, 0, "", "its folder's",
     "Under which licence it may be used: an SPDX identifier or expression.", "", ""},
    {"clip", "source", Takes::text, 0, 0, "", "its folder's", "Where it is from.", "", ""},
    {"clip", "note", Takes::text, 0, 0, "", "its folder's", "Anything else to remember about it.", "", ""},
    {"clip", "pending", Takes::truth, 0, 0, "", "false",
     "There is no file yet; the name may be used, and nothing is heard of it.", "", ""},
    {"clip", "outside", Takes::truth, 0, 0, "", "false",
     "The file may lie outside of the project's folder, a risk that is said.", "", ""},

    {"credit", "author", Takes::text, 0, 0, "", "", "Who made the clips in the folder.", "", ""},
    {"credit", "licence", Takes::text, 0, 0, "", "", "Their licence: an SPDX identifier or expression.", "", ""},
    {"credit", "source", Takes::text, 0, 0, "", "", "Where they are from.", "", ""},
    {"credit", "note", Takes::text, 0, 0, "", "", "Anything else to remember about them.", "", ""},

    {"accepted", "finding", Takes::text, 0, 0, "", "needed", "The finding's name, as it stands in brackets.", "", ""},
    {"accepted", "on", Takes::text, 0, 0, "", "all of them", "The entry that it is about.", "", ""},
    {"accepted", "reason", Takes::text, 0, 0, "", "needed", "Why, for who reads it later.", "", ""},

    {"sound", "gain", Takes::number, -120, 24, "dB", "0", "How loud all of it is.", "", ""},
    {"sound", "pitch", Takes::number, -48, 48, "semitones", "0", "How high all of it is.", "", ""},
    {"sound", "pan", Takes::number, -1, 1, "left to right", "0", "Where all of it is.", "", ""},
    {"sound", "vary", Takes::table, 0, 0, "", "none", "What is drawn anew for each play, once for all layers.", "",
     "vary"},
    {"sound", "follow", Takes::tables, 0, 0, "", "none", "Values that move all of it.", "", "follow"},
    {"sound", "lfo", Takes::tables, 0, 0, "", "none", "What swings by itself in all of it.", "", "lfo"},
    {"sound", "loop", Takes::loop, 0, 0, "", "false", "Its clips are heard again and again.", "", "loop"},
    {"sound", "fade-in", Takes::time, 0, 60, "", "0", "How long each play takes to come to its level.", "", ""},
    {"sound", "fade-out", Takes::time, 0, 60, "", "10 ms", "How a stop ends it; at least 5 ms are used.", "", ""},
    {"sound", "limit", Takes::table, 0, 0, "", "", "How its plays may overlap.", "", "limit"},
    {"sound", "bus", Takes::text, 0, 0, "", "main", "The bus that it is on.", "", ""},
    {"sound", "priority", Takes::whole, -100, 100, "", "0", "No play gives way to one of a lower priority.", "", ""},
    {"sound", "pending", Takes::truth, 0, 0, "", "false",
     "There are no takes yet; the name may be used, and nothing is heard of it.", "", ""},
    {"sound", "layer", Takes::tables, 0, 0, "", "one, of the keys here", "What is heard at once.", "", "layer"},

    {"layer", "takes", Takes::names, 0, 0, "", "needed",
     "A list of clips, each a name or { clip, weight }, or { series = \"oak\" }: all clips oak-0, oak-1 … by number.",
     "", "take"},
    {"layer", "pick", Takes::word, 0, 0, "", "shuffle",
     "Each once a round and never the same twice running; by weight, each time anew; or in order.",
     "shuffle|weighted|cycle", ""},
    {"layer", "gain", Takes::number, -120, 24, "dB", "0", "How loud the layer is.", "", ""},
    {"layer", "pitch", Takes::number, -48, 48, "semitones", "0", "How high the layer is.", "", ""},
    {"layer", "pan", Takes::number, -1, 1, "left to right", "0", "Where the layer is.", "", ""},
    {"layer", "start", Takes::time, 0, 3600, "", "0",
     "Where in its clip it begins; what begins inside a clip rises in at least 5 ms.", "", ""},
    {"layer", "delay", Takes::time, 0, 60, "", "0", "How long after the play's begin it begins.", "", ""},
    {"layer", "chance", Takes::number, 0, 1, "parts of 1", "1", "How likely it is to be heard in a play.", "", ""},
    {"layer", "vary", Takes::table, 0, 0, "", "none", "What is drawn anew for each play.", "", "vary"},
    {"layer", "follow", Takes::tables, 0, 0, "", "none", "Values that move it.", "", "follow"},
    {"layer", "lfo", Takes::tables, 0, 0, "", "none", "What swings by itself.", "", "lfo"},
    {"layer", "loop", Takes::loop, 0, 0, "", "the sound's", "Its clip is heard again and again.", "", "loop"},

    {"take", "clip", Takes::text, 0, 0, "", "needed", "The clip.", "", ""},
    {"take", "weight", Takes::number, 0.001, 1000, "", "1", "How often it comes, beside the others.", "", ""},
    {"series", "series", Takes::text, 0, 0, "", "needed",
     "What stands before the numbers; a new clip with a number joins by itself.", "", ""},

    {"vary", "pitch", Takes::spread, -24, 24, "semitones", "0", "Added to the pitch.", "", ""},
    {"vary", "gain", Takes::spread, -60, 60, "dB", "0", "Added to the gain.", "", ""},
    {"vary", "pan", Takes::spread, -1, 1, "left to right", "0", "Added to the pan.", "", ""},
    {"vary", "start", Takes::times, 0, 3600, "", "0", "Added to where in the clip it begins.", "", ""},
    {"vary", "delay", Takes::times, 0, 10, "", "0", "Added to the delay.", "", ""},
    {"vary", "spread", Takes::word, 0, 0, "", "even",
     "All alike, or the mean of three even draws, so that the middle comes most often.", "even|bell", ""},

    {"follow", "value", Takes::text, 0, 0, "", "one of the two",
     "`strength` or `place` of the trigger, or a value that the app gives each play by this name.", "", ""},
    {"follow", "dial", Takes::text, 0, 0, "", "one of the two", "The dial that it follows.", "", ""},
    {"follow", "moves", Takes::word, 0, 0, "", "needed",
     "What is moved: dB, semitones or pan are added; the balance goes from the first layer (0) to the last (1).",
     "gain|pitch|pan|balance", ""},
    {"follow", "curve", Takes::points, -1e6, 1e6, "", "needed",
     "Two or more [value, amount], ascending; the ends hold.", "", ""},
    {"follow", "between", Takes::word, 0, 0, "", "straight", "How it goes from point to point.", "straight|smooth", ""},
    {"follow", "smooth", Takes::time, 0, 60, "", "20 ms",
     "How long a dial or a value of the play takes to come nine tenths of its way.", "", ""},

    {"lfo", "moves", Takes::word, 0, 0, "", "needed", "What swings.", "gain|pitch", ""},
    {"lfo", "shape", Takes::word, 0, 0, "", "sine",
     "How it swings; a square's edges take 5 ms, random goes smoothly to a new place each turn.",
     "sine|triangle|square|random", ""},
    {"lfo", "rate", Takes::number, 0.001, 50, "Hz", "needed", "Turns per second.", "", ""},
    {"lfo", "depth", Takes::number, 0, 60, "semitones or dB", "needed", "How far to either side, 24 semitones at most.",
     "", ""},
    {"lfo", "phase", Takes::word, 0, 0, "", "start",
     "Whether its turns count from the play's begin, or go on by themselves.", "start|free", ""},

    {"loop", "from", Takes::time, 0, 36000, "", "0", "Its first frame; what lies before it is heard once.", "", ""},
    {"loop", "to", Takes::time, 0, 36000, "", "the clip's end",
     "The frame after its last; what lies behind it is its tail.", "", ""},
    {"loop", "points", Takes::word, 0, 0, "", "",
     "`file`: the loop that the clip's file has itself, instead of `from` and `to`.", "file", ""},
    {"loop", "count", Takes::whole, 1, 1000000, "", "endless", "How many turns.", "", ""},
    {"loop", "seam", Takes::time, 0, 60, "", "0",
     "How long its end is mixed into what lies before its begin; where too little lies there, the begin moves.", "",
     ""},
    {"loop", "end", Takes::word, 0, 0, "", "fade", "What a stop does: fade out, or finish the turn and play the tail.",
     "fade|tail", ""},

    {"limit", "plays", Takes::whole, 1, 1000, "", "8; of a bus any number", "How many at once.", "", ""},
    {"limit", "gap", Takes::time, 0, 3600, "", "none",
     "Least time from one accepted start to the next; of a sound only.", "", ""},
    {"limit", "full", Takes::word, 0, 0, "", "end-oldest",
     "What happens at one more: the oldest or the quietest ends, the newcomer is refused, or all end for it.",
     "end-oldest|end-quietest|refuse|restart", ""},

    {"bus", "into", Takes::text, 0, 0, "", "main", "The bus that it is part of.", "", ""},
    {"bus", "gain", Takes::number, -120, 24, "dB", "0", "Added to all that is on it.", "", ""},
    {"bus", "limit", Takes::table, 0, 0, "", "none", "How many plays may be on it at once.", "", "limit"},

    {"dial", "start", Takes::number, -1e6, 1e6, "", "its lowest", "What it is until the app sets it.", "", ""},
    {"dial", "range", Takes::pair, -1e6, 1e6, "", "[0, 1]", "Its lowest and its highest.", "", ""},

    {"zone", "circle", Takes::table, 0, 0, "", "one of the two", "A circle.", "", "circle"},
    {"zone", "rectangle", Takes::table, 0, 0, "", "one of the two", "A rectangle.", "", "rectangle"},
    {"zone", "order", Takes::whole, whole_low, -whole_low, "", "0", "Higher is in front; ties: the later one.", "", ""},
    {"circle", "x", Takes::number, -far, far, "app's units", "needed", "Its middle.", "", ""},
    {"circle", "y", Takes::number, -far, far, "app's units", "needed", "Its middle.", "", ""},
    {"circle", "r", Takes::number, 1e-6, far, "app's units", "needed", "Its radius; the rim is inside.", "", ""},
    {"rectangle", "x", Takes::number, -far, far, "app's units", "needed", "Its left side, which is inside.", "", ""},
    {"rectangle", "y", Takes::number, -far, far, "app's units", "needed", "Its top, which is inside.", "", ""},
    {"rectangle", "width", Takes::number, 1e-6, far, "app's units", "needed", "The right side is outside.", "", ""},
    {"rectangle", "height", Takes::number, 1e-6, far, "app's units", "needed", "The bottom is outside.", "", ""},

    {"binding", "trigger", Takes::table, 0, 0, "", "needed", "What starts it.", "", "trigger"},
    {"binding", "action", Takes::actions, 0, 0, "", "needed", "What is done, or a list, carried out in order.", "",
     "action"},
    {"trigger", "press", Takes::text, 0, 0, "", "one of these", "The zone that is pressed.", "", ""},
    {"trigger", "key-down", Takes::text, 0, 0, "", "", "The key, by its W3C UI Events code.", "", ""},
    {"trigger", "contact", Takes::pair, 0, 0, "", "", "Two kinds of body that begin to touch, in either order.", "",
     ""},
    {"trigger", "notice", Takes::text, 0, 0, "", "", "The name of a script event.", "", ""},
    {"action", "play", Takes::text, 0, 0, "", "one of the two", "The sound or clip that begins.", "", ""},
    {"action", "stop", Takes::text, 0, 0, "", "one of the two", "The sound whose plays end in their own way.", "", ""},
};

} // namespace

const std::vector<Key>& project_keys() {
    return keys;
}

const char* section_heading(const std::string& section) noexcept {
    static const std::map<std::string, const char*> headings{
        {"project", "kiai.toml"},     {"clip", "[clip]"},        {"credit", "[credit.\"FOLDER\"]"},
        {"accepted", "[[accepted]]"}, {"sound", "[sound.NAME]"}, {"layer", "[[sound.NAME.layer]]"},
        {"bus", "[bus.NAME]"},        {"dial", "[dial.NAME]"},   {"zone", "[zone.NAME]"},
        {"binding", "[[binding]]"}};
    const auto found = headings.find(section);
    return found == headings.end() ? "" : found->second;
}

} // namespace kiai::inline v0
