// Makes a project in code: for tests, tools, and systems without files.
#pragma once

#include <kiai/clip_source.h>
#include <kiai/project.h>

#include <concepts>
#include <initializer_list>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

namespace kiai::inline v0 {

struct NamedSetting;

/// A table of keys with their values: `Settings{{"x", 120}, {"y", 80}, {"r", 40}}`.
struct Settings {
    Settings(std::initializer_list<NamedSetting> members);
    std::vector<NamedSetting> members;
};

/// The value of a key: a text, a number, true or false, a list, or a table. A plain value.
struct Setting {
    enum class Kind { text = 0, number = 1, truth = 2, list = 3, table = 4 };

    Setting(const char* text);
    Setting(std::string text);
    Setting(bool truth);
    Setting(double number);
    template<std::integral Number>
    Setting(Number number);
    Setting(std::initializer_list<Setting> items);
    Setting(std::vector<Setting> items);
    Setting(Settings table);

    Kind kind;
    std::string text;
    double number = 0;
    bool truth = false;
    std::vector<Setting> items;
    std::vector<NamedSetting> members;
};

struct NamedSetting {
    std::string key;
    Setting value;
};

template<std::integral Number>
Setting::Setting(Number value) : Setting(static_cast<double>(value)) {}

/// Collects the entries of a project, with the keys, ranges and defaults of kiai.toml. One thread at a time.
class ProjectBuilder {
  public:
    ProjectBuilder();
    ~ProjectBuilder();
    ProjectBuilder(ProjectBuilder&&) noexcept;
    ProjectBuilder& operator=(ProjectBuilder&&) noexcept;

    /// Registers a clip, or replaces the clip of that name. [control]
    ProjectBuilder& clip(std::string_view name, Samples samples);
    /// Sets a key by its path: `set("sound.oak.vary.pitch", 1.0)`. A key on the path that holds no table becomes one.
    /// [control]
    ProjectBuilder& set(std::string_view path, const Setting& value);
    /// Adds a table to a list of tables: `add("binding", {{"trigger", Settings{{"key-down", "KeyT"}}}, …})`. [control]
    ProjectBuilder& add(std::string_view path, Settings table);
    /// Returns the project so far, and its findings. The builder can be used afterwards. Throws only bad_alloc.
    /// [control]
    LoadResult build() const;

  private:
    struct Data;
    std::unique_ptr<Data> data_;
};

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/builder.h>
#endif
