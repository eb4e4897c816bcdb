// Registering files: names, copies, series, known and refused files.
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <algorithm>
#include <map>

using namespace support;
using Outcome = kiai::AddedFile::Outcome;

namespace {

/// Makes a recording; no two have the same content.
void record(const Folder& folder, const std::string& name) {
    static int number = 0;
    folder.write_wav(name, sine(200 + ++number, 0.1, 480));
}

std::map<std::string, kiai::AddedFile> by_file(const kiai::AddResult& added) {
    std::map<std::string, kiai::AddedFile> files;
    for (const kiai::AddedFile& file : added.files) files[file.file.filename().string()] = file;
    return files;
}

std::vector<std::string> names_of(const kiai::AddResult& added) {
    std::vector<std::string> names;
    for (const kiai::AddedFile& file : added.files)
        if (file.outcome == Outcome::added) names.push_back(file.name);
    std::sort(names.begin(), names.end());
    return names;
}

using Names = std::vector<std::string>;

} // namespace

TEST_CASE("A name is made from a file's name", "[add]") {
    const std::pair<const char*, const char*> names[] = {{"oak.wav", "oak"},
                                                         {"Oak Plank.WAV", "oak-plank"},
                                                         {"oak_01.wav", "oak-1"},
                                                         {"OAK-000.flac", "oak-0"},
                                                         {"a.b.c.ogg", "a-b-c"},
                                                         {"--x--y--.wav", "x-y"},
                                                         {"Öl & Große Ähre.wav", "ol-grosse-ahre"},
                                                         {"Smørbrød Œuvre Łódź.wav", "smorbrod-oeuvre-lodz"},
                                                         {"ﬁnal № 3.wav", "final-no-3"},
                                                         {"broken \xff\xfe name.wav", "broken-name"},
                                                         {"take (12).wav", "take-12"},
                                                         {"oak1.wav", "oak1"},
                                                         {"1.wav", "1"},
                                                         {"007.wav", "7"},
                                                         {"木.wav", ""},
                                                         {"木-3.wav", "3"},
                                                         {"a\nb.wav", "a-b"},
                                                         {"\xff\xfe.wav", ""},
                                                         {"dir/deep.wav", "deep"}};
    for (const auto& [file, name] : names) CHECK(kiai::clip_name(file) == name);
}

TEST_CASE("Files are copied in, registered, and play", "[add]") {
    const Folder from;
    record(from, "Oak Plank.wav");
    const ProjectFolder project("name = \"bench\" # mine\n");
    const kiai::AddResult added = kiai::add_files(project.path(), {from.path() / "Oak Plank.wav"});
    REQUIRE(added.files.size() == 1);
    CHECK(added.files[0].outcome == Outcome::added);
    CHECK(added.files[0].path == "clips/Oak Plank.wav");
    CHECK(added.files[0].seconds == Approx(0.01));
    CHECK(project.read("kiai.toml") ==
          "format = 1\nname = \"bench\" # mine\n\n[clip]\noak-plank = \"clips/Oak Plank.wav\"\n");
    CHECK(project.read("clips/Oak Plank.wav") == from.read("Oak Plank.wav"));
    CHECK(kiai::hear(project.load(), "oak-plank").length == 480);
}

TEST_CASE("Entries go to where the others are, in every way of writing them", "[add]") {
    const std::pair<std::string, std::string> cases[] = {
        {"[clip]\noak = \"o\" # kept\n\n[sound.s]\n",
         "[clip]\noak = \"o\" # kept\nnew = \"clips/new.wav\"\n\n[sound.s]\n"},
        {"[clip]\n[sound.s]\n", "[clip]\nnew = \"clips/new.wav\"\n[sound.s]\n"},
        {"[clip]\n  oak = \"o\"\n", "[clip]\n  oak = \"o\"\n  new = \"clips/new.wav\"\n"},
        {"[clip]\noak = \"o\"", "[clip]\noak = \"o\"\nnew = \"clips/new.wav\""},
        {"[clip]\r\noak = \"o\"\r\n", "[clip]\r\noak = \"o\"\r\nnew = \"clips/new.wav\"\r\n"},
        {"clip = { oak = \"o\" }\n", "clip = { oak = \"o\", new = \"clips/new.wav\" }\n"},
        {"clip = {}\n", "clip = { new = \"clips/new.wav\" }\n"},
        {"clip.oak = \"o\"\nname = \"x\"\n", "clip.oak = \"o\"\nclip.new = \"clips/new.wav\"\nname = \"x\"\n"},
        {"[clip.oak]\nfile = \"o\"\n", "[clip.oak]\nfile = \"o\"\n\n[clip]\nnew = \"clips/new.wav\"\n"},
        {"", "\n[clip]\nnew = \"clips/new.wav\"\n"},
        {"name = \"x\"", "name = \"x\"\n\n[clip]\nnew = \"clips/new.wav\"\n"},
    };
    for (const auto& [before, after] : cases) {
        const Folder from;
        record(from, "new.wav");
        const ProjectFolder project(before);
        const kiai::AddResult added = kiai::add_files(project.path(), {from.path() / "new.wav"});
        INFO(before);
        CHECK(added.count(Outcome::added) == 1);
        CHECK(project.read("kiai.toml") == "format = 1\n" + after);
    }
}

