// The app's own processing on a bus: its place in the mix, its calls, and the effects of its faults.
#include "support/bench.h"
#include "support/signal.h"

#include <catch2/catch.hpp>

#include <chrono>
#include <cmath>
#include <functional>
#include <memory>
#include <stdexcept>

using namespace support;

namespace {

const std::string two_buses = "[bus.low]\ngain = -6\n[bus.high]\n"
                              "[sound.a]\ntakes = ['tone']\nloop = true\nbus = 'low'\n"
                              "[sound.b]\ntakes = ['tone']\nloop = true\nbus = 'high'\n"
                              "[sound.once]\ntakes = ['tone']\nbus = 'low'\n";

struct Counts {
    int rate = 0, most = 0, prepared = 0, calls = 0, resets = 0, largest = 0;
};

/// Calls a function for each frame.
class Each : public kiai::Insert {
  public:
    using Do = std::function<float(float)>;
    Each(Counts& counts, Do what, kiai::Seconds tail = kiai::Seconds(0))
        : counts_(counts), do_(std::move(what)), tail_(tail) {}
    void prepare(int rate, int most) override { ++counts_.prepared, counts_.rate = rate, counts_.most = most; }
    void process(std::span<float> left, std::span<float> right) override {
        ++counts_.calls;
        counts_.largest = std::max(counts_.largest, static_cast<int>(left.size()));
        for (float& frame : left) frame = do_(frame);
        for (float& frame : right) frame = do_(frame);
    }
    void reset() override { ++counts_.resets; }
    kiai::Seconds tail() const override { return tail_; }

  private:
    Counts& counts_;
    Do do_;
    kiai::Seconds tail_;
};

std::shared_ptr<Each> each(Counts& counts, Each::Do what, kiai::Seconds tail = kiai::Seconds(0)) {
    return std::make_shared<Each>(counts, std::move(what), tail);
}

/// Returns the left side of both sounds for a fifth of a second, without the latency; `set` is called first.
Signal heard_with(const std::function<void(kiai::Engine&)>& set, kiai::Frames block = 256, bool low = true,
                  bool high = true) {
    kiai::Engine engine(project_of(sine(480, 0.2, 48000), two_buses), {.seed = 1});
    set(engine);
    if (low) engine.play("a");
    if (high) engine.play("b");
    std::vector<float> all = render(engine, 9600, block);
    all.erase(all.begin(), all.begin() + engine.latency() * 2);
    return side(all, 0);
}

Signal sum(const Signal& a, const Signal& b) {
    Signal both = a;
    for (std::size_t i = 0; i < both.size(); ++i) both[i] += b[i];
    return both;
}

} // namespace

TEST_CASE("An insert processes its bus before the gain of the bus, and nothing else", "[insert]") {
    Counts counts;
    const auto squared = [&](kiai::Engine& engine) {
        REQUIRE(engine.set_insert("low", each(counts, [](float frame) { return frame * frame; })));
    };
    const auto nothing = [](kiai::Engine&) {};
    const Signal with = heard_with(squared, 256, true, false), without = heard_with(nothing, 256, true, false);
    const double gain = std::pow(10, -6 / 20.0);
    for (std::size_t i = 4800; i < with.size(); i += 7) {
        const double plain = static_cast<double>(without[i]) / gain;
        REQUIRE(static_cast<double>(with[i]) == Approx(plain * plain * gain).margin(1e-6));
    }
    CHECK(counts.prepared == 1);
    CHECK(counts.rate == 48000);
    CHECK(counts.largest <= counts.most);
    // The other bus is unchanged to the bit, and so is the sum at every block size.
    const Signal other = heard_with(nothing, 256, false, true);
    CHECK(heard_with(squared) == sum(with, other));
    for (const kiai::Frames block : {1, 33, 480, 1024, 5000}) CHECK(heard_with(squared, block) == heard_with(squared));
    // On `main` an insert comes before the limiter.
    const Signal loud = heard_with(
        [&](kiai::Engine& engine) { engine.set_insert("main", each(counts, [](float frame) { return 20 * frame; })); });
    CHECK(peak(loud) <= 1);
    CHECK(peak(loud) > 0.5);
}

