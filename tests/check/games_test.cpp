// check --code on two games from Debian's source packages: calls are put into their code, and all else is left alone.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/code.h>

#include <catch2/catch.hpp>

#include <algorithm>
#include <fstream>
#include <functional>
#include <regex>
#include <set>

using namespace support;
namespace fs = std::filesystem;

namespace {

/// A game's source, and a project with the sounds that its calls will name.
class Game {
  public:
    explicit Game(const std::string& package) {
        const Ran ran =
            run("'" + source_folder() + "/tests/check/game-source' " + package + " '" + source().string() + "'");
        INFO(ran.out << ran.err);
        REQUIRE((ran.status == 0 || ran.status == 75));
        there_ = ran.status == 0;
        if (!there_) WARN("not tested: Debian's source packages cannot be downloaded on this machine");
    }
    bool there() const { return there_; }
    fs::path source() const { return folder_.path() / "game"; }

    /// Replaces each match in the files of that extension by `begin`, the first group as a name, and `end`. `head`:
    /// what a file with a match begins with.
    void put_calls(const std::string& extension, const std::regex& match, const std::string& begin,
                   const std::string& end, const std::string& head = {}) {
        std::vector<fs::path> files;
        for (const auto& entry : fs::recursive_directory_iterator(source()))
            if (entry.path().extension() == extension) files.push_back(entry.path());
        std::sort(files.begin(), files.end());
        for (const fs::path& file : files) {
            const std::string before = text_of(file);
            std::string after;
            auto from = before.begin();
            for (std::sregex_iterator one(before.begin(), before.end(), match), none; one != none; ++one) {
                std::string name = (*one)[1];
                std::transform(name.begin(), name.end(), name.begin(),
                               [](unsigned char c) { return c == '_' ? '-' : static_cast<char>(std::tolower(c)); });
                names_.insert(name);
                after.append(from, before.begin() + one->position()).append(begin + name + end);
                from = before.begin() + one->position() + one->length();
                ++calls_;
            }
            if (from != before.begin()) std::ofstream(file) << head << after.append(from, before.end());
        }
        REQUIRE(calls_ > 5u);
        std::string text = "[clip]\ntone = \"tone.wav\"\n";
        for (const std::string& name : names_) text += "[sound." + name + "]\ntakes = [\"tone\"]\n";
        folder_.toml(text);
        folder_.write_wav("tone.wav", Signal(100, 0.1f));
        folder_.load();
    }
    std::size_t calls() const { return calls_; }
    /// Writes one of the names with a letter too many.
    void misspell(const std::string& file, const std::string& call) const {
        const fs::path path = find(file);
        std::string text = text_of(path);
        const std::size_t at = text.find(call);
        REQUIRE(at != std::string::npos);
        std::ofstream(path) << text.insert(text.find('"', at) + 1, "x");
    }
    kiai::CodeResult check() const { return kiai::check_code(folder_.path(), {source()}); }

  private:
    fs::path find(const std::string& name) const {
        for (const auto& entry : fs::recursive_directory_iterator(source()))
            if (entry.path().filename() == name) return entry.path();
        FAIL("no " << name);
        return {};
    }
    ProjectFolder folder_;
    bool there_ = false;
    std::set<std::string> names_;
    std::size_t calls_ = 0;
};

void check_names(const Game& game, const std::function<void()>& misspell, const std::string& message) {
    const kiai::CodeResult right = game.check();
    for (const kiai::Finding& finding : right.findings) INFO(finding);
    CHECK(right.findings.empty());
    CHECK(right.names == game.calls());
    misspell();
    const kiai::CodeResult wrong = game.check();
    REQUIRE(wrong.findings.size() == 1);
    CHECK(wrong.findings[0].message == message);
}

} // namespace

TEST_CASE("A game in C++: each call that was put into it is checked, and nothing else is", "[code][slow]") {
    Game game("kobodeluxe");
    if (!game.there()) return;
    CHECK(game.check().names == 0);
    game.put_calls(".cpp", std::regex(R"(sound\.g_(\w+)\(x, y\))"), "bench.play(\"", "\")",
                   "#include <kiai/kiai.h>\nextern kiai::Session bench;\n");
    check_names(
        game, [&] { game.misspell("enemy.cpp", "bench.play(\"launch-beam"); },
        "play(\"xlaunch-beam\"): unknown sound or clip");
    CHECK(game.check().lines > 50000);
}

TEST_CASE("A game in Python: each call that was put into it is checked, and its own sounds are not", "[code][slow]") {
    Game game("funnyboat");
    if (!game.there()) return;
    CHECK(game.check().names == 0);
    game.put_calls(".py", std::regex(R"((\w+)\.\w*sound\W+play\(\))"), "bench.play(\"", "\")",
                   "import kiai\nbench = kiai.open(\"sound\")\n");
    check_names(
        game, [&] { game.misspell("shark.py", "bench.play(\"shark"); }, "play(\"xshark\"): unknown sound or clip");
}