TEST_CASE("A numbered series becomes one sound, from 0 or 1, with or without zeros, gaps named", "[add]") {
    const Folder from;
    for (const char* name :
         {"oak_01.wav", "oak_02.wav", "oak_04.wav", "peg0.wav", "peg1.wav", "glass/1.wav", "glass/2.wav", "solo2.wav"})
        record(from, name);
    const ProjectFolder project;
    const kiai::AddResult added = kiai::add_files(project.path(), {from.path()});
    CHECK(names_of(added) == Names{"glass-1", "glass-2", "oak-1", "oak-2", "oak-4", "peg-0", "peg-1", "solo-2"});
    REQUIRE(added.series.size() == 3);
    CHECK(added.series[0].name == "glass");
    CHECK(added.series[1].takes == 3);
    CHECK(added.series[1].missing == std::vector<int>{3});
    CHECK(added.series[2].missing.empty());
    for (const kiai::AddedSeries& series : added.series) CHECK(series.made_sound);
    const kiai::LoadResult loaded = kiai::load_project(project.path());
    REQUIRE(loaded.findings.size() == 1);
    CHECK(loaded.findings[0].code == kiai::FindingCode::series_gap);
    CHECK(with_outcome(kiai::hear(loaded.project, "oak").decisions, kiai::Outcome::played).at(0).layers.at(0).of == 3);

    // A later file joins the series by itself, and nothing is made twice.
    record(from, "oak3.wav");
    const kiai::AddResult later = kiai::add_files(project.path(), {from.path() / "oak3.wav"});
    CHECK(names_of(later) == Names{"oak-3"});
    REQUIRE(later.series.size() == 1);
    CHECK(later.series[0].takes == 4);
    CHECK_FALSE(later.series[0].made_sound);
    CHECK(kiai::load_project(project.path()).findings.empty());

    const ProjectFolder plain;
    CHECK_FALSE(kiai::add_files(plain.path(), {from.path()}, {.make_sounds = false}).series[0].made_sound);
    CHECK(plain.read("kiai.toml").find("[sound") == std::string::npos);
}

TEST_CASE("What already exists is known by its place and by its content", "[add]") {
    const Folder from;
    record(from, "a.wav");
    std::filesystem::copy_file(from.path() / "a.wav", from.path() / "b.wav");
    const ProjectFolder project;
    const kiai::AddResult first = kiai::add_files(project.path(), {from.path()});
    CHECK(first.count(Outcome::added) == 1);
    CHECK(by_file(first)["b.wav"].why == "has the same content as clip \"a\"");
    const std::string text = project.read("kiai.toml");
    CHECK(kiai::add_files(project.path(), {from.path()}).count(Outcome::known) == 2);
    CHECK(kiai::add_files(project.path(), {project.path()}).files.at(0).why == "is already clip \"a\"");
    CHECK(project.read("kiai.toml") == text);
    // A file inside the project is used in place.
    record(project, "later/c.wav");
    CHECK(by_file(kiai::add_files(project.path(), {project.path() / "later"}))["c.wav"].path == "later/c.wav");
}

