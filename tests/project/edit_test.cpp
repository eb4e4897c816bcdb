// Editing kiai.toml in place: each case is a whole file, an edit, and the whole file after it.
#include "support/project_folder.h"
#include "support/text.h"

#include <catch2/catch.hpp>

#include <functional>
#include <sstream>
#include <thread>

using namespace support;
using kiai::EditResult;
using kiai::EntryKind;

namespace {

using Do = std::function<EditResult(const std::filesystem::path&)>;

Do renaming(const std::string& from, const std::string& to, EntryKind kind = EntryKind::any) {
    return [=](const std::filesystem::path& folder) { return kiai::rename_entry(folder, from, to, {kind}); };
}

Do removal(const std::string& name, EntryKind kind = EntryKind::any) {
    return [=](const std::filesystem::path& folder) {
        kiai::RemoveOptions options;
        options.kind = kind;
        return kiai::remove_entry(folder, name, options);
    };
}

struct Case {
    const char* what;
    std::string before;
    Do edit;
    std::string after;
};

/// Returns the number of lines that both have in the same order, at most.
std::size_t lines_kept(const std::vector<std::string>& a, const std::vector<std::string>& b) {
    std::vector<std::vector<std::size_t>> common(a.size() + 1, std::vector<std::size_t>(b.size() + 1));
    for (std::size_t i = 0; i < a.size(); ++i)
        for (std::size_t j = 0; j < b.size(); ++j)
            common[i + 1][j + 1] = a[i] == b[j] ? common[i][j] + 1 : std::max(common[i][j + 1], common[i + 1][j]);
    return common[a.size()][b.size()];
}

void check(const Case& one) {
    const Folder folder;
    folder.write("kiai.toml", one.before);
    const EditResult edited = one.edit(folder.path());
    INFO(one.what);
    for (const kiai::Finding& finding : edited.findings) FAIL_CHECK(finding.line << ": " << finding.message);
    CHECK(folder.read("kiai.toml") == one.after);
    // The edit reports exactly what it did.
    std::size_t told_before = 0, told_after = 0;
    for (const kiai::Change& change : edited.changes) {
        told_before += lines_of(change.before).size();
        told_after += lines_of(change.after).size();
        CHECK(one.before.find(change.before) != std::string::npos);
        CHECK(one.after.find(change.after) != std::string::npos);
        CHECK(change.line >= 1);
    }
    const auto before = lines_of(one.before), after = lines_of(one.after);
    CHECK(told_before == before.size() - lines_kept(before, after));
    CHECK(told_after == after.size() - lines_kept(before, after));
}

} // namespace

