// The commands that add and edit entries, as typed in a shell.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>

using namespace support;
using nlohmann::json;

namespace {

/// A copy of the demo that may be changed.
class DemoCopy : public Folder {
  public:
    DemoCopy() { std::filesystem::copy(demo(), path() / "bench", std::filesystem::copy_options::recursive); }
    std::string toml() const { return read("bench/kiai.toml"); }
    Ran tool(const std::string& arguments) const { return kiai_tool(arguments, path()); }
};

} // namespace

TEST_CASE("new, then hear, check and add: the first minutes", "[tool]") {
    const Folder work;
    const Ran made = kiai_tool("new game/sound", work.path());
    CHECK(made.status == 0);
    CHECK(has(made.out, "kiai hear game/sound strike --times 3"));
    CHECK(kiai_tool("hear game/sound strike --times 3 --out s.wav", work.path()).status == 0);
    CHECK(kiai_tool("check game/sound --strict", work.path()).out == "sound: 0 errors, 0 warnings, 0 notes\n");
    const Ran again = kiai_tool("new game/sound", work.path());
    CHECK(again.status == 1);
    CHECK(has(again.err, "already exists; choose another folder"));
    for (const char* name : {"tin_01.wav", "tin_02.wav", "tin_04.wav"})
        work.write_wav(std::string("recorded/") + name, sine(300 + name[5], 0.1, 4800));
    work.write("recorded/broken.wav", "broken");
    const Ran dry = kiai_tool("add game/sound recorded --dry-run", work.path());
    CHECK(has(dry.out, "would be: 3 added, 0 known, 1 refused"));
    const Ran added = kiai_tool("add game/sound recorded --author 'A. Turner' --licence CC-BY-4.0", work.path());
    CHECK(added.status == 1); // one was refused
    CHECK(has(added.out, "added   tin-1 = \"clips/recorded/tin_01.wav\", 0.10 s\n"));
    CHECK(has(added.out, "refused recorded/broken.wav: is a text file, which Kiai cannot read"));
    CHECK(has(added.out, "series  tin: 3 takes, missing: tin-3; made sound \"tin\" of it\n"));
    CHECK(has(added.out, "3 added, 0 known, 1 refused\n"));
    const json known = json::parse(kiai_tool("add game/sound recorded --json", work.path()).out);
    CHECK(known["files"].size() == 4);
    CHECK(known["files"][1]["outcome"] == "known");
    CHECK(kiai_tool("hear tin --out t.wav", work.path() / "game/sound/clips").status == 0); // from below the project
    CHECK(kiai_tool("add game/sound", work.path()).status == 2);
}

TEST_CASE("A missing project is named in the error, and the path of a kiai.toml stands for its folder", "[tool]") {
    const Folder work;
    std::filesystem::create_directory(work.path() / "takes");
    for (const char* command : {"why nowhere oak", "fire nowhere", "show nowhere", "add nowhere", "simulate nowhere"}) {
        INFO(command);
        const Ran ran = kiai_tool(command, work.path());
        CHECK(ran.status == 2);
        CHECK(ran.out.empty());
        CHECK(ran.err == "kiai: no project: neither this folder nor a folder above has a kiai.toml; name the project "
                         "first, or make one: kiai new nowhere\n");
    }
    CHECK(has(kiai_tool("why takes oak", work.path()).err, "folder \"takes\" has no kiai.toml"));
    const Ran list = kiai_tool("list nowhere", work.path());
    CHECK(list.status == 2);
    CHECK(list.out.empty());
    CHECK(has(list.err, "kiai: no project: "));
    CHECK(kiai_tool("new game", work.path()).status == 0);
    CHECK(kiai_tool("check game/kiai.toml", work.path()).out == kiai_tool("check game", work.path()).out);
    CHECK(kiai_tool("why game/kiai.toml strike", work.path()).status == 0);
    CHECK(kiai_tool("check kiai.toml", work.path() / "game").status == 0);
}