TEST_CASE("An insert comes, is replaced and goes without a click, and is freed", "[insert]") {
    kiai::Engine engine(project_of(sine(480, 0.2, 48000), two_buses), {.seed = 1});
    Counts counts;
    auto first = each(counts, [](float frame) { return -frame; });
    const std::weak_ptr<Each> watched = first;
    engine.play("a");
    std::vector<float> all = render(engine, 4800);
    const auto go_on = [&](kiai::Frames frames) {
        const std::vector<float> more = render(engine, frames);
        all.insert(all.end(), more.begin(), more.end());
        engine.poll();
    };
    engine.set_insert("low", std::move(first));
    go_on(4800);
    CHECK_FALSE(watched.expired());
    engine.set_insert("low", each(counts, [](float frame) { return 0.5f * frame; }));
    go_on(200); // it still fades
    CHECK_FALSE(watched.expired());
    go_on(4600);
    CHECK(watched.expired());
    engine.set_insert("low", nullptr);
    go_on(4800);
    const int calls = counts.calls;
    go_on(4800);
    CHECK(counts.calls == calls);
    const Signal out = side(all, 0);
    const double steady = rms(out, 2400, 4800);
    CHECK(rms(out, 6000, 9600) == Approx(steady).epsilon(1e-3));
    CHECK(rms(out, 10800, 14400) == Approx(steady / 2).epsilon(1e-3));
    CHECK(rms(out, 15600, 19200) == Approx(steady).epsilon(1e-3));
    const Signal tone = sine(480, 0.2 * std::pow(10, -6 / 20.0), 4800);
    CHECK(db(largest_inner_second_difference(Signal(out.begin() + 2400, out.end())) -
             largest_inner_second_difference(tone)) <= -80);
    // An insert that `render` never saw is released at once.
    auto unseen = each(counts, [](float frame) { return frame; });
    const std::weak_ptr<Each> gone = unseen;
    engine.set_insert("low", std::move(unseen));
    engine.set_insert("low", nullptr);
    CHECK(gone.expired());
}

TEST_CASE("An insert that throws or gives what is no number is bypassed, said once, and harms nothing else",
          "[insert]") {
    int call = 0;
    Counts counts;
    Bench bench(two_buses, sine(480, 0.2, 48000));
    std::string why;
    const auto faulty = [&](float frame) -> float {
        if (++call < 4800 * 4) return -frame;
        if (why == "threw") throw std::runtime_error("out of order");
        return why == "nan" ? NAN : INFINITY;
    };
    why = GENERATE("threw", "nan", "infinite");
    const Signal expected = heard_with([](kiai::Engine&) {}, 256, false, true);
    REQUIRE(bench.engine.set_insert("low", each(counts, faulty)));
    bench.engine.play("a");
    bench.engine.play("b");
    bench.decided(12000);
    const Signal out = side(bench.heard, 0);
    std::vector<std::string> lines;
    for (const kiai::Decision& one : with_outcome(bench.log, kiai::Outcome::insert_off)) lines.push_back(describe(one));
    CHECK(lines == std::vector<std::string>{
                       "bypassed the insert of bus low: " +
                       std::string(why == "threw" ? "it threw an exception" : "it gave a NaN or infinite sample")});
    for (const float frame : out) REQUIRE(std::isfinite(frame));
    // The bus continues without a step.
    CHECK(rms(out, 11000, 12000) == Approx(0.2 * (1 + std::pow(10, -6 / 20.0)) / std::sqrt(2)).epsilon(0.01));
    CHECK(db(largest_inner_second_difference(Signal(out.begin() + 2400, out.end()))) < -35);
    const int calls = counts.calls;
    bench.engine.stop("a");
    bench.decided(9600);
    CHECK(with_outcome(bench.log, kiai::Outcome::insert_off).empty());
    CHECK(counts.calls == calls);
    CHECK(rms(side(bench.heard, 0), 4800, 9600) == Approx(0.2 / std::sqrt(2)).epsilon(0.01));
}

TEST_CASE("While a device plays, an insert that takes longer than its frames last is bypassed", "[insert]") {
    Counts counts;
    Bench bench(two_buses, sine(480, 0.2, 48000));
    double share = GENERATE(0.7, 1.5);
    const auto slow = [share, until = std::chrono::steady_clock::time_point()](float frame) mutable {
        const auto now = std::chrono::steady_clock::now();
        // The time is per frame of each side. A late caller does not catch up.
        until = std::max(until, now) + std::chrono::nanoseconds(static_cast<long>(share * 1e9 / 96000));
        while (std::chrono::steady_clock::now() < until) {
        }
        return -frame;
    };
    const bool live = GENERATE(true, false);
    REQUIRE(bench.engine.set_insert("low", each(counts, slow)));
    bench.engine.play("a");
    std::vector<float> block(512);
    for (int i = 0; i < 40; ++i) {
        if (live) bench.engine.begin_block(std::chrono::steady_clock::now(), 0);
        bench.engine.render(block);
    }
    bench.decided();
    const auto warned = with_outcome(bench.log, kiai::Outcome::insert_slow);
    const auto off = with_outcome(bench.log, kiai::Outcome::insert_off);
    REQUIRE(warned.size() == (live ? 1u : 0u));
    if (live) CHECK(static_cast<double>(warned[0].value) >= share - 0.1);
    if (live && share > 1) {
        REQUIRE(off.size() == 1);
        CHECK(off[0].rule == "it is slower than real time");
        CHECK(counts.calls < 40);
    }
    if (!live) CHECK(off.empty());
}

