#include <kiai/kiai.h>

#include <chrono>
#include <iostream>
#include <thread>

using namespace std::chrono_literals;

int main() {
    kiai::LoadResult loaded = kiai::load_project("marble-run");
    for (const kiai::Finding& finding : loaded.findings) std::cerr << finding << '\n';

    kiai::Engine engine(loaded.project);
    kiai::Speaker speaker(engine);
    speaker.wait_until_open(); // without this line, nothing is heard until the device is open
    engine.set_log([](const kiai::Decision& decision) { std::cout << describe(decision) << '\n'; });

    engine.click({118, 82}); // the hopper: a marble drops
    engine.contact("marble", "oak", {.strength = 0.7f, .place = -0.2f});
    kiai::Play lift = engine.play("lift", {.gain = -6});
    for (int frame = 0; frame < 60; ++frame) {
        if (frame == 40) lift.stop(200ms);
        engine.poll();
        std::this_thread::sleep_for(16ms);
    }
}