TEST_CASE("Standard output is not a file called -", "[tool]") {
    const DemoCopy bench;
    for (const char* command : {"hear bench oak --out -", "trace bench/run.jsonl --out -", "credits bench --out -",
                                "rehearse bench bench/run.jsonl --log -"}) {
        INFO(command);
        const Ran ran = bench.tool(command);
        CHECK(ran.status == 2);
        CHECK(has(ran.err, "\"-\" is not a file; name a file, or /dev/stdout"));
    }
    CHECK_FALSE(std::filesystem::exists(bench.path() / "-"));
    CHECK(bench.tool("credits bench --out /dev/stdout").out == bench.tool("credits bench").out);
}

TEST_CASE("show: facts, waveform and picture of a clip, a sound, any file", "[tool]") {
    const DemoCopy bench;
    const Ran clip = bench.tool("show bench flourish");
    CHECK(clip.status == 0);
    for (const char* part :
         {"file      clips/flourish.wav", "44100 Hz", "LUFS", "licence   MIT", "sound \"fanfare\"", "   -20 dB █"}) {
        INFO(clip.out);
        CHECK(has(clip.out, part));
    }
    const Ran sound = bench.tool("show bench oak --picture oak.png");
    CHECK(has(sound.out, "binding 12"));
    CHECK(has(sound.out, "oak-9    0.320  -21.3 LUFS"));
    CHECK(bench.read("oak.png").substr(1, 3) == "PNG");
    const json shown = json::parse(bench.tool("show bench oak --json").out);
    CHECK(shown["kind"] == "sound");
    CHECK(shown["clips"].size() == 9);
    CHECK(shown["clips"][0]["frames"] == 14112);
    Signal late(9600, 0.0f);
    const Signal loud = sine(440, 2.0, 9600);
    for (std::size_t i = 0; i < loud.size(); ++i) late.push_back(std::clamp(loud[i], -1.0f, 1.0f));
    bench.write_wav("late.wav", late);
    const Ran file = bench.tool("show late.wav"); // a file outside of any project
    CHECK(file.status == 0);
    CHECK(has(file.out, "^ first heard after 200.0 ms"));
    CHECK(has(file.out, "clipped   176 places"));
    CHECK(has(file.out, "  clipped                                                   !!!"));
    const Ran unknown = bench.tool("show bench oka");
    CHECK(unknown.status == 1);
    CHECK(has(unknown.err, "did you mean \"oak\"?"));
    CHECK(bench.tool("show bench oak --picture /nowhere/x.png").status == 3);
    bench.write("bench/clips/motor.wav", "broken");
    const Ran broken = bench.tool("show bench motor");
    CHECK(broken.status == 1);
    CHECK(has(broken.err, "is a text file, which Kiai cannot read"));
}

TEST_CASE("rename and remove: the change is shown, what cannot be is refused", "[tool]") {
    const DemoCopy bench;
    const std::string before = bench.toml();
    const Ran renamed = bench.tool("rename bench groan creak");
    CHECK(renamed.status == 0);
    CHECK(has(renamed.out, "- [sound.groan]\n      + [sound.creak]\n"));
    CHECK(has(renamed.out, "- action = [{ set = \"fill\", to = 0 }, { stop = \"warning\" }, { play = \"groan\" }]\n"));
    CHECK(kiai_tool("check bench --strict", bench.path()).status == 0);
    const json back = json::parse(bench.tool("rename bench creak groan --json").out);
    CHECK(back["changes"].size() == 4);
    CHECK(bench.toml() == before);
    const Ran both = bench.tool("rename bench hopper spout");
    CHECK(both.status == 1);
    CHECK(has(both.err, "names several entries: a sound in line "));
    CHECK(bench.tool("rename bench hopper spout --kind zone").status == 0);
    CHECK(has(bench.toml(),
              "trigger = { press = \"spout\" }\nwhen = \"hopper-stock > 0\"\naction = { play = \"hopper\" }"));
    const Ran used = bench.tool("remove bench tilt");
    CHECK(used.status == 1);
    CHECK(has(used.err, "sound \"groan\" takes it, and needs \"tilt\" [still-used]"));
    const Ran removed = bench.tool("remove bench oak-9 --delete-file");
    CHECK(removed.status == 0);
    CHECK(has(removed.out, "   22 - oak-9 = \"clips/oak-9.wav\"\n"));
    CHECK(has(removed.out, "deleted \"clips/oak-9.wav\""));
    CHECK(kiai_tool("check bench --strict", bench.path()).status == 0);
    CHECK(bench.tool("rename bench oak-1").status == 2);
    CHECK(bench.tool("rename bench a b --kind nonsense").status == 2);
}

