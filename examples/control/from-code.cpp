// Controls sounds from code, without a binding and without a device, and prints the decisions.
#include <kiai/kiai.h>
#include <kiai/log.h>

#include <chrono>
#include <iostream>
#include <vector>

namespace {

/// Renders for that time. In an app the device asks for the frames.
void pass(kiai::Engine& engine, double seconds) {
    std::vector<float> block(512 * 2);
    const kiai::Frames end = engine.now() + static_cast<kiai::Frames>(seconds * engine.sample_rate());
    while (engine.now() < end) engine.render(block);
    engine.poll();
}

} // namespace

int main() {
    using namespace std::chrono_literals;
    using kiai::Target;
    kiai::Engine engine(kiai::load_project("marble-run").project, {.seed = 1});
    engine.set_log(kiai::text_log(std::cout, {.sample_rate = engine.sample_rate()}));

    // Changes one play by its handle: fades it in, then moves its pitch, pan and gain.
    kiai::Play motor = engine.play("lift", {.gain = -6, .fade_in = 300ms});
    motor.set_pan(-0.5f);
    pass(engine, 1);
    motor.set_pitch(+3, 500ms);
    motor.set_gain(-12, 500ms);
    pass(engine, 1);

    // Crossfades from one sound to another at constant power, then continues at another position.
    kiai::Play roll = engine.crossfade(motor, "roll", 400ms, {.gain = -3});
    pass(engine, 0.5);
    roll.seek(200ms);
    pass(engine, 0.1);
    roll.stop(100ms);
    pass(engine, 0.2);

    // Stops a sound, a bus, a scope, a sequence, and everything.
    engine.play("roll", {}, "bench");
    engine.play("lift", {.loop = 2, .bus = "signals"});
    engine.play("oak", {.start = 20ms, .length = 150ms});
    pass(engine, 0.2);
    engine.pause(Target::bus("pieces"));
    pass(engine, 0.5);
    engine.resume(Target::bus("pieces"));
    engine.restart("lift");
    for (const kiai::PlayingNow& now : engine.plays())
        std::cout << "  #" << now.number << " " << now.sound << " on " << now.bus << ", " << to_string(now.state)
                  << '\n';
    pass(engine, 0.5);
    engine.stop(Target::scope("bench"), 100ms);
    engine.stop(Target::everything(), 200ms);
    pass(engine, 1);
    std::cout << engine.sounding() << " plays still sound\n";
}
