#include <kiai/workshop/expect.h>

namespace kiai::inline v0 {

const std::vector<Key>& expectation_keys() {
    constexpr double longest = 36000;
    static const std::vector<Key> keys{
        {"format", "expectations", Takes::whole, 0, 1 << 30, "", "needed", "The version of this file format: 1.", "",
         ""},
        {"expect", "expectations", Takes::tables, 0, 0, "", "needed", "The expectations.", "", "expect"},

        {"heard", "expect", Takes::text, 0, 0, "", "one of these",
         "A sound that is above -60 dBFS within `within` after each trigger `of`; without `of`, at least once.", "",
         ""},
        {"silent", "expect", Takes::target, 0, 0, "", "",
         "A sound, or true for everything: never above -60 dBFS between `from` and `to`.", "", ""},
        {"at-most", "expect", Takes::whole, 0, 100000, "", "",
         "Maximum number of plays at once, of `sound` or of everything. Stolen plays do not count.", "", ""},
        {"fresh", "expect", Takes::text, 0, 0, "", "", "A sound that never plays the same take twice in a row.", "",
         ""},
        {"level", "expect", Takes::pair, -200, 24, "dBFS", "",
         "Minimum and maximum of the peak of each play of `sound`.", "", ""},
        {"ended", "expect", Takes::target, 0, 0, "", "",
         "A sound, or true for everything: plays end within `within` after each trigger `of`.", "", ""},
        {"refused", "expect", Takes::text, 0, 0, "", "", "A trigger that the rule `by` always refuses.", "", ""},
        {"sound", "expect", Takes::text, 0, 0, "", "everything", "For `at-most` and `level`: the sound.", "", ""},
        {"of", "expect", Takes::text, 0, 0, "", "none",
         "For `heard` and `ended`: a trigger as in the log, such as \"press hopper\" or \"contact marble+oak\".", "",
         ""},
        {"by", "expect", Takes::text, 0, 0, "", "needed",
         "For `refused`: a condition (\"hopper-stock > 0\"), \"gap\", a limit (\"sound oak\"), what the limit does "
         "(\"refuse\"), or a decision (\"scope-off\").",
         "", ""},
        {"within", "expect", Takes::time, 0, longest, "", "20 ms", "For `heard` and `ended`: time after the trigger.",
         "", ""},
        {"from", "expect", Takes::time, 0, longest, "", "0 s", "Ignores everything before this time.", "", ""},
        {"to", "expect", Takes::time, 0, longest, "", "the end", "Ignores everything after this time.", "", ""},
        {"note", "expect", Takes::text, 0, 0, "", "", "Why this is expected.", "", ""},
    };
    return keys;
}

} // namespace kiai::inline v0
