// One table of kiai.toml during reading. The reader asks for each key, and a key that nobody asked for is a finding.
#pragma once

#include "core/model/project.h"
#include "core/reader/value.h"

#include <kiai/finding.h>
#include <kiai/keys.h>

#include <algorithm>
#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace kiai::reader {

/// Collects findings and fills in the file's name.
class Findings {
  public:
    /// `keys`: the keys that the file may contain.
    explicit Findings(std::string file, const std::vector<Key>& keys = project_keys())
        : file_(std::move(file)), keys_(keys) {
        for (const Key& key : keys) by_name_.emplace(key.name, &key);
    }
    const std::string& file() const noexcept { return file_; }
    const std::vector<Key>& keys() const noexcept { return keys_; }
    /// Returns the key with that name in a section, or null.
    const Key* key(std::string_view section, std::string_view name) const {
        const auto [begin, end] = by_name_.equal_range(name);
        const auto found = std::find_if(begin, end, [&](const auto& one) { return section == one.second->parent; });
        return found == end ? nullptr : found->second;
    }
    /// `about`: the entry's name; `certain`: the replacement, if it is certain.
    void add(FindingCode code, Severity severity, model::Source source, std::string message, std::string fix,
             std::string about = {}, std::string replacement = {}) {
        all_.push_back({code,
                        severity,
                        file_,
                        source.line,
                        source.column,
                        std::move(message),
                        std::move(fix),
                        std::move(about),
                        std::move(replacement),
                        {},
                        binding_});
    }
    /// Adds a finding with its usual severity.
    void add(FindingCode code, model::Source source, std::string message, std::string fix, std::string about) {
        add(code, usual_severity(code), source, std::move(message), std::move(fix), std::move(about));
    }
    /// Assigns the next findings to a binding by its number; 0: to none.
    void about_binding(int number) noexcept { binding_ = number; }
    std::vector<Finding> take() { return std::move(all_); }

  private:
    int binding_ = 0;
    std::string file_;
    const std::vector<Key>& keys_;
    std::unordered_multimap<std::string_view, const Key*> by_name_;
    std::vector<Finding> all_;
};

/// Parses `12 ms`, `0.5 s` or `480 frames`.
std::optional<model::Duration> parse_duration(const std::string& text);

/// Reads the keys of its sections. The table of keys alone says what a key takes.
class Entry {
  public:
    using Sections = std::vector<const char*>;
    /// `what` names the entry in messages: `sound "oak"`; `about` is its name alone, if it has one.
    Entry(Findings& findings, const Value& table, Sections sections, std::string what, std::string about = {})
        : findings_(findings), table_(table), sections_(std::move(sections)), what_(std::move(what)),
          about_(std::move(about)) {}
    /// A table within another entry.
    Entry(Entry& outer, const Value& table, Sections sections, const std::string& what)
        : Entry(outer.findings_, table, std::move(sections), outer.what_ + what, outer.about_) {}
    Entry(Entry& outer, const Value& table, const char* section, const std::string& what)
        : Entry(outer, table, Sections{section}, what) {}

    /// Returns false after an error, which excludes the entry from the project.
    bool ok() const noexcept { return ok_; }
    const std::string& what() const noexcept { return what_; }
    model::Source source() const noexcept { return table_.source; }
    Findings& findings() noexcept { return findings_; }

    const Value* any(const char* key);
    std::optional<double> number(const char* key);
    std::optional<int> whole(const char* key);
    std::optional<std::string> text(const char* key);
    std::optional<bool> truth(const char* key);
    std::optional<model::Duration> duration(const char* key);
    /// Returns the index of the key's word.
    std::optional<int> word(const char* key);
    const Value* list(const char* key);
    const Value* table(const char* key);
    model::Spread spread(const char* key);
    /// In seconds.
    model::Spread times(const char* key);
    /// Reads a time or a pair of times. Returns the first, and how many seconds longer the other is.
    std::optional<std::pair<model::Duration, double>> time_or_pair(const char* key);

    /// Reports an invalid value and excludes the entry.
    void fail(FindingCode code, model::Source source, const std::string& message, std::string fix,
              std::string replacement = {});
    /// Excludes the entry without a finding, because the error was reported at what it needs.
    void leave_out() noexcept { ok_ = false; }
    /// Reports a doubt; the entry stays.
    void doubt(FindingCode code, Severity severity, model::Source source, const std::string& message, std::string fix);
    /// Reports a missing key, unless something else is wrong with it already.
    void missing(const char* key, const std::string& fix);
    /// Reports the unknown keys.
    void finish();
    /// Takes over the errors of an inner entry.
    void close(Entry& inner) { ok_ = ok_ && inner.ok_; }

    /// Returns a number for that key in its unit: a number, or a text with `dB` or `%` if the unit allows it. Otherwise
    /// reports what is wrong.
    std::optional<double> number_of(const Value& value, const Key& key);

  private:
    const Key& key_of(const char* key) const;
    std::vector<std::string> known() const;
    const Value* expect(const char* key, Value::Kind kind);

    Findings& findings_;
    const Value& table_;
    Sections sections_;
    std::string what_;
    std::string about_;
    bool ok_ = true;
};

/// Returns true if `name` may name an entry: a-z 0-9 - _, up to 64 characters.
bool good_name(const std::string& name) noexcept;

} // namespace kiai::reader