TEST_CASE("A folder goes into the one of the same name, not below it", "[add]") {
    const Folder from;
    for (const char* name : {"clips/oak.wav", "clips/brass/peg.wav", "clips/clips/tilt.wav", "other/roll.wav"})
        record(from, name);
    const ProjectFolder project;
    auto files = by_file(kiai::add_files(project.path(), {from.path() / "clips", from.path() / "other"}));
    CHECK(files["oak.wav"].path == "clips/oak.wav");
    CHECK(files["peg.wav"].path == "clips/brass/peg.wav");
    CHECK(files["tilt.wav"].path == "clips/clips/tilt.wav");
    CHECK(files["roll.wav"].path == "clips/other/roll.wav");
    for (const char* into : {"sound/other", "sound/other/"}) {
        const ProjectFolder second;
        files = by_file(kiai::add_files(second.path(), {from.path() / "other"}, {.into = into}));
        CHECK(files["roll.wav"].path == "sound/other/roll.wav");
    }
}

TEST_CASE("Nothing is overwritten, and names that meet are distinguished by their folders", "[add]") {
    const Folder from;
    for (const char* name : {"brass/hit.wav", "wood/hit.wav", "x/y/hit.wav", "a/y/hit.wav"}) record(from, name);
    const ProjectFolder project;
    const kiai::AddResult added =
        kiai::add_files(project.path(), {from.path() / "brass/hit.wav", from.path() / "wood/hit.wav",
                                         from.path() / "x/y/hit.wav", from.path() / "a/y/hit.wav"});
    CHECK(names_of(added) == Names{"hit", "wood-hit", "y-hit"});
    CHECK(added.files[1].path == "clips/wood-hit.wav");
    CHECK(added.files[3].why == "the name \"y-hit\" is taken by \"clips/y-hit.wav\"");
    CHECK(added.files[3].fix.find("--name") != std::string::npos);
    for (std::size_t i = 0; i < 3; ++i)
        CHECK(text_of(project.path() / added.files[i].path) == text_of(added.files[i].file));
    // A different file at the path of the copy stays unchanged.
    record(from, "new.wav");
    project.write("clips/new.wav", "somebody's");
    project.write("clips/fresh.wav", "somebody's, too");
    CHECK(kiai::add_files(project.path(), {from.path() / "new.wav"}).files[0].why.find("another file exists at") !=
          std::string::npos);
    CHECK(kiai::add_files(project.path(), {from.path() / "new.wav"}, {.into = "more"}).files[0].path == "more/new.wav");
    CHECK(project.read("clips/new.wav") == "somebody's");
    record(from, "out.wav");
    CHECK(kiai::add_files(project.path(), {from.path() / "out.wav"}, {.into = "../elsewhere"})
              .files[0]
              .why.find("is outside of the project") != std::string::npos);
}

TEST_CASE("What cannot be used is refused with its reason, and the rest goes in", "[add]") {
    const Folder from;
    record(from, "good.wav");
    record(from, "木.wav");
    record(from, "two\nlines.wav");
    from.write("text.wav", "no sound");
    from.write("empty.flac", "");
    from.write("readme.txt", "");
    from.write("song.m4a", std::string("\0\0\0 ftypM4A ", 12));
    std::filesystem::create_symlink("circle.wav", from.path() / "circle.wav");
    std::filesystem::create_directory_symlink(from.path(), from.path() / "inner"); // not followed
    std::string lengthy(70, 'x');
    lengthy.append(".wav");
    record(from, lengthy);
    const ProjectFolder project;
    const kiai::AddResult added = kiai::add_files(
        project.path(), {from.path(), from.path() / "nowhere.wav", from.path() / "*.nothing", "/dev/null"});
    auto files = by_file(added);
    CHECK(names_of(added) == Names{"good", "two-lines"});
    CHECK(files["two\nlines.wav"].path == "clips/two-lines.wav");
    CHECK(added.others == 1);
    const std::pair<const char*, const char*> refusals[] = {
        {"木.wav", "no letter"},          {"text.wav", "is a text file"},
        {"empty.flac", "is empty"},       {"song.m4a", "AAC"},
        {"circle.wav", "symbolic links"}, {"nowhere.wav", "is missing"},
        {"*.nothing", "matches no file"}, {"null", "neither a file nor a folder"}};
    for (const auto& [file, why] : refusals) {
        INFO(file << ": " << files[file].why);
        CHECK(files[file].outcome == Outcome::refused);
        CHECK(files[file].why.find(why) != std::string::npos);
        CHECK_FALSE(files[file].fix.empty());
    }
    CHECK(added.count(Outcome::refused) == 9);
    CHECK(project.load_with_findings().findings.empty());
    CHECK(by_file(kiai::add_files(project.path(), {from.path() / "木.wav"}, {.name = "wood"}))["木.wav"].path ==
          "clips/木.wav");
    CHECK(kiai::hear(project.load(), "wood").length == 480);
    CHECK(kiai::add_files(project.path(), {from.path() / "good.wav", from.path() / "text.wav"}, {.name = "x"})
              .findings.size() == 1);
}