TEST_CASE("An insert is not called on an idle bus: from its tail on until the bus sounds again", "[insert]") {
    Counts counts;
    kiai::Engine engine(project_of(Signal(4800, 0.1f), two_buses), {.seed = 1});
    REQUIRE(engine.set_insert("low", each(
                                         counts, [](float frame) { return frame; }, kiai::Seconds(0.1))));
    render(engine, 9600);
    const int before = counts.calls;
    CHECK(counts.resets == 0);
    engine.play("once");
    render(engine, 4800, 480);
    CHECK(counts.resets == 1);
    const int sounding = counts.calls;
    CHECK(sounding - before == 10);
    render(engine, 4800 + 480, 480); // its tail
    CHECK(counts.calls - sounding >= 10);
    const int after = counts.calls;
    render(engine, 48000, 480);
    CHECK(counts.calls == after);
    engine.play("once");
    render(engine, 480, 480);
    CHECK(counts.resets == 2);
    CHECK(counts.calls == after + 1);
}

TEST_CASE("set_insert says what it cannot do, and survives an insert that misbehaves in prepare", "[insert]") {
    struct Bad : kiai::Insert {
        kiai::Engine* engine = nullptr;
        bool throws = true;
        void prepare(int, int) override {
            if (throws) throw std::runtime_error("no");
            engine->play("a");
            engine->set_insert("high", nullptr);
            CHECK(engine->bus_level("low").peak == 0);
        }
        void process(std::span<float>, std::span<float>) override {}
        void reset() override {}
        kiai::Seconds tail() const override { return kiai::Seconds(NAN); }
    };
    kiai::Engine engine(project_of(Signal(4800, 0.1f), two_buses), {.seed = 1});
    CHECK_FALSE(engine.set_insert("nowhere", std::make_shared<Bad>()));
    CHECK_FALSE(engine.set_insert("low", std::make_shared<Bad>()));
    const auto again = std::make_shared<Bad>();
    again->engine = &engine;
    again->throws = false;
    CHECK(engine.set_insert("low", again));
    CHECK(engine.set_insert("low", nullptr));
    render(engine, 4800);
    CHECK(engine.sounding() == 1);
}

TEST_CASE("An insert that calls the engine from its destructor does no harm", "[insert]") {
    struct Last : kiai::Insert {
        kiai::Engine* engine = nullptr;
        ~Last() override {
            engine->bus_level("low");
            engine->play("a");
            engine->poll();
        }
        void prepare(int, int) override {}
        void process(std::span<float>, std::span<float>) override {}
        void reset() override {}
    };
    kiai::Engine engine(project_of(Signal(4800, 0.1f), two_buses), {.seed = 1});
    const auto set = [&] {
        auto insert = std::make_shared<Last>();
        insert->engine = &engine;
        return engine.set_insert("low", std::move(insert));
    };
    CHECK(set());
    CHECK(set()); // the one before was never seen
    render(engine, 4800);
    CHECK(engine.set_insert("low", nullptr));
    render(engine, 4800);
    engine.poll();
    render(engine, 100);
    CHECK(engine.sounding() == 2);
}

TEST_CASE("An insert is never given a stretch of no frames", "[insert]") {
    struct Least : kiai::Insert {
        std::size_t least = 9999;
        void prepare(int, int) override {}
        void process(std::span<float> left, std::span<float>) override { least = std::min(least, left.size()); }
        void reset() override {}
    };
    const auto insert = std::make_shared<Least>();
    kiai::Engine engine(project_of(Signal(4800, 0.1f), two_buses + binding("every = '1 ms'", "notice = 'tick'") +
                                                           binding("notice = 'tick'", "play = 'once'")),
                        {.seed = 1});
    REQUIRE(engine.set_insert("low", insert));
    for (int i = 0; i < 200; ++i) {
        engine.render({});
        engine.play("once", {.at = engine.now() + 3});
        render(engine, i % 7 + 1);
    }
    CHECK(insert->least >= 1);
}

TEST_CASE("An insert stays on its bus when the project is changed", "[insert]") {
    Counts counts;
    kiai::Engine engine(project_of(sine(480, 0.2, 48000), two_buses), {.seed = 1});
    REQUIRE(engine.set_insert("low", each(counts, [](float frame) { return 0.25f * frame; })));
    engine.play("a");
    const Signal before = side(render(engine, 9600), 0);
    engine.set_project(project_of(sine(480, 0.2, 48000), "[bus.other]\n" + two_buses));
    render(engine, 4800);
    const Signal after = side(render(engine, 9600), 0);
    CHECK(rms(after, 4800, 9600) == Approx(rms(before, 4800, 9600)).epsilon(1e-3));
    CHECK(engine.set_insert("other", each(counts, [](float frame) { return frame; })));
}
