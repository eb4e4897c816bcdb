// Faults outside of Kiai: broken files, missing permissions, a full disk, a kill at any moment. Nothing is lost, the
// reason is reported, and everything else is added.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"

#include <catch2/catch.hpp>

#include <fcntl.h>
#include <sys/ptrace.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace support;
using kiai::FindingCode;

namespace {

/// Takes the rights of root from this process while it exists.
class Unprivileged {
  public:
    Unprivileged() { changed_ = ::geteuid() == 0 && ::seteuid(65534) == 0; }
    ~Unprivileged() {
        if (changed_ && ::seteuid(0) != 0) std::abort();
    }
    Unprivileged(const Unprivileged&) = delete;
    Unprivileged& operator=(const Unprivileged&) = delete;

  private:
    bool changed_ = false;
};

/// Runs the tool and kills it at the n-th system call after its lock of kiai.toml. Returns true if the tool ended
/// before.
bool run_until_call(const std::filesystem::path& folder, const std::vector<std::string>& arguments, long calls) {
    const std::string tool = tested_tool();
    const pid_t child = ::fork();
    if (child == 0) {
        std::vector<char*> words{const_cast<char*>("kiai")};
        for (const std::string& argument : arguments) words.push_back(const_cast<char*>(argument.c_str()));
        words.push_back(nullptr);
        ::setenv("ASAN_OPTIONS", "detect_leaks=0", 1); // which needs to trace itself
        const int nowhere = ::open("/dev/null", O_WRONLY);
        ::dup2(nowhere, 1), ::dup2(nowhere, 2);
        if (::chdir(folder.c_str()) != 0 || ::ptrace(PTRACE_TRACEME, 0, nullptr, nullptr) != 0) ::_exit(99);
        ::execv(tool.c_str(), words.data());
        ::_exit(98);
    }
    int status = 0;
    ::waitpid(child, &status, 0); // at its exec
    ::ptrace(PTRACE_SETOPTIONS, child, nullptr, PTRACE_O_EXITKILL | PTRACE_O_TRACESYSGOOD);
    for (long entered = 0; entered < calls;) {
        ::ptrace(PTRACE_SYSCALL, child, nullptr, nullptr);
        ::waitpid(child, &status, 0);
        if (WIFEXITED(status)) {
            CHECK(WEXITSTATUS(status) == 0);
            return true;
        }
        __ptrace_syscall_info call{};
        ::ptrace(PTRACE_GET_SYSCALL_INFO, child, sizeof call, &call);
        const bool enters = call.op == PTRACE_SYSCALL_INFO_ENTRY;
        if (enters && (entered > 0 || call.entry.nr == SYS_flock)) ++entered;
    }
    ::kill(child, SIGKILL);
    ::waitpid(child, &status, 0);
    return false;
}

const kiai::Finding* about(const std::vector<kiai::Finding>& findings, const std::string& clip) {
    for (const kiai::Finding& finding : findings)
        if (finding.entry == clip) return &finding;
    return nullptr;
}

} // namespace

TEST_CASE("A file that is cut short plays as far as it goes, and it is said", "[faults]") {
    const ProjectFolder folder;
    folder.write_wav("whole.wav", noise(0.3, 96000, 1)); // of which every second takes as many bytes
    std::string text = "[clip]\n";
    const std::string commands[] = {"sox whole.wav -b 16 c.wav",
                                    "sox whole.wav -b 16 c.aiff",
                                    "sox whole.wav -b 24 c.au",
                                    "sox whole.wav -b 16 c.flac",
                                    "sox whole.wav c.ogg",
                                    "ffmpeg -v error -y -i whole.wav c.opus",
                                    "ffmpeg -v error -y -i whole.wav -b:a 128k c.mp3"};
    for (const std::string& command : commands) {
        REQUIRE(run(command, folder.path()).status == 0);
        const std::string extension = command.substr(command.rfind('.') + 1), bytes = folder.read("c." + extension);
        folder.write("whole." + extension, bytes);
        folder.write("cut." + extension, bytes.substr(0, bytes.size() * 6 / 10));
        text += "whole-" + extension + " = \"whole." + extension + "\"\ncut-" + extension + " = \"cut." + extension +
                "\"\n";
    }
    folder.toml(text);
    const kiai::LoadResult loaded = folder.load_with_findings();
    for (const std::string extension : {"wav", "aiff", "au", "flac", "ogg", "opus", "mp3"}) {
        INFO(extension);
        CHECK(about(loaded.findings, "whole-" + extension) == nullptr);
        const kiai::Finding* finding = about(loaded.findings, "cut-" + extension);
        REQUIRE(finding != nullptr);
        CHECK(finding->code == FindingCode::file_cut_short);
        CHECK(finding->severity == kiai::Severity::warning);
        CHECK(finding->message.find("is cut short after ") != std::string::npos);
        const auto length = kiai::hear(loaded.project, "cut-" + extension).length;
        CHECK(length > 45000); // of 96000: a page that is not whole goes too
        CHECK(length < 65000);
    }
}

