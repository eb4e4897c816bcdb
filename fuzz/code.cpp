// Reads source code in each language: every token is inside the text.
#include "support/places.h"

#include "target.h"

#include "workshop/check/source_tokens.h"

#include <kiai/workshop/code.h>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using kiai::workshop::Language;
    const std::string text = fuzz::text_of(data, size);
    for (const Language language : {Language::c, Language::lua, Language::python})
        for (const kiai::workshop::Token& token : kiai::workshop::tokens_of(text, language))
            if (token.text.data() < text.data() || token.text.data() + token.text.size() > text.data() + text.size() ||
                token.line < 1 || token.column < 1)
                std::abort();
    const fuzz::File file(text);
    kiai::check_code(support::source_folder() + "/examples/marble-run", {file.path()});
    return 0;
}