TEST_CASE("A name is given another one wherever it stands, and nowhere else", "[edit]") {
    const Case cases[] = {
        {"a clip as a bare text", "[clip]\noak = \"oak.wav\"\n", renaming("oak", "ash"), "[clip]\nash = \"oak.wav\"\n"},
        {"a clip as an inline table", "[clip]\noak = { file = \"oak.wav\", gain = -3 } # oak\n", renaming("oak", "ash"),
         "[clip]\nash = { file = \"oak.wav\", gain = -3 } # oak\n"},
        {"a clip as a full table", "[clip.oak] # oak\nfile = \"oak.wav\"\n\n[clip.oak-2]\nfile = \"2\"\n",
         renaming("oak", "ash"), "[clip.ash] # oak\nfile = \"oak.wav\"\n\n[clip.oak-2]\nfile = \"2\"\n"},
        {"a clip by a dotted key", "clip.oak.file = \"oak.wav\"\nclip.oak.gain = 1\nclip.oaken = \"o\"\n",
         renaming("oak", "ash"), "clip.ash.file = \"oak.wav\"\nclip.ash.gain = 1\nclip.oaken = \"o\"\n"},
        {"a dotted key with blanks", "clip . oak = \"oak.wav\"\n", renaming("oak", "ash"),
         "clip . ash = \"oak.wav\"\n"},
        {"a quoted key", "[clip]\n\"oak\" = \"oak.wav\"\n'elm' = \"e\"\n", renaming("oak", "ash"),
         "[clip]\n\"ash\" = \"oak.wav\"\n'elm' = \"e\"\n"},
        {"a key in single quotes", "[clip]\n'oak' = \"oak.wav\"\n", renaming("oak", "ash"),
         "[clip]\n'ash' = \"oak.wav\"\n"},
        {"a key with an escape", "[clip]\n\"o\\u0061k\" = \"oak.wav\"\n", renaming("oak", "ash"),
         "[clip]\n\"ash\" = \"oak.wav\"\n"},
        {"all clips in one inline table", "clip = { oak = \"oak.wav\", elm = \"oak\" }\n", renaming("oak", "ash"),
         "clip = { ash = \"oak.wav\", elm = \"oak\" }\n"},
        {"dotted keys in an inline table", "clip = { oak.file = \"o\", oak.gain = 2 }\n", renaming("oak", "ash"),
         "clip = { ash.file = \"o\", ash.gain = 2 }\n"},
        {"a name that is the beginning of others", "[clip]\noak = \"1\"\noak-1 = \"2\"\noakoak = \"3\"\n",
         renaming("oak", "ash"), "[clip]\nash = \"1\"\noak-1 = \"2\"\noakoak = \"3\"\n"},
        {"a name in comments and in texts",
         "# oak = oak\n[clip] # oak\noak = \"oak\" # \"oak\"\nelm = \"[clip]\\noak = 1\"\n", renaming("oak", "ash"),
         "# oak = oak\n[clip] # oak\nash = \"oak\" # \"oak\"\nelm = \"[clip]\\noak = 1\"\n"},
        {"a name in a text of several lines",
         "[clip]\nelm = \"\"\"\noak = \"oak\"\n[clip.oak]\n\"\"\"\noak = '''oak'''\n", renaming("oak", "ash"),
         "[clip]\nelm = \"\"\"\noak = \"oak\"\n[clip.oak]\n\"\"\"\nash = '''oak'''\n"},
        {"a text that ends with quotes", "[clip]\nelm = \"\"\"a\"\"\"\"\"\noak = \"o\"\n", renaming("oak", "ash"),
         "[clip]\nelm = \"\"\"a\"\"\"\"\"\nash = \"o\"\n"},
        {"Windows line ends", "[clip]\r\noak = \"o\"\r\nelm = \"e\"\r\n", renaming("oak", "ash"),
         "[clip]\r\nash = \"o\"\r\nelm = \"e\"\r\n"},
        {"a byte order mark", "\xef\xbb\xbf[clip]\noak = \"o\"\n", renaming("oak", "ash"),
         "\xef\xbb\xbf[clip]\nash = \"o\"\n"},
        {"no last line end", "[clip]\noak = \"o\"", renaming("oak", "ash"), "[clip]\nash = \"o\""},
        {"takes in a list of several lines with comments",
         "[clip]\noak = \"o\"\n[sound.s]\ntakes = [ # oak\n  \"elm\", # not oak\n  'oak', \"oak\"\n]\n",
         renaming("oak", "ash"),
         "[clip]\nash = \"o\"\n[sound.s]\ntakes = [ # oak\n  \"elm\", # not oak\n  'ash', \"ash\"\n]\n"},
        {"takes with weights", "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\"elm\", { clip = \"oak\", weight = 2 }]\n",
         renaming("oak", "ash"), "[clip]\nash = \"o\"\n[sound.s]\ntakes = [\"elm\", { clip = \"ash\", weight = 2 }]\n"},
        {"takes of layers",
         "[clip]\noak = \"o\"\n[[sound.s.layer]]\ntakes = [\"elm\"]\n[[sound.s.layer]]\ntakes = [\"oak\"]\n",
         renaming("oak", "ash"),
         "[clip]\nash = \"o\"\n[[sound.s.layer]]\ntakes = [\"elm\"]\n[[sound.s.layer]]\ntakes = [\"ash\"]\n"},
        {"layers as inline tables",
         "[clip]\noak = \"o\"\n[sound.s]\nlayer = [{ takes = [\"oak\"] }, { takes = [\"elm\", \"oak\"] }]\n",
         renaming("oak", "ash"),
         "[clip]\nash = \"o\"\n[sound.s]\nlayer = [{ takes = [\"ash\"] }, { takes = [\"elm\", \"ash\"] }]\n"},
        {"actions that play a clip",
         "[clip]\noak = \"o\"\n[[binding]]\naction = { play = \"oak\" }\n[[binding]]\naction = [{ stop = "
         "\"oak\" }, { play = \"elm\" }]\n",
         renaming("oak", "ash"),
         "[clip]\nash = \"o\"\n[[binding]]\naction = { play = \"ash\" }\n[[binding]]\naction = [{ stop = \"ash\" }, { "
         "play = "
         "\"elm\" }]\n"},
        {"actions as full tables",
         "[clip]\noak = \"o\"\n[[binding]]\n[binding.action]\nplay = \"oak\"\n[[binding]]\naction.play = \"oak\"\n",
         renaming("oak", "ash"),
         "[clip]\nash = \"o\"\n[[binding]]\n[binding.action]\nplay = \"ash\"\n[[binding]]\naction.play = \"ash\"\n"},
        {"a clip beside a sound of its name: takes follow, actions stay",
         "[clip]\noak = \"o\"\n[sound.oak]\ntakes = [\"oak\"]\n[[binding]]\naction = { play = \"oak\" }\n",
         renaming("oak", "ash", EntryKind::clip),
         "[clip]\nash = \"o\"\n[sound.oak]\ntakes = [\"ash\"]\n[[binding]]\naction = { play = \"oak\" }\n"},
        {"a sound beside a clip of its name: actions follow, takes stay",
         "[clip]\noak = \"o\"\n[sound.oak]\ntakes = [\"oak\"]\n[[binding]]\naction = { play = \"oak\" }\n",
         renaming("oak", "ash", EntryKind::sound),
         "[clip]\noak = \"o\"\n[sound.ash]\ntakes = [\"oak\"]\n[[binding]]\naction = { play = \"ash\" }\n"},
        {"a sound in several parts",
         "[sound.oak]\ngain = 1\n[sound.oak.limit]\nplays = 2\n[[sound.oak.layer]]\n[sound.oaks]\n",
         renaming("oak", "ash"),
         "[sound.ash]\ngain = 1\n[sound.ash.limit]\nplays = 2\n[[sound.ash.layer]]\n[sound.oaks]\n"},
        {"a sound whose heading has blanks and quotes", "[ sound . \"oak\" ]\ngain = 1\n", renaming("oak", "ash"),
         "[ sound . \"ash\" ]\ngain = 1\n"},
        {"a zone and who waits for it",
         "[zone.oak]\norder = 1\n[sound.oak]\n[[binding]]\ntrigger = { press = \"oak\" }\naction = { play "
         "= \"oak\" }\n",
         renaming("oak", "ash", EntryKind::zone),
         "[zone.ash]\norder = 1\n[sound.oak]\n[[binding]]\ntrigger = { press = \"ash\" }\naction = { play = \"oak\" "
         "}\n"},
        {"an acceptance that is about it",
         "[clip]\noak = \"o\"\n[[accepted]]\nfinding = \"unused-clip\"\non = \"oak\"\n", renaming("oak", "ash"),
         "[clip]\nash = \"o\"\n[[accepted]]\nfinding = \"unused-clip\"\non = \"ash\"\n"},
        {"an error somewhere else stays as it is", "[clip]\noak = \"o\"\nelm = 3\n[sond.x]\n", renaming("oak", "ash"),
         "[clip]\nash = \"o\"\nelm = 3\n[sond.x]\n"},
        {"dates, floats and numbers of all kinds beside it",
         "a = 1979-05-27 07:32:00Z\nb = +inf\nc = nan\nd = 0xff_f\ne = 1_000.5e-3\n[clip]\noak = \"o\"\n",
         renaming("oak", "ash"),
         "a = 1979-05-27 07:32:00Z\nb = +inf\nc = nan\nd = 0xff_f\ne = 1_000.5e-3\n[clip]\nash = \"o\"\n"},
    };
    for (const Case& one : cases) check(one);
}