TEST_CASE("credits: as text, as Markdown, as JSON, into a file", "[tool]") {
    const DemoCopy bench;
    const Ran text = bench.tool("credits bench");
    CHECK(text.status == 0);
    CHECK(has(text.out, "Sound credits of marble-run\n\nThe Kiai authors (MIT)\n  from examples/make-marble-run\n  "
                        "hopper-open, drop-1"));
    CHECK(has(bench.tool("credits bench --markdown").out,
              "## The Kiai authors (MIT)\n\nFrom examples/make-marble-run\n\n- `hopper-open`\n"));
    CHECK(bench.tool("credits bench --json --out c.json").status == 0);
    const json credits = json::parse(bench.read("c.json"));
    CHECK(credits["groups"].size() == 1);
    CHECK(credits["groups"][0]["clips"].size() == 42);
    CHECK(bench.tool("credits bench --out /nowhere/c.txt").status == 3);
    bench.write("bench/kiai.toml",
                "format = 1\n[clip]\na_ = { file = \"clips/tilt.wav\", author = \"B*b_\" }\nb = \"clips/motor.wav\"\n");
    const Ran partly = bench.tool("credits bench --markdown");
    CHECK(has(partly.out, "## B\\*b\\_ (licence not recorded)"));
    CHECK(has(partly.out, "## No record\n\n- `b`"));
    CHECK(has(partly.err, "1 clip without a record"));
}

TEST_CASE("list: searched by word, folder and state", "[tool]") {
    const DemoCopy bench;
    const auto names = [&](const std::string& arguments) {
        std::vector<std::string> all;
        const Ran listed = bench.tool("list bench " + arguments + " --json");
        const json entries = json::parse(listed.out)["entries"];
        for (const json& entry : entries) all.push_back(entry["name"]);
        return all;
    };
    using Names = std::vector<std::string>;
    CHECK(names("clips --find OAK").size() == 9);
    CHECK(names("--find groan") ==
          Names{"groan", "groan:heavy", "key-down KeyT", "notice tray-emptied", "tray-emptied"});
    CHECK(names("--folder clips").size() == 42);
    CHECK(names("--folder elsewhere").empty());
    CHECK(names("--state unused").empty());
    bench.write(
        "bench/kiai.toml",
        bench.toml() +
            "\n[sound.plank]\ntakes = [\"oak-1\"]\n[sound.broken]\ntakes = [\"oak-x\"]\n[zone.idle]\ncircle = { "
            "x = 1, y = 1, r = 1 }\n[[binding]]\ntrigger = { notice = \"n\" }\naction = { play = \"plonk\" }\n");
    CHECK(names("--state unbound") == Names{"roll", "plank", "idle"});
    CHECK(names("--state left-out") == Names{"broken", "binding 25"});
    CHECK(names("--state unknown") == Names{"oak-x", "plonk"});
    REQUIRE(bench.tool("rehearse bench bench/run.jsonl --end 3 --log log.jsonl").status <= 1);
    bench.write("log.jsonl",
                "{\"decision\": \"played\", \"binding\": 1}\n{\"decision\": \"played\", \"binding\": 6}\nnot json\n");
    CHECK(names("bindings --state never-fired --from-log log.jsonl").size() == 22);
    CHECK(bench.tool("list bench --state never-fired").status == 2);
    CHECK(bench.tool("list bench --state nonsense").status == 2);
    CHECK(bench.tool("list bench bindings --from-log nowhere.jsonl").status == 1);
    CHECK(has(bench.tool("list bench sounds --find oak").out, "1 sound\nname  layers"));
    CHECK(has(bench.tool("list bench --find nothing-like-it").out, "no such entries"));
}

