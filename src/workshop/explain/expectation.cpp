// Prints expectations, short and in words.
#include <kiai/workshop/expect.h>

#include <fmt/format.h>

namespace kiai::inline v0 {
namespace {

std::string time(Seconds seconds) {
    return seconds.count() < 1 ? fmt::format("{:g} ms", 1000 * seconds.count())
                               : fmt::format("{:g} s", seconds.count());
}

std::string window(const Expectation& expectation) {
    const bool from = expectation.from.count() > 0, to = expectation.to.count() > 0;
    if (from && to) return fmt::format(", between {:g} s and {:g} s", expectation.from.count(), expectation.to.count());
    if (from) return fmt::format(", from {:g} s on", expectation.from.count());
    return to ? fmt::format(", before {:g} s", expectation.to.count()) : "";
}

std::string statement(const Expectation& e) {
    switch (e.kind) {
    case Expectation::Kind::heard:
        return e.of.empty() ? fmt::format("{} is heard", e.sound)
                            : fmt::format("{} is heard within {} of {}", e.sound, time(e.within), e.of);
    case Expectation::Kind::silent:
        return e.sound.empty() ? "nothing is heard" : fmt::format("{} is not heard", e.sound);
    case Expectation::Kind::at_most:
        return fmt::format("at most {} play{}{} at once", e.plays, e.plays == 1 ? "" : "s",
                           e.sound.empty() ? "" : " of " + e.sound);
    case Expectation::Kind::fresh:
        return fmt::format("{} never plays the same take twice in a row", e.sound);
    case Expectation::Kind::level:
        return fmt::format("each play of {} peaks between {:g} and {:g} dBFS", e.sound, e.low, e.high);
    case Expectation::Kind::ended:
        return fmt::format("{} ends within {} of {}", e.sound.empty() ? "everything" : e.sound, time(e.within), e.of);
    case Expectation::Kind::refused:
        return fmt::format("{} is refused by {}", e.of, e.by);
    }
    return {};
}

Expectation made(Expectation::Kind kind, std::string sound, const expect::Where& where) {
    Expectation made;
    made.kind = kind;
    made.sound = std::move(sound);
    made.of = where.of;
    made.within = where.within;
    made.from = where.from;
    made.to = where.to;
    return made;
}

} // namespace

std::string to_string(const Expectation& expectation) {
    return statement(expectation) + window(expectation);
}

namespace expect {

Expectation heard(std::string sound, const Where& where) {
    return made(Expectation::Kind::heard, std::move(sound), where);
}

Expectation silent(std::string sound, const Where& where) {
    return made(Expectation::Kind::silent, std::move(sound), where);
}

Expectation at_most(int plays, std::string sound, const Where& where) {
    Expectation one = made(Expectation::Kind::at_most, std::move(sound), where);
    one.plays = plays;
    return one;
}

Expectation fresh(std::string sound, const Where& where) {
    return made(Expectation::Kind::fresh, std::move(sound), where);
}

Expectation level(std::string sound, Decibels low, Decibels high, const Where& where) {
    Expectation one = made(Expectation::Kind::level, std::move(sound), where);
    one.low = low;
    one.high = high;
    return one;
}

Expectation ended(std::string sound, const Where& where) {
    return made(Expectation::Kind::ended, std::move(sound), where);
}

Expectation refused(std::string trigger, std::string by, const Where& where) {
    Expectation one = made(Expectation::Kind::refused, {}, where);
    one.of = std::move(trigger);
    one.by = std::move(by);
    return one;
}

} // namespace expect
} // namespace kiai::inline v0