TEST_CASE("An entry is taken out with its lines, and out of lists", "[edit]") {
    const Case cases[] = {
        {"a clip", "[clip]\n# before\noak = \"o\" # with its comment\n# after\nelm = \"e\"\n", removal("oak"),
         "[clip]\n# before\n# after\nelm = \"e\"\n"},
        {"the only clip", "[clip]\noak = \"o\"\n\n[sound.s]\ngain = 1\n", removal("oak"),
         "[clip]\n\n[sound.s]\ngain = 1\n"},
        {"the only clip, dotted", "format = 1\nclip.oak = \"o\"\n", removal("oak"), "format = 1\n"},
        {"a clip as a full table, comments of the next stay",
         "[clip.oak]\nfile = \"o\"\n# inside\ngain = 1\n\n# of elm\n[clip.elm]\nfile = \"e\"\n", removal("oak"),
         "\n# of elm\n[clip.elm]\nfile = \"e\"\n"},
        {"first, middle and last of an inline table", "clip = { oak = \"o\", elm = \"e\", fir = \"f\" }\n",
         removal("oak"), "clip = { elm = \"e\", fir = \"f\" }\n"},
        {"the middle one", "clip = { oak = \"o\", elm = \"e\", fir = \"f\" }\n", removal("elm"),
         "clip = { oak = \"o\", fir = \"f\" }\n"},
        {"the last one", "clip = { oak = \"o\", elm = \"e\", fir = \"f\" }\n", removal("fir"),
         "clip = { oak = \"o\", elm = \"e\" }\n"},
        {"a take of a list on one line", "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\"elm\", \"oak\", \"fir\"]\n",
         removal("oak"), "[clip]\n[sound.s]\ntakes = [\"elm\", \"fir\"]\n"},
        {"a take with a weight", "[clip]\noak = \"o\"\n[sound.s]\ntakes = [{ clip = \"oak\", weight = 2 }, \"elm\"]\n",
         removal("oak"), "[clip]\n[sound.s]\ntakes = [\"elm\"]\n"},
        {"the last take", "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\"elm\", \"oak\",]\n", removal("oak"),
         "[clip]\n[sound.s]\ntakes = [\"elm\",]\n"},
        {"a take on a line of its own",
         "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\n  \"elm\", # hard\n  \"oak\", # soft\n  \"fir\"\n]\n",
         removal("oak"), "[clip]\n[sound.s]\ntakes = [\n  \"elm\", # hard\n  \"fir\"\n]\n"},
        {"the last take on a line of its own",
         "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\n  \"elm\",\n  \"oak\" # soft\n]\n", removal("oak"),
         "[clip]\n[sound.s]\ntakes = [\n  \"elm\",\n]\n"},
        {"a take at the end of a line",
         "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\n  \"elm\", \"oak\", # two\n  \"fir\" ]\n", removal("oak"),
         "[clip]\n[sound.s]\ntakes = [\n  \"elm\", # two\n  \"fir\" ]\n"},
        {"an action beside another",
         "[sound.oak]\ngain = 1\n[[binding]]\naction = [{ play = \"oak\" }, { play = \"elm\" }]\n", removal("oak"),
         "[[binding]]\naction = [{ play = \"elm\" }]\n"},
        {"a sound with layers",
         "[[sound.oak.layer]]\ntakes = [\"a\"]\n[[sound.oak.layer]]\ntakes = [\"b\"]\n[sound.elm]\ngain = 1\n",
         removal("oak"), "[sound.elm]\ngain = 1\n"},
        {"a zone nobody waits for, with Windows line ends", "[zone.a]\r\norder = 1\r\n[zone.b]\r\norder = 2\r\n",
         removal("a"), "[zone.b]\r\norder = 2\r\n"},
        {"without a last line end", "[clip]\nelm = \"e\"\noak = \"o\"", removal("oak"), "[clip]\nelm = \"e\"\n"},
    };
    for (const Case& one : cases) check(one);
}

