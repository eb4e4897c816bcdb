#include "workshop/edit/document.h"
#include "runtime/project/parse_toml.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace kiai::workshop {
namespace {

Place deeper(Place place, std::size_t index) {
    place.emplace_back(index);
    return place;
}

/// Returns the place of an assignment's value.
Place place_of(const Place& base, const Assignment& assignment) {
    Place place = base;
    for (const KeySpan& part : assignment.keys) place.emplace_back(part.key);
    return place;
}

bool is_bare(const std::string& key) {
    return !key.empty() && std::all_of(key.begin(), key.end(), [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
    });
}

std::string toml_key(const std::string& key) {
    return is_bare(key) ? key : toml_text(key);
}

/// Returns true if the value is an empty table or list.
bool is_void(const reader::Value& value) {
    if (value.kind == reader::Value::Kind::list) return value.items.empty();
    return value.kind == reader::Value::Kind::table &&
           std::all_of(value.members.begin(), value.members.end(),
                       [](const reader::Member& member) { return is_void(member.value); });
}

/// Returns true if `other` has all members of the table, with the same meaning.
bool holds_all(const reader::Value& other, const reader::Value& table) {
    return std::all_of(table.members.begin(), table.members.end(), [&](const reader::Member& member) {
        const reader::Value* found = other.find(member.key);
        return found ? same_meaning(member.value, *found) : is_void(member.value);
    });
}

/// Moves the contents of `from` into `into`.
void merge(reader::Value& into, reader::Value from) {
    for (reader::Member& member : from.members) {
        reader::Value* had = const_cast<reader::Value*>(into.find(member.key));
        if (!had)
            into.members.push_back(std::move(member));
        else if (had->kind == reader::Value::Kind::list)
            std::move(member.value.items.begin(), member.value.items.end(), std::back_inserter(had->items));
        else
            merge(*had, std::move(member.value));
    }
}

} // namespace

std::string toml_text(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"' || c == '\\')
            out += '\\', out += c;
        else if (c == '\n')
            out += "\\n";
        else if (c == '\t')
            out += "\\t";
        else if (static_cast<unsigned char>(c) < 0x20 || c == 0x7f) {
            char code[8];
            std::snprintf(code, sizeof code, "\\u%04X", static_cast<unsigned>(static_cast<unsigned char>(c)));
            out += code;
        } else
            out += c;
    }
    return out + '"';
}

reader::Value* value_at(reader::Value& root, const Place& place) {
    reader::Value* value = &root;
    for (const auto& step : place) {
        if (const auto* key = std::get_if<std::string>(&step))
            value = const_cast<reader::Value*>(value->find(*key));
        else if (const std::size_t index = std::get<std::size_t>(step); index < value->items.size())
            value = &value->items[index];
        else
            value = nullptr;
        if (!value) return nullptr;
    }
    return value;
}

bool same_meaning(const reader::Value& a, const reader::Value& b) {
    const bool same_number = a.number == b.number || (std::isnan(a.number) && std::isnan(b.number));
    if (a.kind != b.kind || a.text != b.text || a.truth != b.truth || a.items.size() != b.items.size() || !same_number)
        return false;
    for (std::size_t i = 0; i < a.items.size(); ++i)
        if (!same_meaning(a.items[i], b.items[i])) return false;
    return holds_all(a, b) && holds_all(b, a);
}

std::variant<Document, runtime::SyntaxError> Document::read(std::string text) {
    auto parsed = runtime::parse_toml(text);
    if (const auto* error = std::get_if<runtime::SyntaxError>(&parsed)) return *error;
    return Document(std::move(text), std::get<reader::Value>(std::move(parsed)));
}

Document::Document(std::string text, reader::Value root)
    : text_(std::move(text)), intended_(std::move(root)), sections_(outline(text_)) {}

int Document::line_of(std::size_t at) const {
    return 1 + static_cast<int>(std::count(
                   text_.begin(), text_.begin() + static_cast<std::ptrdiff_t>(std::min(at, text_.size())), '\n'));
}

void Document::give_up(std::size_t at) {
    if (!stuck_) stuck_ = line_of(at);
}

std::size_t Document::line_begin(std::size_t at) const {
    const std::size_t before = at == 0 ? std::string::npos : text_.rfind('\n', at - 1);
    const std::size_t begin = before == std::string::npos ? 0 : before + 1;
    return begin == 0 && text_.starts_with("\xef\xbb\xbf") ? 3 : begin;
}

std::size_t Document::line_end(std::size_t at) const {
    const std::size_t end = text_.find('\n', at);
    return end == std::string::npos ? text_.size() : end + 1;
}