TEST_CASE("Headers that lie are findings, quickly, and the rest loads", "[faults]") {
    const ProjectFolder folder;
    folder.write_wav("good.wav", sine(440, 0.3, 4800));
    REQUIRE(run("sox good.wav -b 16 small.wav && sox good.wav -b 16 small.flac", folder.path()).status == 0);
    // A header that claims 4 GB of samples, over 9,600 bytes.
    std::string huge = folder.read("small.wav");
    for (std::size_t i = 40; i < 44; ++i) huge[i] = i == 43 ? '\x7f' : '\xf0';
    folder.write("huge.wav", huge);
    // A FLAC that claims 2^35 frames.
    std::string flac = folder.read("small.flac");
    flac[21] = static_cast<char>(flac[21] | 0x08);
    folder.write("huge.flac", flac);
    // 3 GB without a byte on the disk: once with a header, once without.
    std::string head = folder.read("small.wav").substr(0, 44);
    const std::uint32_t size = 3221225472u - 44;
    for (std::size_t i = 0; i < 4; ++i) head[40 + i] = static_cast<char>(size >> 8 * i & 255);
    folder.write("sparse.wav", head);
    std::filesystem::resize_file(folder.path() / "sparse.wav", 3221225472);
    folder.write("hollow.wav", "");
    std::filesystem::resize_file(folder.path() / "hollow.wav", 3221225472);
    std::string rate = folder.read("small.wav");
    rate[24] = rate[25] = rate[26] = rate[27] = '\0';
    folder.write("rate.wav", rate);
    folder.toml("[clip]\ngood = \"good.wav\"\nhuge = \"huge.wav\"\nflac = \"huge.flac\"\nsparse = "
                "\"sparse.wav\"\nhollow = \"hollow.wav\"\nrate = \"rate.wav\"\n");
    const kiai::LoadResult loaded = folder.load_with_findings();
    CHECK(kiai::hear(loaded.project, "good").length == 4800);
    REQUIRE(about(loaded.findings, "huge") != nullptr);
    CHECK(about(loaded.findings, "huge")->code == FindingCode::file_cut_short);
    REQUIRE(about(loaded.findings, "flac") != nullptr);
    REQUIRE(about(loaded.findings, "sparse") != nullptr);
    CHECK(about(loaded.findings, "sparse")->code == FindingCode::file_too_long);
    REQUIRE(about(loaded.findings, "hollow") != nullptr);
    CHECK(about(loaded.findings, "hollow")->code == FindingCode::file_unreadable);
    REQUIRE(about(loaded.findings, "rate") != nullptr);
    CHECK(about(loaded.findings, "rate")->code == FindingCode::file_unreadable);
    const kiai::AddResult added = kiai::add_files(folder.path(), {folder.path() / "sparse.wav"});
    CHECK(added.files.at(0).why.find("is clip \"sparse\" already") ==
          std::string::npos); // it cannot be read, known or not
}

TEST_CASE("What may not be read or written is said, and nothing is lost", "[faults]") {
    const ProjectFolder folder("[clip]\nclosed = \"closed.wav\"\nopen = \"open.wav\"\n");
    folder.write_wav("closed.wav", sine(440, 0.3, 480));
    folder.write_wav("open.wav", sine(441, 0.3, 480));
    folder.write_wav("from/locked/a.wav", sine(442, 0.3, 480));
    folder.write_wav("from/b.wav", sine(443, 0.3, 480));
    ::chmod((folder.path() / "closed.wav").c_str(), 0);
    ::chmod((folder.path() / "from/locked").c_str(), 0);
    ::chmod(folder.path().c_str(), 0555);
    const std::string text = folder.read("kiai.toml");
    {
        const Unprivileged guard;
        const kiai::LoadResult loaded = folder.load_with_findings();
        REQUIRE(loaded.findings.size() == 1);
        CHECK(loaded.findings[0].code == FindingCode::permission_denied);
        CHECK(kiai::hear(loaded.project, "open").length == 480);
        CHECK_FALSE(kiai::check_project(folder.path()).findings.empty()); // without a place for the facts
        const kiai::EditResult edited = kiai::rename_entry(folder.path(), "open", "ajar");
        REQUIRE(edited.findings.size() == 1);
        CHECK(edited.findings[0].code == FindingCode::not_written);
        CHECK(edited.findings[0].message.find("Permission denied") != std::string::npos);
        const kiai::AddResult added = kiai::add_files(folder.path(), {folder.path() / "from"}, {.dry_run = true});
        CHECK(added.count(kiai::AddedFile::Outcome::added) == 1);
        bool said = false;
        for (const kiai::AddedFile& file : added.files)
            said = said || file.why == "is a folder without read permission";
        CHECK(said);
    }
    ::chmod(folder.path().c_str(), 0755);
    ::chmod((folder.path() / "from/locked").c_str(), 0755);
    CHECK(folder.read("kiai.toml") == text);
}