TEST_CASE("An edit that cannot be made is refused with its reason, and changes nothing", "[edit]") {
    struct Refusal {
        const char* what;
        std::string text;
        Do edit;
        kiai::FindingCode code;
        int line;
    };
    using Code = kiai::FindingCode;
    const std::string plain = "[clip]\noak = \"o\"\nelm = \"e\"\n[sound.s]\ntakes = [\"oak\"]\n";
    const Refusal refusals[] = {
        {"no such entry", plain, renaming("oka", "ash"), Code::unknown_name, 0},
        {"an unfit name", plain, renaming("oak", "My Oak"), Code::bad_name, 0},
        {"a taken name", plain, renaming("oak", "elm"), Code::name_taken, 3},
        {"the name of a sound", plain, renaming("oak", "s"), Code::name_taken, 4},
        {"two kinds of that name", "[clip]\noak = \"o\"\n[zone.oak]\n", renaming("oak", "ash"), Code::name_taken, 0},
        {"a layer's only take", plain, removal("oak"), Code::still_used, 5},
        {"a binding's only action", "[sound.s]\n[[binding]]\naction = { play = \"s\" }\n", removal("s"),
         Code::still_used, 3},
        {"a zone that is waited for", "[zone.z]\n[[binding]]\ntrigger = { press = \"z\" }\n", removal("z"),
         Code::still_used, 3},
        {"two items that no single cut can take out",
         "[clip]\noak = \"o\"\n[sound.s]\ntakes = [\"a\", \"oak\", \"oak\"]\n", removal("oak"), Code::not_editable, 4},
        {"a file that is not TOML", "[clip]\noak = \n", renaming("oak", "ash"), Code::toml_syntax, 2},
    };
    for (const Refusal& refusal : refusals) {
        const Folder folder;
        folder.write("kiai.toml", refusal.text);
        const EditResult edited = refusal.edit(folder.path());
        INFO(refusal.what);
        REQUIRE(edited.findings.size() == 1);
        CHECK(to_string(edited.findings[0].code) == std::string(to_string(refusal.code)));
        CHECK(edited.findings[0].line == refusal.line);
        CHECK_FALSE(edited.findings[0].fix.empty());
        CHECK(edited.changes.empty());
        CHECK(folder.read("kiai.toml") == refusal.text);
    }
    const Folder nothing;
    CHECK(kiai::rename_entry(nothing.path(), "a", "b").findings.at(0).code == Code::no_project);
}

