// Loads an audio file: the result is a finding, or finite samples.
#include "support/files_in_memory.h"
#include "target.h"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    for (const bool stream : {false, true}) {
        kiai::LoadOptions options;
        options.open =
            support::files_in_memory({{"kiai.toml", std::string("format = 1\n[clip]\noak = { file = \"oak.wav\"") +
                                                        (stream ? ", stream = true" : "") + " }\n"},
                                      {"oak.wav", fuzz::text_of(data, size)}});
        const kiai::LoadResult loaded = kiai::load_project("bench", options);
        if (loaded.ok()) fuzz::play(loaded.project);
    }
    return 0;
}
