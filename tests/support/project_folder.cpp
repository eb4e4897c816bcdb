#include "support/project_folder.h"

#include <catch2/catch.hpp>
#include <sndfile.h>

#include <cstdlib>
#include <fstream>
#include <sstream>
#include <stdexcept>
#include <unistd.h>

namespace support {

std::string text_of(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    REQUIRE(in);
    std::ostringstream text;
    text << in.rdbuf();
    return text.str();
}

Folder::Folder() {
    // Always a new one: a test that was killed leaves its folder behind, and a later process may get its number.
    std::string name = (std::filesystem::temp_directory_path() / "kiai-test-XXXXXX").string();
    if (mkdtemp(name.data()) == nullptr) throw std::runtime_error("no temporary folder: " + name);
    path_ = name;
}

Folder::~Folder() {
    std::error_code error;
    std::filesystem::remove_all(path_, error);
}

void Folder::write(const std::string& name, const std::string& bytes) const {
    std::filesystem::create_directories((path_ / name).parent_path());
    std::ofstream out(path_ / name, std::ios::binary);
    out << bytes;
    REQUIRE(out.flush());
}

std::string Folder::read(const std::string& name) const {
    return text_of(path_ / name);
}

void Folder::write_wav(const std::string& name, const Signal& samples, int rate, int channels) const {
    SF_INFO info{};
    info.samplerate = rate;
    info.channels = channels;
    info.format = SF_FORMAT_WAV | SF_FORMAT_FLOAT;
    std::filesystem::create_directories((path_ / name).parent_path());
    SNDFILE* file = sf_open((path_ / name).string().c_str(), SFM_WRITE, &info);
    REQUIRE(file != nullptr);
    const auto frames = static_cast<sf_count_t>(samples.size()) / channels;
    REQUIRE(sf_writef_float(file, samples.data(), frames) == frames);
    sf_close(file);
}

ProjectFolder::ProjectFolder(const std::string& text) {
    toml(text);
}

kiai::Project ProjectFolder::load() const {
    kiai::LoadResult loaded = kiai::load_project(path());
    for (const kiai::Finding& finding : loaded.findings) {
        std::ostringstream line;
        line << finding;
        INFO(line.str());
        REQUIRE(finding.severity != kiai::Severity::error);
    }
    return loaded.project;
}

kiai::Project project_of(const Signal& samples, const std::string& text, int rate, int channels) {
    const ProjectFolder folder("[clip]\ntone = \"tone.wav\"\n" + text);
    folder.write_wav("tone.wav", samples, rate, channels);
    return folder.load();
}

} // namespace support