TEST_CASE("An edit reports which clips left or joined a series", "[edit]") {
    const ProjectFolder folder("[clip]\noak-1 = \"1\"\nelm = \"e\"\n[sound.plank]\ntakes = { series = \"oak\" }\n");
    const EditResult left = kiai::rename_entry(folder.path(), "oak-1", "solo");
    REQUIRE(left.remarks.size() == 2);
    CHECK(left.remarks[0] == "\"oak-1\" leaves the takes of sound \"plank\", which are a series");
    CHECK(kiai::rename_entry(folder.path(), "elm", "oak-7").remarks.at(0) ==
          "\"oak-7\" joins the takes of sound \"plank\", which are a series");
    CHECK(kiai::remove_entry(folder.path(), "oak-7")
              .remarks.at(0)
              .find("no longer belongs to the takes of sound \"plank\"") != std::string::npos);
}

TEST_CASE("A removed clip's file stays or goes, as it is asked for", "[edit]") {
    const ProjectFolder folder("[clip]\na = \"a.wav\"\nb = \"b.wav\"\nc = \"b.wav\"\n");
    folder.write_wav("a.wav", Signal(10, 0.1f));
    folder.write_wav("b.wav", Signal(10, 0.2f));
    kiai::RemoveOptions with_file;
    with_file.delete_file = true;
    CHECK(kiai::remove_entry(folder.path(), "b", with_file).ok());
    CHECK(std::filesystem::exists(folder.path() / "b.wav")); // c names it too
    CHECK(kiai::remove_entry(folder.path(), "a").remarks.at(0).find("kept the file") != std::string::npos);
    CHECK(std::filesystem::exists(folder.path() / "a.wav"));
    CHECK(kiai::remove_entry(folder.path(), "c", with_file).remarks.at(0).find("deleted") != std::string::npos);
    CHECK_FALSE(std::filesystem::exists(folder.path() / "b.wav"));
}

