// Tests what an app sounds like, in the app's own tests. Any test library works; here a check is an `if`.
#include <kiai/workshop/workshop.h>

#include <iostream>

using namespace std::chrono_literals;
namespace expect = kiai::expect;

/// What the app itself does in a second of play. This code knows nothing about the test.
void play_a_second(kiai::Engine& engine) {
    engine.press({118, 82}); // the hopper
    engine.contact("marble", "oak", {.strength = 0.7f, .place = -0.2f, .pair = 1});
}

int main() {
    const kiai::LoadResult loaded = kiai::load_project("marble-run");
    kiai::Engine engine(loaded.project, {.seed = 7, .record_levels = true});
    kiai::RunRecorder witness(engine);
    play_a_second(engine);
    witness.render(1s);

    bool good = loaded.ok();
    for (const kiai::Expectation& expected :
         {expect::heard("hopper", {.of = "press hopper", .within = 20ms}), expect::level("oak", -30, -3),
          expect::at_most(2), expect::silent("warning")}) {
        const kiai::ExpectationResult met = meets(witness.seen(), expected);
        std::cout << met << '\n';
        good = good && met;
    }
    return good ? 0 : 1;
}
