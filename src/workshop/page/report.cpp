#include "core/model/project.h"
#include "runtime/audio/audio_reader.h"
#include "workshop/disk/atomic_write.h"
#include "workshop/disk/temporary_file.h"
#include "workshop/page/assets.h"
#include "workshop/page/describe.h"
#include "workshop/page/rehearsal_png.h"
#include "workshop/ship/encode.h"

#include <kiai/load.h>
#include <kiai/workshop/catalogue.h>
#include <kiai/workshop/check.h>
#include <kiai/workshop/pack.h>
#include <kiai/workshop/page.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trace.h>

#include <fmt/format.h>

#include <algorithm>
#include <fstream>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;

constexpr double quality = 0.35; // of MP3

/// RFC 4648, section 4.
std::string base64(std::string_view bytes) {
    constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string text;
    text.reserve(bytes.size() * 4 / 3 + 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t three = 0;
        for (std::size_t j = 0; j < 3; ++j)
            three = three << 8 | (i + j < bytes.size() ? static_cast<unsigned char>(bytes[i + j]) : 0u);
        for (std::size_t j = 0; j < 4; ++j) text += i + j <= bytes.size() ? letters[three >> (18 - 6 * j) & 63] : '=';
    }
    return text;
}

std::string data_url(const char* type, std::string_view bytes) {
    return workshop::quoted(fmt::format("data:{};base64,{}", type, base64(bytes)));
}

std::string bytes_of(const fs::path& file) {
    std::ifstream stream(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(stream), {}};
}

/// As a browser's `encodeURIComponent` writes it; names have no other letters.
std::string address_of(const std::string& clip) {
    return workshop::quoted("clip?name=" + clip);
}

/// The sound of a clip as the address of data; empty if it cannot be encoded.
std::string audio_of(const model::Audio& audio) {
    for (const auto& [as, type] :
         {std::pair{workshop::Encoding::mp3, "audio/mpeg"}, {workshop::Encoding::ogg, "audio/ogg"}}) {
        const workshop::Encoded encoded = workshop::encode(audio, as, quality);
        if (encoded.error.empty()) return data_url(type, encoded.bytes);
    }
    return {};
}

/// The picture of a rehearsal as the address of data.
std::string rehearsal_of(const Project& project, const fs::path& file, std::vector<Finding>& findings) {
    LoadedTrace trace = load_trace(file);
    findings.insert(findings.end(), trace.findings.begin(), trace.findings.end());
    if (trace.trace.lines.empty()) return {};
    PictureSettings settings;
    settings.title = file.filename().string();
    settings.height = 640;
    std::string error;
    const std::string png = workshop::rehearsal_png(rehearse(project, trace.trace), settings, error);
    return error.empty() ? data_url("image/png", png) : std::string();
}

/// Reads a file of the engine for browsers. Sets `error` if there is none.
std::string engine_file(const fs::path& folder, const char* name, std::string& error) {
    std::string bytes = bytes_of(folder / name);
    if (bytes.empty()) error = fmt::format("{} is missing; build it with scripts/web", (folder / name).string());
    return bytes;
}

/// Returns what lets a report play: the engine's scripts and program, and the project as a pack. Sets `error` if
/// something is missing.
std::string engine_of(const fs::path& folder, const ReportSettings& settings, std::string& error) {
    std::string scripts;
    for (const char* name : {"kiai.js", "wasm.js", "worklet.js"})
        scripts += fmt::format("{}\"{}\":{}", scripts.empty() ? "" : ",", name,
                               workshop::quoted(engine_file(settings.engine, name, error)));
    const std::string program = engine_file(settings.engine, "kiai.wasm", error);
    if (!error.empty()) return {};
    const workshop::TemporaryFile pack(".kiai");
    if (make_pack(folder, {.out = pack.path(), .as = PackAs::flac}).bytes == 0) {
        error = "the project has errors, so that the report cannot play it; correct them, or leave out --playable";
        return {};
    }
    const std::string options = settings.seed ? fmt::format("{{\"seed\":{},\"portable\":true}}", *settings.seed) : "{}";
    return fmt::format("{{\"scripts\":{{{}}},\"program\":\"{}\",\"pack\":\"{}\",\"options\":{}}}", scripts,
                       base64(program), base64(bytes_of(pack.path())), options);
}