TEST_CASE("Commands that read write nothing, and none replaces a file that Kiai did not make", "[tool]") {
    const DemoCopy bench;
    for (const char* command : {"check bench", "list bench sounds", "show bench oak", "zones bench", "credits bench"})
        static_cast<void>(bench.tool(command));
    CHECK_FALSE(std::filesystem::exists(bench.path() / "bench/.kiai-facts.json"));
    bench.write("keep.wav", "mine");
    bench.write("keep.png", "mine");
    bench.write("keep.jsonl", "{\"trace\": 1}\n{\"at\": 0, \"notice\": \"recorded\"}\n");
    bench.write("keep.md", "mine");
    for (const char* command :
         {"hear bench oak --out keep.wav", "hear bench oak --out o.wav --picture keep.png",
          "rehearse bench bench/run.jsonl --log keep.jsonl", "fire bench press hopper --out keep.jsonl",
          "trace bench/run.jsonl --end 1 --out keep.jsonl", "show bench oak --picture keep.png",
          "zones bench --picture keep.png", "credits bench --out keep.md"}) {
        const Ran ran = bench.tool(command);
        INFO(command << ": " << ran.err);
        CHECK(ran.status == 3);
        CHECK(has(ran.err, "this command did not make it; choose another name, or --force"));
    }
    CHECK(bench.read("keep.wav") == "mine");
    CHECK(has(bench.read("keep.jsonl"), "recorded"));
    CHECK(bench.tool("hear bench oak --out keep.wav --force").status == 0);
    CHECK(bench.tool("hear bench oak --out keep.wav").status == 0); // now it is its own
    CHECK(bench.tool("fire bench press hopper --out t.jsonl").status == 0);
    CHECK(bench.tool("fire bench press hopper --out t.jsonl").status == 0);
    CHECK(bench.tool("zones bench --picture z.png").status == 0);
    CHECK(bench.tool("zones bench --picture z.png").status == 0);
    for (const char* command :
         {"hear bench oak --out o.mp3", "hear bench oak --out o.toml", "zones bench --picture z.jpg",
          "rehearse bench bench/run.jsonl --start 3 --end 2", "trace bench/run.jsonl --start 3 --end 2"})
        CHECK(bench.tool(command).status == 2);
    CHECK_FALSE(std::filesystem::exists(bench.path() / "o.mp3"));
    CHECK(bench.tool("rehearse bench bench/run.jsonl --start 1 --end 2 --bits 16 --out part.wav").status == 0);
    CHECK(std::filesystem::file_size(bench.path() / "part.wav") < 48000 * 4 + 200);
    CHECK(run("'" + tested_tool() + "' check bench --json > /dev/full", bench.path()).status == 3);
    CHECK(run("'" + tested_tool() + "' rehearse bench bench/run.jsonl --decisions > /dev/full", bench.path()).status ==
          3);
}

TEST_CASE("zones lists those in front first, of equal orders too, and as a press finds them", "[tool]") {
    const ProjectFolder folder(
        "[zone.back]\nrectangle = { x = 0, y = 0, width = 10, height = 10 }\n[zone.front]\nrectangle "
        "= { x = 0, y = 0, width = 5, height = 10 }\n");
    const json all = json::parse(kiai_tool("zones . --press 2 2 --json", folder.path()).out);
    CHECK(all["zones"][0]["name"] == "front");
    CHECK(all["presses"][0]["zone"] == "front");
}

TEST_CASE("check --fix shows each change, and --accepted and --list print more", "[tool]") {
    const DemoCopy bench;
    REQUIRE(bench.tool("check bench --keep-facts").status == 0); // it has seen the files where they are
    std::filesystem::rename(bench.path() / "bench/clips/tilt.wav", bench.path() / "bench/creak.wav");
    bench.write("bench/kiai.toml", [&] {
        std::string text = bench.toml();
        return text.replace(text.find("clips/motor.wav"), 15, "clips/Motor.wav");
    }());
    const Ran found = bench.tool("check bench");
    CHECK(found.status == 1);
    CHECK(has(found.out, "the same content is in \"creak.wav\", so the file was moved"));
    CHECK(has(found.out, "\"clips/motor.wav\" (different letter case)?"));
    CHECK(has(found.out, "some can be fixed automatically: kiai check --fix"));
    const Ran mended = bench.tool("check bench --fix");
    CHECK(mended.status == 0);
    CHECK(has(mended.out, "- tilt = \"clips/tilt.wav\"\n      + tilt = \"creak.wav\"\n"));
    CHECK(has(mended.out, "- motor = \"clips/Motor.wav\"\n      + motor = \"clips/motor.wav\"\n"));
    const Ran left = bench.tool("check bench"); // creak.wav is in no folder with a credit
    CHECK(has(left.out, "0 errors, 0 warnings, 1 note, 1 accepted\n"));
    bench.write("bench/kiai.toml",
                bench.toml() + "[[accepted]]\nfinding = \"no-credit\"\nreason = \"found on the way\"\n");
    CHECK(has(bench.tool("check bench").out, "marble-run: 0 errors, 0 warnings, 0 notes, 2 accepted\n"));
    CHECK(has(bench.tool("check bench --accepted").out, "accepted note: clip \"tilt\""));
    CHECK(json::parse(bench.tool("check bench --json").out)["findings"].at(0)["accepted"] == "found on the way");
    CHECK(json::parse(bench.tool("check --list --json").out)["codes"].size() == kiai::all_finding_codes().size());
    CHECK(has(bench.tool("check --list").out, "leading-silence"));
}