TEST_CASE("Edits at the same time wait for each other, and none is lost", "[edit][threads]") {
    std::string text = "[clip]\n";
    constexpr int count = 40;
    for (int i = 0; i < count; ++i) text += "before-" + std::to_string(i) + " = \"f\"\n";
    const ProjectFolder folder(text);
    std::vector<std::thread> threads;
    for (int t = 0; t < 4; ++t)
        threads.emplace_back([&, t] {
            for (int i = t; i < count; i += 4)
                static_cast<void>(
                    kiai::rename_entry(folder.path(), "before-" + std::to_string(i), "after-" + std::to_string(i)));
        });
    for (std::thread& thread : threads) thread.join();
    std::string expected = "format = 1\n[clip]\n";
    for (int i = 0; i < count; ++i) expected += "after-" + std::to_string(i) + " = \"f\"\n";
    CHECK(folder.read("kiai.toml") == expected);
}

TEST_CASE("A value is set where it is, or with the key, table or entry that it needs", "[edit]") {
    const std::string before =
        "format = 1 # the first\n[clip]\na = \"a.wav\"\nb = { file = \"a.wav\", gain = -3 }\n[bus.low]\ngain = -2 # "
        "quiet\n"
        "[sound.s]\ntakes = [\"a\"] # one\nvary = { pitch = 1 }\n"
        "[sound.t]\nlfo = [{ target = \"gain\", rate = 1, depth = 3 }]\n[[sound.t.layer]]\ntakes = [\"a\"]\n"
        "[[sound.t.layer]]\ntakes = [\"b\"]\ngain = -6 # lower\n[dial.fill]\n";
    struct Set {
        std::vector<std::string> place;
        std::string value, from, to; ///< empty: the text that is replaced
    };
    const Set cases[] = {
        {{"bus", "low", "gain"}, "-4.5", "gain = -2 # quiet", "gain = -4.5 # quiet"},
        {{"sound", "s", "gain"}, "3", "vary = { pitch = 1 }\n", "vary = { pitch = 1 }\ngain = 3\n"},
        {{"sound", "s", "vary", "pitch"}, "[-1, 2]", "{ pitch = 1 }", "{ pitch = [-1, 2] }"},
        {{"sound", "s", "vary", "gain"}, "2", "{ pitch = 1 }", "{ pitch = 1, gain = 2 }"},
        {{"sound", "s", "limit", "gap"},
         "\"12 ms\"",
         "vary = { pitch = 1 }\n",
         "vary = { pitch = 1 }\nlimit = { gap = \"12 ms\" }\n"},
        {{"sound", "t", "layer", "2", "gain"}, "-9", "gain = -6 # lower", "gain = -9 # lower"},
        {{"sound", "t", "layer", "1", "gain"},
         "-9",
         "takes = [\"a\"]\n[[sound.t.layer]]",
         "takes = [\"a\"]\ngain = -9\n[[sound.t.layer]]"},
        {{"sound", "t", "layer", "2", "vary", "pitch"},
         "1",
         "gain = -6 # lower\n",
         "gain = -6 # lower\nvary = { pitch = 1 }\n"},
        {{"sound", "t", "layer", "3"},
         "{ takes = [\"a\"], gain = -3 }",
         "gain = -6 # lower\n",
         "gain = -6 # lower\n\n[[sound.t.layer]]\ntakes = [\"a\"]\ngain = -3\n"},
        {{"sound", "t", "lfo", "2"},
         "{ target = \"pitch\", rate = 2, depth = 1 }",
         "depth = 3 }]",
         "depth = 3 }, { target = \"pitch\", rate = 2, depth = 1 }]"},
        {{"sound", "t", "lfo", "1", "shape"}, "\"square\"", "depth = 3 }", "depth = 3, shape = \"square\" }"},
        {{"clip", "b", "gain"}, "0", "gain = -3", "gain = 0"},
        {{"dial", "fill", "start"}, "0.5", "[dial.fill]\n", "[dial.fill]\nstart = 0.5\n"},
        {{"bus", "low", "gain"}, "", "gain = -2 # quiet\n", ""},
        {{"zone", "knob", "circle"},
         "{ x = 1, y = 2, r = 3 }",
         "[dial.fill]\n",
         "[dial.fill]\n\n[zone.knob]\ncircle = { x = 1, y = 2, r = 3 }\n"}};
    for (const Set& set : cases) {
        INFO(set.value << " at " << set.place[0] << '.' << set.place[1] << '.' << set.place.back());
        const Folder folder;
        folder.write_wav("a.wav", Signal(100, 0.1f));
        folder.write("kiai.toml", before);
        const EditResult tried = kiai::set_value(folder.path(), set.place, set.value, true);
        CHECK(tried.ok());
        CHECK(folder.read("kiai.toml") == before);
        const EditResult edited = kiai::set_value(folder.path(), set.place, set.value);
        for (const kiai::Finding& finding : edited.findings) FAIL_CHECK(finding.message);
        std::string expected = before;
        expected.replace(expected.find(set.from), set.from.size(), set.to);
        CHECK(folder.read("kiai.toml") == expected);
        CHECK(edited.changes.size() == 1);
    }
}

