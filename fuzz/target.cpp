#include "target.h"

#include <cmath>
#include <cstdlib>
#include <fstream>
#include <unistd.h>

namespace fuzz {

File::File(const std::string& bytes) : path_("/dev/shm/kiai-fuzz-" + std::to_string(getpid())) {
    std::ofstream(path_, std::ios::binary).write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
}

File::~File() {
    std::error_code error;
    std::filesystem::remove(path_, error);
}

void play(const kiai::Project& project) {
    kiai::Engine engine(project, {.seed = 1, .voices = 32, .reports = 64, .streams = 2, .synchronous_streams = true});
    engine.set_log({});
    engine.set_findings({});
    for (float at = 0; at < 600; at += 97) engine.press({at, at / 2}), engine.release();
    engine.play("oak");
    engine.notice("run-complete");
    float block[2 * 480];
    for (int i = 0; i < 50; ++i) {
        engine.render(block);
        for (const float sample : block)
            if (!(std::abs(sample) <= 1)) std::abort();
        engine.poll();
    }
}

} // namespace fuzz