TEST_CASE("Referring to a file in place is said as a risk, and who made it is written down", "[add]") {
    const Folder from;
    record(from, "far.wav");
    const ProjectFolder project;
    kiai::AddOptions options;
    options.in_place = true;
    options.author = "A. \"Tin\" Turner";
    options.licence = "CC-BY-4.0";
    options.source = "https://example.org/far";
    options.note = "two\nlines";
    const kiai::AddResult added = kiai::add_files(project.path(), {from.path() / "far.wav"}, options);
    REQUIRE(added.remarks.size() == 1);
    CHECK(added.remarks[0].find("missing on other machines") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(project.path() / "clips"));
    const auto findings = project.load_with_findings().findings;
    REQUIRE(findings.size() == 1);
    CHECK(findings[0].code == kiai::FindingCode::file_outside);
    const kiai::Credits credits = kiai::gather_credits(project.path());
    REQUIRE(credits.groups.size() == 1);
    CHECK(credits.groups[0].author == options.author);
    CHECK(credits.groups[0].notes == Names{"two\nlines"});
}

TEST_CASE("A dry run reports all and does nothing, patterns are expanded, a broken project takes nothing", "[add]") {
    const Folder from;
    for (const char* name : {"oak-1.wav", "oak-2.wav", "peg.wav"}) record(from, name);
    const ProjectFolder project("name = \"x\"\n");
    const kiai::AddResult dry = kiai::add_files(project.path(), {from.path() / "oak-*.wav"}, {.dry_run = true});
    CHECK(names_of(dry) == Names{"oak-1", "oak-2"});
    CHECK(dry.series.at(0).made_sound);
    CHECK(project.read("kiai.toml") == "format = 1\nname = \"x\"\n");
    std::size_t entries = 0;
    for (const auto& entry : std::filesystem::directory_iterator(project.path())) entries += entry.exists();
    CHECK(entries == 1);
    project.write("kiai.toml", "format = \n");
    const kiai::AddResult broken = kiai::add_files(project.path(), {from.path()});
    CHECK(broken.findings.at(0).code == kiai::FindingCode::toml_syntax);
    CHECK_FALSE(std::filesystem::exists(project.path() / "clips"));
    CHECK(kiai::add_files(from.path(), {from.path()}).findings.at(0).code == kiai::FindingCode::no_project);
}

TEST_CASE("A new project can be heard at once and has no findings", "[add]") {
    const Folder somewhere;
    const std::filesystem::path folder = somewhere.path() / "my game" / "sound";
    REQUIRE(kiai::new_project(folder).empty());
    CHECK(kiai::check_project(folder).findings.empty());
    const kiai::LoadResult loaded = kiai::load_project(folder);
    kiai::Engine engine(loaded.project, {.seed = 1});
    engine.key_down("Space");
    const auto out = render(engine, 24000);
    CHECK(db(peak(side(out, 0))) > -20);
    CHECK(db(peak(side(out, 0))) < -3);
    const std::string text = text_of(folder / "kiai.toml");
    CHECK(kiai::new_project(folder).find("already exists") != std::string::npos);
    REQUIRE(kiai::new_project(somewhere.path() / "bare", true).empty());
    const kiai::LoadResult bare = kiai::load_project(somewhere.path() / "bare");
    CHECK(bare.findings.empty());
    CHECK(bare.project.name() == "bare");
    CHECK(bare.project.clips().empty());
    CHECK(!std::filesystem::exists(somewhere.path() / "bare" / "clips"));
    CHECK(text_of(folder / "kiai.toml") == text);
    somewhere.write("half/clips/examples/oak-1.wav", "mine");
    CHECK(kiai::new_project(somewhere.path() / "half").find("already exists") != std::string::npos);
    CHECK(somewhere.read("half/clips/examples/oak-1.wav") == "mine");
    somewhere.write("file", "");
    CHECK_FALSE(kiai::new_project(somewhere.path() / "file" / "below").empty());
}
