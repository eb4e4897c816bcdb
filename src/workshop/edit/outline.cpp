#include "workshop/edit/outline.h"

#include "core/reader/value.h"
#include "runtime/project/parse_toml.h"

#include <algorithm>
#include <map>

namespace kiai::workshop {
namespace {

class Scanner {
  public:
    explicit Scanner(std::string_view text) : text_(text) {
        if (text_.starts_with("\xef\xbb\xbf")) at_ = 3;
    }

    std::vector<Section> run() {
        std::vector<Section> sections(1);
        for (skip(true); at_ < text_.size(); skip(true)) {
            if (text_[at_] == '[')
                sections.push_back(heading());
            else
                sections.back().assignments.push_back(assignment());
        }
        return sections;
    }

  private:
    char here() const { return at_ < text_.size() ? text_[at_] : '\0'; }
    bool next_is(std::string_view what) const { return text_.substr(at_).starts_with(what); }

    /// Skips blanks, and line ends and comments if they are allowed.
    void skip(bool lines) {
        for (; at_ < text_.size(); ++at_) {
            const char c = text_[at_];
            if (c == '#' && lines)
                at_ = std::min(text_.find('\n', at_), text_.size()) - 1;
            else if (c != ' ' && c != '\t' && !(lines && (c == '\n' || c == '\r')))
                return;
        }
    }

    KeySpan key_part() {
        KeySpan part;
        part.at.from = at_;
        if (here() == '"' || here() == '\'') {
            quoted();
            part.at.to = at_;
            const auto raw = text_.substr(part.at.from, at_ - part.at.from);
            const auto parsed = runtime::parse_toml("k = " + std::string(raw));
            if (const reader::Value* table = std::get_if<reader::Value>(&parsed); table && table->find("k"))
                part.key = table->find("k")->text;
            return part;
        }
        const auto bare = [](char c) {
            return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
        };
        while (bare(here())) ++at_;
        part.at.to = at_;
        part.key = text_.substr(part.at.from, at_ - part.at.from);
        if (part.at.to == part.at.from) ++at_; // not TOML: continue all the same
        return part;
    }

    std::vector<KeySpan> keys() {
        std::vector<KeySpan> all;
        do {
            skip(false);
            all.push_back(key_part());
            skip(false);
        } while (here() == '.' && ++at_ > 0);
        return all;
    }

    Section heading() {
        Section section;
        section.heading.from = at_;
        const bool listed = next_is("[[");
        at_ += listed ? 2 : 1;
        section.keys = keys();
        at_ = std::min(at_ + (listed ? 2 : 1), text_.size());
        section.heading.to = at_;
        std::string path;
        for (std::size_t i = 0; i < section.keys.size(); ++i) {
            section.place.emplace_back(section.keys[i].key);
            section.depths.push_back(section.place.size());
            path += section.keys[i].key + '\n';
            const bool last = i + 1 == section.keys.size();
            if (listed && last)
                section.place.emplace_back(counts_[path]++);
            else if (const auto found = counts_.find(path); found != counts_.end())
                section.place.emplace_back(found->second - 1); // the lines below belong to the latest
            if (section.place.size() > section.depths.back())
                path += std::to_string(std::get<std::size_t>(section.place.back())) + '\n';
        }
        return section;
    }

    Assignment assignment() {
        Assignment made;
        made.keys = keys();
        ++at_; // =
        skip(false);
        made.value = value();
        return made;
    }

    void quoted() {
        const std::string_view mark = text_.substr(at_, 1);
        const std::string triple(3, mark[0]);
        const bool lines = next_is(triple), escapes = mark == "\"";
        const std::string_view end = lines ? std::string_view(triple) : mark;
        at_ += end.size();
        while (at_ < text_.size() && !next_is(end)) at_ += escapes && text_[at_] == '\\' ? 2 : 1;
        at_ = std::min(at_ + end.size(), text_.size());
        while (lines && here() == mark[0]) ++at_; // up to two quotes may precede the closing three
    }

    ValueSpan value() {
        ValueSpan made;
        made.at.from = at_;
        if (here() == '"' || here() == '\'') {
            quoted();
        } else if (here() == '[' || here() == '{') {
            const bool list = here() == '[';
            made.kind = list ? ValueSpan::Kind::list : ValueSpan::Kind::table;
            ++at_;
            for (skip(list); at_ < text_.size() && here() != (list ? ']' : '}'); skip(list)) {
                if (list)
                    made.items.push_back(value());
                else
                    made.members.push_back(assignment());
                skip(list);
                if (here() == ',') ++at_;
            }
            at_ = std::min(at_ + 1, text_.size());
        } else {
            at_ = std::min(text_.find_first_of(",]}#\r\n", at_), text_.size());
            while (at_ > made.at.from && (text_[at_ - 1] == ' ' || text_[at_ - 1] == '\t')) --at_;
        }
        made.at.to = at_;
        return made;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    std::map<std::string, std::size_t> counts_; ///< items of each list of tables so far
};

} // namespace

bool begins_with(const Place& place, const Place& whole) {
    return place.size() >= whole.size() && std::equal(whole.begin(), whole.end(), place.begin());
}

std::vector<Section> outline(std::string_view text) {
    return Scanner(text).run();
}

} // namespace kiai::workshop
