// The language of Kiai: banned phrases, and the shape of each kind of text.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <kiai/workshop/workshop.h>

#include <catch2/catch.hpp>

#include <filesystem>
#include <regex>
#include <set>
#include <sstream>
#include <string>
#include <vector>

using namespace support;
namespace fs = std::filesystem;

namespace {

const fs::path root = source_folder();

/// Phrases that are not English, or that have a plainer word.
const std::regex
    banned(R"(\b(mend(s|ed|ing)?|anew|twice running|likewise|any more|beyond doubt|gives? way|not seen from here)\b)"
           R"(|\b(is|are) (otherwise|told|wanted|not there)\b|\bstands? (in|here|there|still)\b)"
           R"(|\bfor who\b|\bgoes on\b|\blet go\b|\bwhat (sounds|stands|came|comes|lies)\b)",
           std::regex::icase);

std::vector<fs::path> files(const fs::path& folder, const std::set<std::string>& extensions) {
    std::vector<fs::path> found;
    for (const auto& entry : fs::recursive_directory_iterator(root / folder))
        if (extensions.count(entry.path().extension().string())) found.push_back(entry.path());
    return found;
}

void check_text(const fs::path& file, const std::string& text) {
    std::istringstream lines(text);
    int number = 0;
    for (std::string line; std::getline(lines, line);) {
        ++number;
        std::smatch hit;
        if (!std::regex_search(line, hit, banned)) continue;
        INFO(fs::relative(file, root).string() << ':' << number << ": " << hit.str());
        CHECK(hit.str().empty());
    }
}

/// Returns the string literals of a source file, one per line.
std::string literals(const std::string& code) {
    static const std::regex literal("\"((?:[^\"\\\\\n]|\\\\.)*)\"");
    std::string all;
    for (std::sregex_iterator at(code.begin(), code.end(), literal), end; at != end; ++at) all += (*at)[1].str() + '\n';
    return all;
}

std::size_t words_in(const std::string& sentence) {
    std::istringstream in(sentence);
    std::size_t count = 0;
    for (std::string word; in >> word;) ++count;
    return count;
}

/// Checks that a text has whole sentences: a capital or code at the start, a full stop at the end, at most 30 words
/// each.
void check_sentences(const std::string& what, const std::string& text) {
    INFO(what << ": " << text);
    REQUIRE_FALSE(text.empty());
    const auto first = static_cast<unsigned char>(text.front());
    CHECK((std::isupper(first) || first == '`' || std::isdigit(first)));
    CHECK(text.back() == '.');
    static const std::regex stop(R"(\.\s)");
    for (std::sregex_token_iterator at(text.begin(), text.end(), stop, -1), end; at != end; ++at)
        CHECK(words_in(*at) <= 30);
}

} // namespace

TEST_CASE("No page, header or message has a phrase of the banned list", "[house]") {
    for (const char* page : {"README.md", "CONTRIBUTING.md", "CHANGELOG.md", "examples/README.md"})
        check_text(root / page, text_of(root / page));
    for (const fs::path& page : files("docs", {".md"})) check_text(page, text_of(page));
    for (const fs::path& header : files("include", {".h"})) check_text(header, text_of(header));
    for (const char* folder : {"src", "tools"})
        for (const fs::path& source : files(folder, {".cpp", ".h"}))
            if (source.filename() != "usage.cpp") // knows the old names of options
                check_text(source, literals(text_of(source)));
}

TEST_CASE("Every link of the pages leads to a file", "[house]") {
    std::vector<fs::path> pages = files("docs", {".md"});
    for (const char* page : {"README.md", "CONTRIBUTING.md", "CHANGELOG.md", "examples/README.md"})
        pages.push_back(root / page);
    const std::regex link(R"([^\[]\]\(([^)#:\s]+)[^)]*\))");
    std::size_t links = 0;
    for (const fs::path& page : pages) {
        const std::string text = text_of(page);
        for (std::sregex_iterator at(text.begin(), text.end(), link), end; at != end; ++at, ++links) {
            INFO(page.string() << ": " << (*at)[1].str());
            CHECK(fs::exists(page.parent_path() / (*at)[1].str()));
        }
    }
    CHECK(links > 100);
}

TEST_CASE("The example of every key loads without an error and uses every key", "[house]") {
    const std::string text = text_of(root / "docs" / "every-key.toml");
    const Folder folder;
    folder.write("kiai.toml", text);
    fs::copy(demo() / "clips", folder.path() / "clips");
    for (const kiai::Finding& finding : kiai::load_project(folder.path()).findings) {
        INFO(finding);
        CHECK(finding.severity != kiai::Severity::error);
    }
    for (const kiai::Key& key : kiai::project_keys()) {
        INFO(key.parent << '.' << key.name);
        const std::string name = key.name;
        CHECK(std::regex_search(text, std::regex("(^|[^a-z-])" + name + "(\\s*=|[.\\]])")));
    }
    CHECK(text_of(root / "docs" / "project.md").find(text) != std::string::npos);
}

TEST_CASE("The reference of the headers builds without a warning", "[house]") {
    const Ran ran = run("'" + source_folder() + "/scripts/reference'");
    INFO(ran.out << ran.err);
    CHECK(ran.status == 0);
    CHECK(ran.err == "");
    CHECK(text_of(root / "build" / "reference" / "html" / "classkiai_1_1Engine.html").find("set_bus_gain") !=
          std::string::npos);
}

TEST_CASE("Findings, decisions, keys and fields are explained in whole sentences", "[house]") {
    for (const kiai::FindingCode code : kiai::all_finding_codes())
        check_sentences(kiai::to_string(code), kiai::explain(code));
    for (int number = 0; number <= static_cast<int>(kiai::Outcome::last); ++number)
        check_sentences("decision", kiai::explain(static_cast<kiai::Outcome>(number)));
    for (const kiai::Key& key : kiai::project_keys())
        check_sentences(key.parent + std::string(".") + key.name, key.description);
    for (const kiai::Key& key : kiai::expectation_keys()) check_sentences(key.name, key.description);
    for (const kiai::LogField& field : kiai::log_fields()) check_sentences(field.path, field.description);
}

TEST_CASE("A decision starts with its trigger and a past participle", "[house]") {
    const std::set<std::string> openers{
        "played",  "held",     "started",    "stopped", "paused",   "resumed",  "set",  "ended",     "stolen",
        "refused", "ignored:", "cancelled:", "ducked",  "muted",    "unmuted",  "gave", "restarted", "toggled",
        "clamped", "lost",     "bypassed",   "served",  "replaced", "measured", "did"};
    const kiai::LoadResult loaded = kiai::load_project(demo());
    const kiai::LoadedTrace trace = kiai::load_trace(demo() / "run.jsonl");
    std::set<kiai::Outcome> seen;
    for (const kiai::Decision& decision : kiai::rehearse(loaded.project, trace.trace).decisions) {
        seen.insert(decision.outcome);
        const std::string text = kiai::describe_outcome(decision);
        INFO(kiai::describe(decision));
        CHECK(openers.count(text.substr(0, text.find(' '))) == 1);
        CHECK(text.find("frames") == std::string::npos);
    }
    CHECK(seen.size() > 8);
    // A decision of every kind, with nothing filled in but its number.
    for (int number = 0; number <= static_cast<int>(kiai::Outcome::last); ++number) {
        kiai::Decision decision;
        decision.outcome = static_cast<kiai::Outcome>(number);
        const std::string text = kiai::describe_outcome(decision);
        INFO(text);
        CHECK(openers.count(text.substr(0, text.find(' '))) + (text == "done") == 1);
    }
}