Span Document::whole_lines(Span at) const {
    return {line_begin(at.from), line_end(at.to)};
}

std::string Document::line_break(std::size_t at) const {
    const std::size_t end = text_.find('\n', at);
    const std::size_t any = end != std::string::npos ? end : text_.find('\n');
    return any != std::string::npos && any > 0 && text_[any - 1] == '\r' ? "\r\n" : "\n";
}

// --- another text ---

const ValueSpan* Document::find_value(const ValueSpan& value, const Place& at, const Place& place) const {
    if (!begins_with(place, at)) return nullptr;
    if (place.size() == at.size()) return &value;
    if (value.kind == ValueSpan::Kind::table) return find_in(value.members, at, place);
    for (std::size_t i = 0; i < value.items.size(); ++i)
        if (const ValueSpan* found = find_value(value.items[i], deeper(at, i), place)) return found;
    return nullptr;
}

const ValueSpan* Document::find_in(const std::vector<Assignment>& assignments, const Place& base,
                                   const Place& place) const {
    for (const Assignment& assignment : assignments)
        if (const ValueSpan* found = find_value(assignment.value, place_of(base, assignment), place)) return found;
    return nullptr;
}

const ValueSpan* Document::find(const Place& place) const {
    for (const Section& section : sections_)
        if (const ValueSpan* found = find_in(section.assignments, section.place, place)) return found;
    return nullptr;
}

void Document::set_text(const Place& place, const std::string& text) {
    const ValueSpan* spot = find(place);
    reader::Value* value = value_at(intended_, place);
    if (!spot || !value) return give_up(0);
    const bool literal = text_[spot->at.from] == '\'' && text_.compare(spot->at.from, 3, "'''") != 0 &&
                         text.find_first_of("'\n\r\t") == std::string::npos;
    replace(spot->at, literal ? "'" + text + "'" : toml_text(text));
    *value = {};
    value->kind = reader::Value::Kind::text;
    value->text = text;
}

void Document::set_value(const Place& place, const std::string& toml) {
    const ValueSpan* spot = find(place);
    reader::Value* value = value_at(intended_, place);
    const auto parsed = runtime::parse_toml("k = " + toml);
    const reader::Value* made = std::get_if<reader::Value>(&parsed);
    if (!spot || !value || !made) return give_up(spot ? spot->at.from : 0);
    replace(spot->at, toml);
    *value = *made->find("k");
}

// --- another key ---

void Document::rename_key(const KeySpan& at, const std::string& key) {
    const char mark = text_[at.at.from];
    const bool quoted = mark == '"' || mark == '\'';
    replace(at.at, quoted && is_bare(key) ? mark + key + mark : toml_key(key));
}

void Document::rename_in_value(const ValueSpan& value, const Place& at, const Place& place, const std::string& key) {
    if (value.kind == ValueSpan::Kind::table) rename_in(value.members, at, place, key);
    for (std::size_t i = 0; i < value.items.size(); ++i) rename_in_value(value.items[i], deeper(at, i), place, key);
}

void Document::rename_in(const std::vector<Assignment>& assignments, const Place& base, const Place& place,
                         const std::string& key) {
    for (const Assignment& assignment : assignments) {
        Place at = base;
        for (const KeySpan& part : assignment.keys) {
            at.emplace_back(part.key);
            if (at == place) rename_key(part, key);
        }
        rename_in_value(assignment.value, at, place, key);
    }
}

void Document::rename(const Place& place, const std::string& key) {
    const std::size_t before = edits_.size();
    for (const Section& section : sections_) {
        for (std::size_t i = 0; i < section.keys.size(); ++i)
            if (section.depths[i] == place.size() && begins_with(section.place, place))
                rename_key(section.keys[i], key);
        rename_in(section.assignments, section.place, place, key);
    }
    Place parent = place;
    parent.pop_back();
    reader::Value* table = value_at(intended_, parent);
    if (edits_.size() == before || !table) return give_up(0);
    for (reader::Member& member : table->members)
        if (member.key == std::get<std::string>(place.back())) member.key = key;
}

// --- taken out ---

bool Document::alone_on_its_lines(Span item) const {
    const std::size_t begin = line_begin(item.from);
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
    if (!std::all_of(text_.begin() + static_cast<std::ptrdiff_t>(begin),
                     text_.begin() + static_cast<std::ptrdiff_t>(item.from), blank))
        return false;
    std::size_t after = item.to;
    while (after < text_.size() && (blank(text_[after]) || text_[after] == ',')) ++after;
    return after >= text_.size() || text_[after] == '\n' || text_[after] == '#';
}

