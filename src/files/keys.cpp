#include <kiai/keys.h>

#include <map>

namespace kiai::inline v0 {
namespace {

constexpr double whole_low = -1e6, far = 1e7; // beyond it a float no longer tells neighbouring pixels apart

const std::vector<Key> keys{
    {"format", "project", Takes::whole, 0, 1 << 30, "", "warned about", "The version of this file format: 1.", "", ""},
    {"name", "project", Takes::text, 0, 0, "", "empty", "The project's name.", "", ""},
    {"clip", "project", Takes::table, 0, 0, "", "", "The audio files, by name.", "", "clip"},
    {"credit", "project", Takes::table, 0, 0, "", "", "Who made what lies in a folder.", "", "credit"},
    {"sound", "project", Takes::table, 0, 0, "", "", "What is heard, by name.", "", "sound"},
    {"bus", "project", Takes::table, 0, 0, "", "", "What sounds are grouped by.", "", "bus"},
    {"dial", "project", Takes::table, 0, 0, "", "", "Numbers that the app sets, and sounds follow.", "", "dial"},
    {"zone", "project", Takes::table, 0, 0, "", "", "Where the pointer can press.", "", "zone"},
    {"binding", "project", Takes::tables, 0, 0, "", "", "What causes what.", "", "binding"},
    {"accepted", "project", Takes::tables, 0, 0, "", "", "Findings that are meant to stay.", "", "accepted"},

    {"file", "clip", Takes::text, 0, 0, "", "needed",
     "An audio file: WAV, AIFF, AU, CAF, FLAC, Ogg Vorbis, Opus, MP3, any rate; more than two channels, at most eight, "
     "are folded to stereo.",
     "", ""},
    {"gain", "clip", Takes::number, -120, 24, "dB", "0", "Added to the gain of every layer that plays it.", "", ""},
    {"stream", "clip", Takes::truth, 0, 0, "", "true from 30 s on",
     "Whether it is read from the disk while it plays; else it is in memory whole.", "", ""},
    {"from-app", "clip", Takes::truth, 0, 0, "", "false",
     "The app gives its samples when it loads the project; there is no file.", "", ""},
    {"author", "clip", Takes::text, 0, 0, "", "its folder's", "Who made it.", "", ""},
    {"licence", "clip", Takes::text, 0, 0, "", "its folder's",
     "Under which licence it may be used: an SPDX identifier or expression.", "", ""},
    {"source", "clip", Takes::text, 0, 0, "", "its folder's", "Where it is from.", "", ""},
    {"note", "clip", Takes::text, 0, 0, "", "its folder's", "Anything else to remember about it.", "", ""},
    {"pending", "clip", Takes::truth, 0, 0, "", "false",
     "There is no file yet; the name may be used, and nothing is heard of it.", "", ""},
    {"outside", "clip", Takes::truth, 0, 0, "", "false",
     "The file may lie outside of the project's folder, a risk that is said.", "", ""},

    {"author", "credit", Takes::text, 0, 0, "", "", "Who made the clips in the folder.", "", ""},
    {"licence", "credit", Takes::text, 0, 0, "", "", "Their licence: an SPDX identifier or expression.", "", ""},
    {"source", "credit", Takes::text, 0, 0, "", "", "Where they are from.", "", ""},
    {"note", "credit", Takes::text, 0, 0, "", "", "Anything else to remember about them.", "", ""},

    {"finding", "accepted", Takes::text, 0, 0, "", "needed", "The finding's name, as it stands in brackets.", "", ""},
    {"on", "accepted", Takes::text, 0, 0, "", "all of them", "The entry that it is about.", "", ""},
    {"reason", "accepted", Takes::text, 0, 0, "", "needed", "Why, for who reads it later.", "", ""},

    {"gain", "sound", Takes::number, -120, 24, "dB", "0", "How loud all of it is.", "", ""},
    {"pitch", "sound", Takes::number, -48, 48, "semitones", "0", "How high all of it is.", "", ""},
    {"pan", "sound", Takes::number, -1, 1, "left to right", "0", "Where all of it is.", "", ""},
    {"vary", "sound", Takes::table, 0, 0, "", "none", "What is drawn anew for each play, once for all layers.", "",
     "vary"},
    {"follow", "sound", Takes::tables, 0, 0, "", "none", "Values that move all of it.", "", "follow"},
    {"lfo", "sound", Takes::tables, 0, 0, "", "none", "What swings by itself in all of it.", "", "lfo"},
    {"loop", "sound", Takes::loop, 0, 0, "", "false", "Its clips are heard again and again.", "", "loop"},
    {"fade-in", "sound", Takes::time, 0, 60, "", "0", "How long each play takes to come to its level.", "", ""},
    {"fade-out", "sound", Takes::time, 0, 60, "", "10 ms", "How a stop ends it; at least 5 ms are used.", "", ""},
    {"limit", "sound", Takes::table, 0, 0, "", "", "How its plays may overlap.", "", "limit"},
    {"bus", "sound", Takes::text, 0, 0, "", "main", "The bus that it is on.", "", ""},
    {"priority", "sound", Takes::whole, -100, 100, "", "0", "No play gives way to one of a lower priority.", "", ""},
    {"pending", "sound", Takes::truth, 0, 0, "", "false",
     "There are no takes yet; the name may be used, and nothing is heard of it.", "", ""},
    {"layer", "sound", Takes::tables, 0, 0, "", "one, of the keys here", "What is heard at once.", "", "layer"},

    {"takes", "layer", Takes::names, 0, 0, "", "needed",
     "A list of clips, each a name or { clip, weight }, or { series = \"oak\" }: all clips oak-0, oak-1 … by number.",
     "", "take"},
    {"pick", "layer", Takes::word, 0, 0, "", "shuffle",
     "Each once a round and never the same twice running; by weight, each time anew; or in order.",
     "shuffle|weighted|cycle", ""},
    {"gain", "layer", Takes::number, -120, 24, "dB", "0", "How loud the layer is.", "", ""},
    {"pitch", "layer", Takes::number, -48, 48, "semitones", "0", "How high the layer is.", "", ""},
    {"pan", "layer", Takes::number, -1, 1, "left to right", "0", "Where the layer is.", "", ""},
    {"start", "layer", Takes::time, 0, 3600, "", "0",
     "Where in its clip it begins; what begins inside a clip rises in at least 5 ms.", "", ""},
    {"delay", "layer", Takes::time, 0, 60, "", "0", "How long after the play's begin it begins.", "", ""},
    {"chance", "layer", Takes::number, 0, 1, "parts of 1", "1", "How likely it is to be heard in a play.", "", ""},
    {"vary", "layer", Takes::table, 0, 0, "", "none", "What is drawn anew for each play.", "", "vary"},
    {"follow", "layer", Takes::tables, 0, 0, "", "none", "Values that move it.", "", "follow"},
    {"lfo", "layer", Takes::tables, 0, 0, "", "none", "What swings by itself.", "", "lfo"},
    {"loop", "layer", Takes::loop, 0, 0, "", "the sound's", "Its clip is heard again and again.", "", "loop"},

    {"clip", "take", Takes::text, 0, 0, "", "needed", "The clip.", "", ""},
    {"weight", "take", Takes::number, 0.001, 1000, "", "1", "How often it comes, beside the others.", "", ""},
    {"series", "series", Takes::text, 0, 0, "", "needed",
     "What stands before the numbers; a new clip with a number joins by itself.", "", ""},

    {"pitch", "vary", Takes::spread, -24, 24, "semitones", "0", "Added to the pitch.", "", ""},
    {"gain", "vary", Takes::spread, -60, 60, "dB", "0", "Added to the gain.", "", ""},
    {"pan", "vary", Takes::spread, -1, 1, "left to right", "0", "Added to the pan.", "", ""},
    {"start", "vary", Takes::times, 0, 3600, "", "0", "Added to where in the clip it begins.", "", ""},
    {"delay", "vary", Takes::times, 0, 10, "", "0", "Added to the delay.", "", ""},
    {"spread", "vary", Takes::word, 0, 0, "", "even",
     "All alike, or the mean of three even draws, so that the middle comes most often.", "even|bell", ""},

    {"value", "follow", Takes::text, 0, 0, "", "one of the two",
     "`strength` or `place` of the trigger, or a value that the app gives each play by this name.", "", ""},
    {"dial", "follow", Takes::text, 0, 0, "", "one of the two", "The dial that it follows.", "", ""},
    {"moves", "follow", Takes::word, 0, 0, "", "needed",
     "What is moved: dB, semitones or pan are added; the balance goes from the first layer (0) to the last (1).",
     "gain|pitch|pan|balance", ""},
    {"curve", "follow", Takes::points, -1e6, 1e6, "", "needed",
     "Two or more [value, amount], ascending; the ends hold.", "", ""},
    {"between", "follow", Takes::word, 0, 0, "", "straight", "How it goes from point to point.", "straight|smooth", ""},
    {"smooth", "follow", Takes::time, 0, 60, "", "20 ms",
     "How long a dial or a value of the play takes to come nine tenths of its way.", "", ""},

    {"moves", "lfo", Takes::word, 0, 0, "", "needed", "What swings.", "gain|pitch", ""},
    {"shape", "lfo", Takes::word, 0, 0, "", "sine",
     "How it swings; a square's edges take 5 ms, random goes smoothly to a new place each turn.",
     "sine|triangle|square|random", ""},
    {"rate", "lfo", Takes::number, 0.001, 50, "Hz", "needed", "Turns per second.", "", ""},
    {"depth", "lfo", Takes::number, 0, 60, "semitones or dB", "needed", "How far to either side, 24 semitones at most.",
     "", ""},
    {"phase", "lfo", Takes::word, 0, 0, "", "start",
     "Whether its turns count from the play's begin, or go on by themselves.", "start|free", ""},

    {"from", "loop", Takes::time, 0, 36000, "", "0", "Its first frame; what lies before it is heard once.", "", ""},
    {"to", "loop", Takes::time, 0, 36000, "", "the clip's end",
     "The frame after its last; what lies behind it is its tail.", "", ""},
    {"points", "loop", Takes::word, 0, 0, "", "",
     "`file`: the loop that the clip's file has itself, instead of `from` and `to`.", "file", ""},
    {"count", "loop", Takes::whole, 1, 1000000, "", "endless", "How many turns.", "", ""},
    {"seam", "loop", Takes::time, 0, 60, "", "0",
     "How long its end is mixed into what lies before its begin; where too little lies there, the begin moves.", "",
     ""},
    {"end", "loop", Takes::word, 0, 0, "", "fade", "What a stop does: fade out, or finish the turn and play the tail.",
     "fade|tail", ""},

    {"plays", "limit", Takes::whole, 1, 1000, "", "8; of a bus any number", "How many at once.", "", ""},
    {"gap", "limit", Takes::time, 0, 3600, "", "none",
     "Least time from one accepted start to the next; of a sound only.", "", ""},
    {"full", "limit", Takes::word, 0, 0, "", "end-oldest",
     "What happens at one more: the oldest or the quietest ends, the newcomer is refused, or all end for it.",
     "end-oldest|end-quietest|refuse|restart", ""},

    {"into", "bus", Takes::text, 0, 0, "", "main", "The bus that it is part of.", "", ""},
    {"gain", "bus", Takes::number, -120, 24, "dB", "0", "Added to all that is on it.", "", ""},
    {"limit", "bus", Takes::table, 0, 0, "", "none", "How many plays may be on it at once.", "", "limit"},

    {"start", "dial", Takes::number, -1e6, 1e6, "", "its lowest", "What it is until the app sets it.", "", ""},
    {"range", "dial", Takes::pair, -1e6, 1e6, "", "[0, 1]", "Its lowest and its highest.", "", ""},

    {"circle", "zone", Takes::table, 0, 0, "", "one of the two", "A circle.", "", "circle"},
    {"rectangle", "zone", Takes::table, 0, 0, "", "one of the two", "A rectangle.", "", "rectangle"},
    {"order", "zone", Takes::whole, whole_low, -whole_low, "", "0", "Higher is in front; ties: the later one.", "", ""},
    {"x", "circle", Takes::number, -far, far, "app's units", "needed", "Its middle.", "", ""},
    {"y", "circle", Takes::number, -far, far, "app's units", "needed", "Its middle.", "", ""},
    {"r", "circle", Takes::number, 1e-6, far, "app's units", "needed", "Its radius; the rim is inside.", "", ""},
    {"x", "rectangle", Takes::number, -far, far, "app's units", "needed", "Its left side, which is inside.", "", ""},
    {"y", "rectangle", Takes::number, -far, far, "app's units", "needed", "Its top, which is inside.", "", ""},
    {"width", "rectangle", Takes::number, 1e-6, far, "app's units", "needed", "The right side is outside.", "", ""},
    {"height", "rectangle", Takes::number, 1e-6, far, "app's units", "needed", "The bottom is outside.", "", ""},

    {"trigger", "binding", Takes::table, 0, 0, "", "needed", "What starts it.", "", "trigger"},
    {"action", "binding", Takes::actions, 0, 0, "", "needed", "What is done, or a list, carried out in order.", "",
     "action"},
    {"press", "trigger", Takes::text, 0, 0, "", "one of these", "The zone that is pressed.", "", ""},
    {"key-down", "trigger", Takes::text, 0, 0, "", "", "The key, by its W3C UI Events code.", "", ""},
    {"contact", "trigger", Takes::pair, 0, 0, "", "", "Two kinds of body that begin to touch, in either order.", "",
     ""},
    {"notice", "trigger", Takes::text, 0, 0, "", "", "The name of a script event.", "", ""},
    {"play", "action", Takes::text, 0, 0, "", "one of the two", "The sound or clip that begins.", "", ""},
    {"stop", "action", Takes::text, 0, 0, "", "one of the two", "The sound whose plays end in their own way.", "", ""},
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
