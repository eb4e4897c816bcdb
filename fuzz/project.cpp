// Loads kiai.toml: any content leads to findings, and the rest plays.
#include "support/files_in_memory.h"
#include "support/signal.h"
#include "target.h"

#include <sstream>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    static const std::string wav = support::wav_bytes(support::sine(700, 0.5, 100)); // the content of every clip
    std::map<std::string, std::string> files{{"kiai.toml", fuzz::text_of(data, size)}};
    for (int n = 1; n <= 9; ++n)
        for (const char* name : {"oak", "drop", "peg"})
            files["clips/" + std::string(name) + "-" + std::to_string(n) + ".wav"] = wav;
    kiai::LoadOptions options;
    options.open = support::files_in_memory(std::move(files));
    const kiai::LoadResult loaded = kiai::load_project("bench", options);
    for (const kiai::Finding& finding : loaded.findings) {
        std::ostringstream line;
        line << finding;
        if (line.str().find('\n') != std::string::npos) std::abort(); // one line each
    }
    fuzz::play(loaded.project);
    return 0;
}