void Document::remove_item(const std::vector<Span>& items, std::size_t which) {
    const Span item = items[which];
    const auto crosses_lines = [&](std::size_t from, std::size_t to) {
        return text_.substr(from, to - from).find('\n') != std::string::npos;
    };
    if (alone_on_its_lines(item)) return replace(whole_lines(item), {});
    if (which + 1 < items.size()) {
        if (!crosses_lines(item.to, items[which + 1].from)) return replace({item.from, items[which + 1].from}, {});
        std::size_t after = text_.find(',', item.to) + 1;
        while (after < text_.size() && (text_[after] == ' ' || text_[after] == '\t')) ++after;
        return replace({item.from, after}, {});
    }
    if (which > 0 && !crosses_lines(items[which - 1].to, item.from)) return replace({items[which - 1].to, item.to}, {});
    replace(item, {}); // the comma that is left before it is a list's last one
}

void Document::remove_in_value(const ValueSpan& value, const Place& at, const Place& place) {
    if (value.kind == ValueSpan::Kind::table) return remove_in(value.members, at, place, true);
    std::vector<Span> spans;
    for (const ValueSpan& item : value.items) spans.push_back(item.at);
    for (std::size_t i = 0; i < value.items.size(); ++i) {
        if (deeper(at, i) == place) return remove_item(spans, i);
        remove_in_value(value.items[i], deeper(at, i), place);
    }
}

void Document::remove_in(const std::vector<Assignment>& assignments, const Place& base, const Place& place,
                         bool inline_table) {
    std::vector<Span> spans;
    for (const Assignment& assignment : assignments) spans.push_back(assignment.at());
    for (std::size_t i = 0; i < assignments.size(); ++i) {
        const Place at = place_of(base, assignments[i]);
        if (!begins_with(at, place) || base.size() >= place.size()) {
            remove_in_value(assignments[i].value, at, place);
        } else if (inline_table) {
            remove_item(spans, i);
        } else {
            replace(whole_lines(spans[i]), {});
        }
    }
}

void Document::remove(const Place& place) {
    const std::size_t before = edits_.size();
    for (const Section& section : sections_) {
        if (!section.keys.empty() && begins_with(section.place, place)) {
            const std::size_t last =
                section.assignments.empty() ? section.heading.to : section.assignments.back().at().to;
            replace(whole_lines({section.heading.from, last}), {});
        } else {
            remove_in(section.assignments, section.place, place, false);
        }
    }
    Place parent = place;
    parent.pop_back();
    reader::Value* holder = value_at(intended_, parent);
    if (edits_.size() == before || !holder) return give_up(0);
    if (const auto* key = std::get_if<std::string>(&place.back()))
        std::erase_if(holder->members, [&](const reader::Member& member) { return member.key == *key; });
    else
        holder->items.erase(holder->items.begin() + static_cast<std::ptrdiff_t>(std::get<std::size_t>(place.back())));
}

// --- put in ---

void Document::insert_line_after(std::size_t at, const std::string& line) {
    const std::size_t end = line_end(at);
    const bool open = end == text_.size() && !text_.empty() && text_.back() != '\n';
    replace({end, end}, open ? line_break(at) + line : line + line_break(at));
}

void Document::add(const Place& table, const std::vector<NewEntry>& entries) {
    reader::Value* holder = &intended_;
    std::string heading;
    bool in_list = false;
    for (const auto& step : table) {
        if (const auto* index = std::get_if<std::size_t>(&step)) { // only of an item that is there
            if (*index >= holder->items.size()) return give_up(0);
            holder = &holder->items[*index];
            in_list = true;
            continue;
        }
        const auto& name = std::get<std::string>(step);
        heading += (heading.empty() ? "" : ".") + toml_key(name);
        if (!holder->find(name)) holder->members.push_back({name, {}, {}});
        holder = const_cast<reader::Value*>(holder->find(name));
    }
    for (const auto& [key, value] : entries) {
        const auto parsed = runtime::parse_toml("k = " + value);
        const reader::Value* made = std::get_if<reader::Value>(&parsed);
        if (!made || !made->find("k")) return give_up(0);
        holder->members.push_back({key, {}, *made->find("k")});
    }
    const auto lines = [&](const std::string& before) {
        std::string all;
        for (const auto& [key, value] : entries)
            all.append(all.empty() ? "" : line_break(0))
                .append(before)
                .append(toml_key(key))
                .append(" = ")
                .append(value);
        return all;
    };
    const auto indent_of = [&](std::size_t at) { return text_.substr(line_begin(at), at - line_begin(at)); };

    if (const ValueSpan* inline_table = find(table)) { // clip = { … }
        if (inline_table->kind != ValueSpan::Kind::table) return give_up(inline_table->at.from);
        std::string all;
        for (const auto& [key, value] : entries) all += (all.empty() ? "" : ", ") + toml_key(key) + " = " + value;
        if (inline_table->members.empty()) return replace(inline_table->at, "{ " + all + " }");
        const std::size_t after = inline_table->members.back().at().to;
        return replace({after, after}, ", " + all);
    }
    for (const Section& section : sections_) // [clip]
        if (!section.keys.empty() && section.place == table) {
            if (section.assignments.empty()) return insert_line_after(section.heading.to, lines(""));
            const Span last = section.assignments.back().at();
            return insert_line_after(last.to, lines(indent_of(last.from)));
        }
    for (const Section& section : sections_) // clip.oak = …
        for (auto last = section.assignments.rbegin(); last != section.assignments.rend(); ++last) {
            const std::size_t above = section.place.size();
            if (above >= table.size() || last->keys.size() <= table.size() - above ||
                !begins_with(place_of(section.place, *last), table))
                continue;
            const Span head{last->keys.front().at.from, last->keys[table.size() - above - 1].at.to};
            return insert_line_after(last->at().to,
                                     lines(indent_of(head.from) + text_.substr(head.from, head.to - head.from) + "."));
        }
    if (in_list) return give_up(0);
    append_text("[" + heading + "]" + line_break(0) + lines("") + line_break(0));
}