TEST_CASE("A value that kiai.toml may not have is refused with the reader's own words", "[edit]") {
    const Folder folder;
    folder.write_wav("a.wav", Signal(100, 0.1f));
    const std::string before =
        "format = 1\n[clip]\na = \"a.wav\"\n[sound.s]\ntakes = [\"a\"]\n[sound.broken]\ntakes = [\"c\"]\n";
    folder.write("kiai.toml", before);
    const auto refused = [&](const std::vector<std::string>& place, const std::string& value) {
        const EditResult edited = kiai::set_value(folder.path(), place, value);
        CHECK_FALSE(edited.ok());
        CHECK(folder.read("kiai.toml") == before);
        return edited.findings.empty() ? std::string() : edited.findings[0].message;
    };
    CHECK(refused({"sound", "s", "gain"}, "30").find("`gain = 30` is not a gain in dB") != std::string::npos);
    CHECK(refused({"sound", "s", "gian"}, "3").find("gian") != std::string::npos);
    CHECK(refused({"sound", "s", "takes"}, "[\"c\"]").find("unknown clip") != std::string::npos);
    CHECK(refused({"sound", "s", "gain"}, "3 # loud") == "sound.s.gain: 3 # loud is not a value");
    CHECK(refused({"sound", "s", "gain"}, "1\n[sound.more]") != "");
    CHECK(refused({"gain"}, "3") == "\"gain\" is not a key of an entry");
    CHECK(refused({}, "3") != "");
    CHECK(refused({"sound", "s", "takes", "3"}, "\"a\"") == "sound.s.takes.3: the list has 1 item");
    CHECK(refused({"sound", "s", "takes", "2", "clip"}, "\"a\"") == "sound.s.takes.2.clip: the list has 1 item");
    // An error that was there before prevents no other change.
    CHECK(kiai::set_value(folder.path(), {"sound", "s", "gain"}, "-3").ok());
}
