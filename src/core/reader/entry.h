// One table of kiai.toml while it is read: each key is asked for with what it takes, and what nobody asked for is a
// finding.
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

/// Where findings go, with the file's name filled in.
class Findings {
  public:
    /// `keys`: those that the file may hold.
    explicit Findings(std::string file, const std::vector<Key>& keys = project_keys())
        : file_(std::move(file)), keys_(keys) {
        for (const Key& key : keys) by_name_.emplace(key.name, &key);
    }
    const std::string& file() const noexcept { return file_; }
    const std::vector<Key>& keys() const noexcept { return keys_; }
    /// The key of that name in a section; null: there is none.
    const Key* key(std::string_view section, std::string_view name) const {
        const auto [begin, end] = by_name_.equal_range(name);
        const auto found = std::find_if(begin, end, [&](const auto& one) { return section == one.second->parent; });
        return found == end ? nullptr : found->second;
    }
    /// `about`: the entry's name; `certain`: what belongs there instead, if that is certain.
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
    /// With the severity that such findings have.
    void add(FindingCode code, model::Source source, std::string message, std::string fix, std::string about) {
        add(code, usual_severity(code), source, std::move(message), std::move(fix), std::move(about));
    }
    /// What is added from here on is about a binding, by its number; 0: about none.
    void about_binding(int number) noexcept { binding_ = number; }
    std::vector<Finding> take() { return std::move(all_); }

  private:
    int binding_ = 0;
    std::string file_;
    const std::vector<Key>& keys_;
    std::unordered_multimap<std::string_view, const Key*> by_name_;
    std::vector<Finding> all_;
};

/// `12 ms`, `0.5 s` or `480 frames`.
std::optional<model::Duration> parse_duration(const std::string& text);

/// Asks for the keys of its sections; what a key takes is in the table of keys, and nowhere else.
class Entry {
  public:
    using Sections = std::vector<const char*>;
    /// `what` names it in messages: `sound "oak"`; `about` is its name alone, where it has one.
    Entry(Findings& findings, const Value& table, Sections sections, std::string what, std::string about = {})
        : findings_(findings), table_(table), sections_(std::move(sections)), what_(std::move(what)),
          about_(std::move(about)) {}
    /// A table within another entry.
    Entry(Entry& outer, const Value& table, Sections sections, const std::string& what)
        : Entry(outer.findings_, table, std::move(sections), outer.what_ + what, outer.about_) {}
    Entry(Entry& outer, const Value& table, const char* section, const std::string& what)
        : Entry(outer, table, Sections{section}, what) {}

    /// True until something about it was an error: then it is left out of the project.
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
    /// Which of the key's words.
    std::optional<int> word(const char* key);
    const Value* list(const char* key);
    const Value* table(const char* key);
    model::Spread spread(const char* key);
    /// In seconds.
    model::Spread times(const char* key);
    /// A time, or a pair of them: the first, and how many seconds the other is longer.
    std::optional<std::pair<model::Duration, double>> time_or_pair(const char* key);

    /// Says that a value is wrong, and leaves the entry out.
    void fail(FindingCode code, model::Source source, const std::string& message, std::string fix,
              std::string replacement = {});
    /// Leaves the entry out without a word, because what it needs has an error that was reported there.
    void leave_out() noexcept { ok_ = false; }
    /// Says that something is doubtful; the entry stays.
    void doubt(FindingCode code, Severity severity, model::Source source, const std::string& message, std::string fix);
    /// Says that a key that is needed is missing, unless something else is wrong with it already.
    void missing(const char* key, const std::string& fix);
    /// Says which keys it does not have.
    void finish();
    /// An entry within this one, whose errors are this one's too once it is `close`d.
    void close(Entry& inner) { ok_ = ok_ && inner.ok_; }

    /// A number of that key, in its unit: a number, or a text with `dB` or `%` where the unit allows it; else it says
    /// what is wrong with it.
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

/// True where `name` may name an entry: a-z 0-9 - _, up to 64 characters.
bool good_name(const std::string& name) noexcept;

} // namespace kiai::reader