void Document::add_item(const Place& list, const std::string& toml) {
    reader::Value* holder = value_at(intended_, list);
    const auto parsed = runtime::parse_toml("k = " + toml);
    const reader::Value* made = std::get_if<reader::Value>(&parsed);
    if (!holder || holder->items.empty() || !made) return give_up(0);
    const Place last = deeper(list, holder->items.size() - 1);
    holder->items.push_back(*made->find("k"));
    if (const ValueSpan* inline_list = find(list)) // follow = [ … ]
        return replace({inline_list->items.back().at.to, inline_list->items.back().at.to}, ", " + toml);
    std::string heading;
    std::size_t end = 0;
    for (const Section& section : sections_) { // [[sound.oak.follow]]
        if (!begins_with(section.place, last)) continue;
        if (section.place == last)
            heading = text_.substr(section.heading.from, section.heading.to - section.heading.from);
        end = section.assignments.empty() ? section.heading.to : section.assignments.back().at().to;
    }
    const std::string written = "k = " + toml;
    const std::vector<Section> value = outline(written);
    if (heading.empty() || value.empty() || value.front().assignments.empty()) return give_up(0);
    std::string lines = line_break(end) + heading;
    for (const Assignment& member : value.front().assignments.front().value.members)
        lines += line_break(end) + written.substr(member.at().from, member.at().to - member.at().from);
    insert_line_after(end, lines);
}

void Document::append_text(const std::string& lines) {
    const bool at_end =
        std::any_of(edits_.begin(), edits_.end(), [&](const Edit& edit) { return edit.at.from == text_.size(); });
    const bool open = !text_.empty() && text_.back() != '\n' && !at_end;
    const bool after_open = !text_.empty() && text_.back() != '\n' && at_end && edits_.back().text.back() != '\n';
    replace({text_.size(), text_.size()},
            (open || after_open ? line_break(0) : "") + (text_.empty() ? "" : line_break(0)) + lines);
}

void Document::append(const std::string& sections) {
    auto parsed = runtime::parse_toml(sections);
    if (!std::holds_alternative<reader::Value>(parsed)) return give_up(text_.size());
    merge(intended_, std::get<reader::Value>(std::move(parsed)));
    std::string lines;
    for (const char c : sections) lines += c == '\n' ? line_break(0) : std::string(1, c);
    append_text(lines);
}

// --- done ---

std::vector<Document::Edit> Document::edits() const {
    std::vector<Edit> sorted = edits_;
    std::stable_sort(sorted.begin(), sorted.end(), [](const Edit& a, const Edit& b) { return a.at.from < b.at.from; });
    return sorted;
}

std::variant<std::string, int> Document::finish() const {
    if (stuck_) return *stuck_;
    std::string out;
    std::size_t done = 0;
    const std::vector<Edit> sorted = edits();
    for (const Edit& edit : sorted) {
        if (edit.at.from < done) return line_of(edit.at.from);
        out += text_.substr(done, edit.at.from - done) + edit.text;
        done = edit.at.to;
    }
    out += text_.substr(done);
    const auto again = runtime::parse_toml(out);
    const reader::Value* value = std::get_if<reader::Value>(&again);
    if (value && same_meaning(*value, intended_)) return out;
    return sorted.empty() ? 1 : line_of(sorted.front().at.from);
}

} // namespace kiai::workshop