TEST_CASE("An option that takes a number says which numbers, and zones knows every scope", "[tool]") {
    const DemoCopy bench;
    for (const auto& [command, message] : {
             std::pair("hear bench oak --strength -1", "--strength takes a number in the range from 0, not \"-1\""),
             std::pair("trace bench/run.jsonl --start ten",
                       "--start takes a time from 0 s to 86400 s, such as \"250 ms\", not \"ten\""),
             std::pair("simulate bench press hopper --times many",
                       "--times takes a whole number in the range 1 to 1000000, not \"many\""),
             std::pair("simulate bench press hopper --times 2.5",
                       "--times takes a whole number in the range 1 to 1000000, not \"2.5\""),
             std::pair("fire bench --listen inf",
                       "--listen takes a time from 100 ms to 3600 s, such as \"250 ms\", not \"inf\""),
             std::pair("hear bench oak --place nan", "--place takes a number in the range -1 to 1, not \"nan\""),
         }) {
        const Ran ran = bench.tool(command);
        INFO(command << ": " << ran.err);
        CHECK(ran.status == 2);
        CHECK(has(ran.err, message));
        CHECK(ran.err.size() < 200);
    }
    const Ran ran = bench.tool("zones bench --press 118 82 --scope nope");
    CHECK(ran.status == 2);
    CHECK(ran.err == "kiai: unknown scope \"nope\"; `kiai list scopes` lists all\n");
    CHECK(bench.tool("zones bench --press 118 82 --scope drawer").status == 0);
}

TEST_CASE("pack makes a file that it lists again, and says what it left out, refused or could not write", "[tool]") {
    const DemoCopy bench;
    const Ran made = bench.tool("pack bench");
    CHECK(made.status == 0);
    CHECK(made.out == "bench.kiai: 1.94 MB from 42 files; the clips' files have 1.93 MB\n");
    const Ran listed = bench.tool("pack --list bench.kiai");
    CHECK(listed.status == 0);
    CHECK(has(listed.out, "clips/oak-1.wav        samples, 16-bit  44100"));
    CHECK(has(listed.out, "\n42 files, 1.94 MB\n"));
    CHECK(bench.tool("pack bench --ogg --quality 0.2 --out small").status == 0);
    CHECK(has(bench.tool("pack --list small.kiai").out, "Ogg Vorbis"));
    CHECK(bench.tool("pack bench --ogg --flac").status == 2);
    CHECK(bench.tool("pack bench --out bench.zip").status == 2);
    CHECK(bench.tool("pack --list").status == 2);
    CHECK(bench.tool("pack bench --out /nowhere/bench.kiai").status == 3);
    bench.write("mine.kiai", "not a pack");
    CHECK(bench.tool("pack bench --out mine.kiai").status == 3);
    CHECK(bench.read("mine.kiai") == "not a pack");
    CHECK(bench.tool("pack --list mine.kiai").status == 1);
    std::string toml = bench.toml();
    bench.write("bench/kiai.toml", toml.replace(toml.find("clips/tilt.wav"), 14, "clips/tlit.wav"));
    const Ran faulty = bench.tool("pack bench --out faulty.kiai");
    CHECK(faulty.status == 1);
    CHECK(has(faulty.err, "[file-missing]"));
    CHECK_FALSE(std::filesystem::exists(bench.path() / "faulty.kiai"));
    CHECK(bench.tool("names bench").status == 1);
}