void replace(std::string& text, std::string_view what, std::string_view by) {
    if (const std::size_t at = text.find(what); at != std::string::npos) text.replace(at, what.size(), by);
}

/// A `<` in the data could end the script that holds it.
std::string safe(std::string json) {
    for (std::size_t at = 0; (at = json.find('<', at)) != std::string::npos;) json.replace(at, 1, "\\u003c");
    return json;
}

std::string_view asset(std::string_view name) {
    return std::find_if(workshop::assets.begin(), workshop::assets.end(),
                        [&](const auto& one) { return one.name == name; })
        ->text;
}

} // namespace

ReportResult write_report(const fs::path& folder, const fs::path& file, const ReportSettings& settings) {
    ReportResult result;
    LoadResult loaded = load_project(folder);
    result.findings = loaded.findings;
    workshop::PageProject shown{loaded.project, catalogue(folder), check_project(folder).findings, 1};
    std::erase_if(shown.findings, [](const Finding& finding) { return finding.severity == Severity::note; });
    const std::string over = settings.over.empty() ? std::string() : bytes_of(settings.over);
    std::string data = fmt::format(
        "{{\"project\":{},\"made\":{}",
        workshop::describe_project(shown, {!settings.engine.empty(), false, false, !over.empty()}, 48000),
        workshop::quoted(fmt::format("{} finding{}", shown.findings.size(), shown.findings.size() == 1 ? "" : "s")));
    if (!over.empty()) data += ",\"over\":" + data_url("image/png", over);
    if (!settings.trace.empty())
        if (const std::string picture = rehearsal_of(loaded.project, settings.trace, result.findings); !picture.empty())
            data += ",\"rehearsal\":" + picture;
    std::string audio;
    for (const model::Clip& clip : loaded.project.data().clips) {
        if (clip.file.empty()) continue;
        const reader::Decoded decoded = runtime::decode({folder, {}}, clip.file, reader::Stream::no);
        if (!decoded.ok()) continue; // a finding of loading says why
        data += fmt::format(",{}:{}", address_of(clip.name), workshop::describe_clip(clip, *decoded.audio));
        const std::string sound = settings.without_audio ? std::string() : audio_of(*decoded.audio);
        if (sound.empty()) continue;
        audio += fmt::format("{}{}:{}", audio.empty() ? "" : ",", workshop::quoted(clip.name), sound);
        ++result.clips;
    }
    data += ",\"audio\":{" + audio + "}";
    if (!settings.engine.empty()) {
        const std::string engine = engine_of(folder, settings, result.error);
        if (!result.error.empty()) return result;
        data += ",\"playable\":" + engine;
    }
    data += "}";

    std::string page(asset(""));
    replace(page, "<meta charset=\"utf-8\">",
            "<meta charset=\"utf-8\">\n<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; "
            "script-src 'unsafe-inline' " +
                std::string(settings.engine.empty() ? "" : "'wasm-unsafe-eval' data:") +
                "; style-src 'unsafe-inline'; img-src data:; media-src data:\">");
    replace(page, "<link rel=\"stylesheet\" href=\"page.css\">", fmt::format("<style>\n{}</style>", asset("page.css")));
    replace(page, "<link rel=\"icon\" href=\"icon.svg\" type=\"image/svg+xml\">\n", "");
    replace(page, "<script src=\"page.js\"></script>",
            fmt::format("<script type=\"application/json\" id=\"inside\">{}</script>\n<script>\n{}</script>",
                        safe(std::move(data)), asset("page.js")));
    replace(page, "<!doctype html>", "<!doctype html><!-- Kiai report -->");
    result.error = workshop::write_atomically(file, page);
    if (result.error.empty()) result.bytes = page.size();
    return result;
}

} // namespace kiai::inline v0
