// Packs load the same project as the folder, and an altered pack is refused.
#include "core/model/project.h"
#include "support/looped_files.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/workshop.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <chrono>
#include <cstring>
#include <fstream>

using namespace support;
using kiai::FindingCode;

namespace {

/// Makes the pack of a folder, next to it.
std::filesystem::path pack_of(const std::filesystem::path& folder, const Folder& into,
                              kiai::PackSettings settings = {}) {
    settings.out = into.path() / "bench.kiai";
    const kiai::PackResult made = kiai::make_pack(folder, settings);
    for (const kiai::Finding& finding : made.findings) INFO(finding);
    REQUIRE(made.bytes == std::filesystem::file_size(settings.out));
    return settings.out;
}

kiai::Project loaded(const std::filesystem::path& from) {
    const kiai::LoadResult result = kiai::load_project(from);
    for (const kiai::Finding& finding : result.findings) INFO(finding);
    REQUIRE(result.ok());
    return result.project;
}

std::vector<float> heard(const kiai::Project& project, const std::string& sound, kiai::Frames frames = 48000) {
    kiai::Engine engine(project, {.seed = 3, .synchronous_streams = true});
    engine.play(sound);
    return render(engine, frames);
}

/// Returns the errors of loading a pack: code and message.
std::string why_not(const std::filesystem::path& pack) {
    std::string all;
    for (const kiai::Finding& finding : kiai::load_project(pack).findings)
        if (finding.severity == kiai::Severity::error)
            all += std::string(kiai::to_string(finding.code)) + ": " + finding.message + '\n';
    return all;
}

constexpr const char* four_kinds = "[clip]\n"
                                   "mono = \"mono.wav\"\n"
                                   "stereo = \"stereo.wav\"\n"
                                   "long = { file = \"stereo.wav\", stream = true }\n"
                                   "looped = \"looped.wav\"\n"
                                   "[sound.one]\ntakes = [\"mono\"]\n"
                                   "[sound.two]\ntakes = [\"stereo\"]\n"
                                   "[sound.three]\ntakes = [\"long\"]\n"
                                   "[sound.four]\ntakes = [\"looped\"]\nloop = { points = \"file\" }\n";

/// A project with a clip of each kind.
struct Kinds : ProjectFolder {
    Kinds() : ProjectFolder(four_kinds) {
        write("mono.wav", wav_bytes(noise(0.5, 30000, 1)));
        write_wav("stereo.wav", noise(0.5, 2 * 200'000, 2), 44100, 2);
        write("looped.wav", wav_with_loop(sine(480, 0.5, 20000), 1000, 1999));
    }
};

} // namespace

TEST_CASE("The demo sounds the same from a pack, sample for sample", "[pack]") {
    const Folder into;
    const kiai::Project from_pack = loaded(pack_of(demo(), into)), from_folder = loaded(demo());
    CHECK(from_pack.fingerprint() == from_folder.fingerprint());
    CHECK(from_pack.name() == from_folder.name());
    CHECK(from_pack.sounds() == from_folder.sounds());
    const kiai::LoadedTrace minute = kiai::load_trace(demo() / "run.jsonl");
    const auto one = kiai::rehearse(from_pack, minute.trace, {.seed = 1}),
               other = kiai::rehearse(from_folder, minute.trace, {.seed = 1});
    CHECK(one.samples.size() > 48000);
    CHECK(one.samples == other.samples);
    CHECK(one.decisions.size() == other.decisions.size());
}

TEST_CASE("Every kind of clip sounds the same from a pack, however it lies there", "[pack]") {
    const Kinds folder;
    const kiai::Project from_folder = loaded(folder.path());
    for (const kiai::PackAs as : {kiai::PackAs::as_it_is, kiai::PackAs::wav, kiai::PackAs::flac}) {
        const kiai::Project from_pack = loaded(pack_of(folder.path(), folder, {.as = as}));
        CHECK(heard(from_pack, "one") == heard(from_folder, "one"));
        CHECK(heard(from_pack, "four", 96000) == heard(from_folder, "four", 96000));
        // FLAC keeps 24 bits of the float file.
        for (const char* sound : {"two", "three"}) {
            const auto a = heard(from_pack, sound, 240'000), b = heard(from_folder, sound, 240'000);
            double furthest = 0;
            for (std::size_t i = 0; i < a.size(); ++i) furthest = std::max<double>(furthest, std::abs(a[i] - b[i]));
            CHECK(furthest <= (as == kiai::PackAs::flac ? 4e-7 : 0));
            CHECK(peak(side(a, 1)) > 0.1);
        }
    }
}

TEST_CASE("Ogg in a pack is smaller, as long, and near", "[pack]") {
    const Kinds folder;
    const auto plain = std::filesystem::file_size(pack_of(folder.path(), folder));
    const auto pack = pack_of(folder.path(), folder, {.as = kiai::PackAs::ogg});
    CHECK(std::filesystem::file_size(pack) < plain / 2);
    const kiai::Project from_pack = loaded(pack), from_folder = loaded(folder.path());
    const Signal a = side(heard(from_pack, "four"), 0), b = side(heard(from_folder, "four"), 0);
    const Fit fit = fit_sine(a, 480, 4000, 40000);
    CHECK(fit.amplitude == Approx(fit_sine(b, 480, 4000, 40000).amplitude).epsilon(0.02));
    CHECK(fit.snr_db() > 25);
    CHECK(kiai::list_pack(pack).clips.size() == 3);
}

TEST_CASE("A pack holds what is used, and how a clip lies in it is the clip's own word", "[pack]") {
    const ProjectFolder folder("[clip]\n"
                               "used = { file = \"a.wav\", author = \"Ada Verne\", licence = \"CC0-1.0\" }\n"
                               "idle = \"b.wav\"\n"
                               "by-code = { file = \"c.wav\", pack = \"flac\" }\n"
                               "[credit]\n\".\" = { note = \"made for the bench\" }\n"
                               "[sound.oak]\ntakes = [\"used\"]\n");
    for (const char* name : {"a.wav", "b.wav", "c.wav"}) folder.write(name, wav_bytes(noise(0.3, 4000, 7)));
    const auto out = folder.path() / "bench.kiai";
    const kiai::PackResult made = kiai::make_pack(folder.path(), {.out = out});
    CHECK(made.left_out == std::vector<std::string>{"idle"});
    REQUIRE(made.clips.size() == 2);
    CHECK(made.clips[0].coding == "samples, 16-bit");
    CHECK(made.clips[1].coding == "FLAC");
    CHECK(folder.read("bench.kiai").find("Ada Verne") == std::string::npos);
    CHECK(folder.read("bench.kiai").find("made for the bench") == std::string::npos);
    const kiai::Project project = loaded(out);
    CHECK(project.clips() == kiai::NameList{"used", "by-code"});
    CHECK(heard(project, "by-code") == heard(folder.load(), "by-code"));
    // The same project gives the same bytes.
    const std::string before = folder.read("bench.kiai");
    kiai::make_pack(folder.path(), {.out = out});
    CHECK(folder.read("bench.kiai") == before);
}

TEST_CASE("A project with an error is not packed, and the pack before stays", "[pack]") {
    const Kinds folder;
    const auto pack = pack_of(folder.path(), folder);
    const std::string before = folder.read("bench.kiai");
    folder.toml("[clip]\nmono = \"momo.wav\"\n");
    const kiai::PackResult made = kiai::make_pack(folder.path(), {.out = pack});
    CHECK(made.bytes == 0);
    CHECK(kiai::count(made.findings, kiai::Severity::error) == 1);
    CHECK(folder.read("bench.kiai") == before);
}

TEST_CASE("A pack that was cut short, altered or made by a later version is refused with its reason", "[pack]") {
    const Kinds folder;
    const auto pack = pack_of(folder.path(), folder);
    const std::string bytes = folder.read("bench.kiai");
    const auto with = [&](std::size_t at, char byte) {
        std::string other = bytes;
        other[at] = byte;
        folder.write("bench.kiai", other);
        return why_not(pack);
    };
    CHECK(why_not(pack).empty());
    CHECK(with(0, 'k') == "pack-damaged: this file is not a pack\n");
    CHECK(with(8, 9) == "unknown-format: the pack has version 9\n");
    CHECK(with(20, 77) == "pack-damaged: the pack's head is damaged\n");
    CHECK(with(70, static_cast<char>(~bytes[70])).find("damaged in the pack") != std::string::npos);
    CHECK(with(bytes.size() - 5, '#') == "pack-damaged: the pack's index is damaged\n");
    folder.write("bench.kiai", bytes.substr(0, bytes.size() / 2));
    CHECK(why_not(pack).find("bytes instead of") != std::string::npos);
    folder.write("bench.kiai", bytes.substr(0, 30));
    CHECK(why_not(pack) == "pack-damaged: the pack's head is damaged\n");
    folder.write("bench.kiai", "");
    CHECK(why_not(pack) == "pack-damaged: this file is not a pack\n");
    std::filesystem::remove(pack);
    CHECK(why_not(pack).find("no-project") != std::string::npos);
}

TEST_CASE("Wherever a byte of a pack is altered, it is found", "[pack]") {
    const Kinds folder;
    const auto pack = pack_of(folder.path(), folder);
    const std::string bytes = folder.read("bench.kiai");
    int unseen = 0;
    for (std::size_t at = 3; at < bytes.size(); at += bytes.size() / 300) {
        std::string other = bytes;
        other[at] = static_cast<char>(other[at] ^ 0x21);
        folder.write("bench.kiai", other);
        const bool listed = kiai::count(kiai::list_pack(pack).findings, kiai::Severity::error) > 0;
        if (!listed) ++unseen;
        if (!why_not(pack).empty()) CHECK(listed); // what is streamed is only looked at as it plays
    }
    CHECK(unseen == 0); // up to 63 bytes of padding precede a clip; no step is inside them
}

TEST_CASE("A stream from a pack is silent where the pack is damaged", "[pack]") {
    const ProjectFolder folder(
        "[clip]\nlong = { file = \"long.wav\", stream = true }\n[sound.one]\ntakes = [\"long\"]\n");
    folder.write_wav("long.wav", sine(440, 0.5, 400'000));
    const auto pack = pack_of(folder.path(), folder);
    std::string bytes = folder.read("bench.kiai");
    bytes[64 + 1'000'000] ^= 1; // in the block from 786,432 on, in frame 250,000
    folder.write("bench.kiai", bytes);
    const auto listed = kiai::list_pack(pack);
    CHECK(kiai::count(listed.findings, kiai::Severity::error) == 1);
    const Signal out = side(heard(loaded(pack), "one", 400'000), 0);
    CHECK(fit_sine(out, 440, 1000, 190'000).amplitude == Approx(0.5).epsilon(0.001));
    CHECK(peak(Signal(out.begin() + 197'000, out.begin() + 262'000)) == 0); // the whole block
    CHECK(fit_sine(out, 440, 263'000, 390'000).amplitude == Approx(0.5).epsilon(0.001));
}

TEST_CASE("What a pack and the pack after it share is not decoded again", "[pack]") {
    const Kinds folder;
    const auto pack = pack_of(folder.path(), folder);
    const kiai::Project first = loaded(pack);
    folder.toml(std::string(four_kinds) + "[sound.five]\ntakes = [\"mono\"]\n");
    pack_of(folder.path(), folder);
    const kiai::LoadResult second = kiai::load_project(pack, {.reuse = first});
    REQUIRE(second.ok());
    kiai::Engine engine(first);
    engine.play("one");
    render(engine, 480);
    engine.set_project(second.project);
    CHECK(engine.sounding() == 1);
    CHECK(second.project.sounds().has("five"));
    CHECK(second.project.memory() == first.memory());
}

TEST_CASE("A scope's clips are loaded from a pack when the scope is asked for", "[pack]") {
    const ProjectFolder folder(
        "[clip]\noak = \"a.wav\"\nglass = \"b.wav\"\n"
        "[scope.bench]\n[sound.one]\ntakes = [\"oak\"]\n[sound.two]\ntakes = [\"glass\"]\n"
        "[[binding]]\ntrigger = { key-down = \"KeyA\" }\naction = { play = \"one\" }\n"
        "[[binding]]\nscope = \"bench\"\ntrigger = { key-down = \"KeyB\" }\naction = { play = \"two\" }\n");
    folder.write("a.wav", wav_bytes(noise(0.3, 4000, 7)));
    folder.write("b.wav", wav_bytes(noise(0.3, 8000, 8)));
    const kiai::LoadResult plain = kiai::load_project(folder.path(), {.scopes = std::vector<std::string>{}});
    const auto pack = pack_of(folder.path(), folder);
    const kiai::LoadResult packed = kiai::load_project(pack, {.scopes = std::vector<std::string>{}});
    CHECK(packed.project.memory() == plain.project.memory());
    CHECK(packed.project.memory() < loaded(pack).memory());
}

TEST_CASE("A small pack cannot ask for much memory", "[pack]") {
    // Three hundred clips of one file of 400 kB.
    std::string toml = "[clip]\n";
    for (int c = 0; c < 300; ++c) toml += "c" + std::to_string(c) + " = { file = \"a.wav\", pack = \"wav\" }\n";
    const ProjectFolder folder(toml);
    folder.write("a.wav", wav_bytes(noise(0.3, 200'000, 7)));
    const auto pack = pack_of(folder.path(), folder);
    CHECK(std::filesystem::file_size(pack) < 1'000'000);
    const kiai::Project project = loaded(pack);
    CHECK(project.clips().size() == 300);
    const auto& clips = project.data().clips;
    CHECK(std::all_of(clips.begin(), clips.end(), [&](const auto& clip) { return clip.audio == clips[0].audio; }));
}
