#include <kiai/workshop/expect.h>

namespace kiai::inline v0 {

const std::vector<Key>& expectation_keys() {
    constexpr double longest = 36000;
    static const std::vector<Key> keys{
        {"format", "expectations", Takes::whole, 0, 1 << 30, "", "needed", "The version of this file format: 1.", "",
         ""},
        {"expect", "expectations", Takes::tables, 0, 0, "", "needed", "What is expected.", "", "expect"},

        {"heard", "expect", Takes::text, 0, 0, "", "one of these",
         "A sound that comes above -60 dBFS: within `within` of each trigger `of`, or, without one, at least once.", "",
         ""},
        {"silent", "expect", Takes::target, 0, 0, "", "",
         "A sound, or true for everything: nothing of it comes above -60 dBFS between `from` and `to`.", "", ""},
        {"at-most", "expect", Takes::whole, 0, 100000, "", "",
         "So many plays at once of `sound`, or of everything; one that was stolen does not count.", "", ""},
        {"fresh", "expect", Takes::text, 0, 0, "", "", "A sound that never plays the same take twice running.", "", ""},
        {"level", "expect", Takes::pair, -200, 24, "dBFS", "",
         "The peak of each play of `sound` lies between these two.", "", ""},
        {"ended", "expect", Takes::target, 0, 0, "", "",
         "A sound, or true for everything: what sounds when the trigger `of` comes is over within `within`.", "", ""},
        {"refused", "expect", Takes::text, 0, 0, "", "", "A trigger that is refused by the rule `by`, each time.", "",
         ""},
        {"sound", "expect", Takes::text, 0, 0, "", "everything", "Of `at-most` and `level`: which.", "", ""},
        {"of", "expect", Takes::text, 0, 0, "", "none",
         "Of `heard` and `ended`: a trigger, as the log names it: \"press hopper\", \"contact marble+oak\".", "", ""},
        {"by", "expect", Takes::text, 0, 0, "", "needed",
         "Of `refused`: a condition (\"hopper-stock > 0\"), \"gap\", a limit (\"sound oak\") or what it does when full "
         "(\"refuse\"), or what the log says (\"scope-off\").",
         "", ""},
        {"within", "expect", Takes::time, 0, longest, "", "20 ms",
         "Of `heard` and `ended`: how long after the trigger.", "", ""},
        {"from", "expect", Takes::time, 0, longest, "", "0 s", "What comes before this does not count.", "", ""},
        {"to", "expect", Takes::time, 0, longest, "", "the end", "What comes from here on does not count.", "", ""},
        {"note", "expect", Takes::text, 0, 0, "", "", "Why it is expected, for who reads it.", "", ""},
    };
    return keys;
}

} // namespace kiai::inline v0
