// Asks a running engine why a sound is silent.
#include <kiai/workshop/workshop.h>

#include <chrono>
#include <iostream>
#include <thread>

int main() {
    const kiai::LoadResult loaded = kiai::load_project("marble-run");
    kiai::Engine engine(loaded.project);
    kiai::Speaker speaker(engine);
    speaker.wait_until_open();
    engine.notice("run-completed"); // a slip: the binding waits for run-complete
    std::this_thread::sleep_for(std::chrono::milliseconds(100));
    engine.poll();

    const kiai::Diagnosis why = kiai::why_silent(engine, "fanfare", &speaker);
    std::cout << why.message() << '\n';
    return why.heard() ? 0 : 1;
}