TEST_CASE("Where there is no more room, what fits goes in, and kiai.toml stays whole", "[faults]") {
    const Folder from;
    from.write_wav("big.wav", sine(440, 0.3, 48000)); // 192 kB
    from.write_wav("small.wav", sine(441, 0.3, 4800));
    std::filesystem::copy_file(from.path() / "big.wav",
                               from.path() / "big-again.wav"); // known only if the first was added
    const ProjectFolder project;
    const Ran added = run("ulimit -f 100 && '" + tested_tool() + "' add '" + project.path().string() + "' '" +
                          from.path().string() + "'");
    INFO(added.out << added.err);
    CHECK(added.status == 1);
    CHECK(added.out.find("could not be copied") != std::string::npos);
    CHECK(added.out.find("File too large") != std::string::npos);
    CHECK(added.out.find("1 added, 0 known, 2 refused") != std::string::npos);
    CHECK(project.load_with_findings().ok());
    for (const auto& entry : std::filesystem::recursive_directory_iterator(project.path()))
        CHECK(entry.path().filename().string().find("big") == std::string::npos); // no half copy is left

    std::string large = "[clip]\nsmall = \"clips/" + from.path().filename().string() + "/small.wav\"\n";
    for (int i = 0; i < 5000; ++i) large += "# a line of a long comment\n";
    project.toml(large);
    const Ran renamed =
        run("ulimit -f 100 && '" + tested_tool() + "' rename '" + project.path().string() + "' small tiny");
    CHECK(renamed.status == 1);
    CHECK(renamed.err.find("[not-written]") != std::string::npos);
    CHECK(project.read("kiai.toml") == "format = 1\n" + large);
}

TEST_CASE("Killed at any moment, kiai.toml is the old one or the new one", "[faults]") {
    const std::string old_text = "format = 1\n[clip]\noak = \"oak.wav\"\n",
                      new_text = "format = 1\n[clip]\nash = \"oak.wav\"\n";
    const Folder folder;
    folder.write("kiai.toml", old_text);
    long calls = 1, replaced = 0;
    for (bool over = false; !over && calls < 20000; ++calls) {
        folder.write("kiai.toml", old_text);
        over = run_until_call(folder.path(), {"rename", "oak", "ash"}, calls);
        const std::string now = folder.read("kiai.toml");
        REQUIRE((now == old_text || now == new_text));
        replaced += now == new_text ? 1 : 0;
    }
    CHECK(calls > 15);    // it was killed often before it was over
    CHECK(replaced >= 1); // and at last it did its work
    // The same for copied files: whole or missing.
    const Folder from;
    from.write_wav("new.wav", sine(440, 0.1, 4800));
    bool over = false;
    for (calls = 1; !over && calls < 20000; calls += 5) {
        const ProjectFolder project;
        over = run_until_call(project.path(), {"add", ".", (from.path() / "new.wav").string()}, calls);
        const kiai::LoadResult loaded = project.load_with_findings();
        CHECK(loaded.ok());
        const std::string text = project.read("kiai.toml"), copy = (project.path() / "clips" / "new.wav").string();
        CHECK((text == "format = 1\n" || text == "format = 1\n\n[clip]\nnew = \"clips/new.wav\"\n"));
        if (std::filesystem::exists(copy)) CHECK(text_of(copy) == from.read("new.wav"));
        if (text != "format = 1\n") CHECK(std::filesystem::exists(copy));
    }
    CHECK(over);
    // The next run removes what a killed one left behind.
    folder.write("kiai.toml", old_text);
    CHECK(kiai::rename_entry(folder.path(), "oak", "ash").ok());
    for (const auto& entry : std::filesystem::directory_iterator(folder.path()))
        CHECK((entry.path().filename() == "kiai.toml" || entry.path().filename() == ".kiai-renamed"));
}

TEST_CASE("Several commands at once lose nothing", "[faults]") {
    const Folder from;
    const ProjectFolder project;
    std::string all;
    for (int i = 0; i < 12; ++i) {
        const std::string name = std::string(1, static_cast<char>('a' + i)) + ".wav";
        from.write_wav(name, sine(300 + i, 0.2, 480));
        all +=
            "'" + tested_tool() + "' add '" + project.path().string() + "' '" + (from.path() / name).string() + "' & ";
    }
    const Ran ran = run(all + "wait");
    INFO(ran.out << ran.err);
    CHECK(kiai::catalogue(project.path(), {.kind = "clip"}).entries.size() == 12);
    CHECK(project.load_with_findings().ok());
}
