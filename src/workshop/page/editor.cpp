#include "workshop/page/editor.h"

#include "workshop/disk/atomic_write.h"
#include "workshop/page/answers.h"

#include <kiai/workshop/bind.h>
#include <kiai/workshop/edit.h>

#include <fmt/format.h>
#include <xxhash.h>

#include <fstream>
#include <sstream>

namespace kiai::workshop {
namespace {

std::string text_of(const std::filesystem::path& folder) {
    std::ifstream file(folder / "kiai.toml", std::ios::binary);
    return {std::istreambuf_iterator<char>(file), {}};
}

std::string id_of(const std::string& text) {
    return fmt::format("{:016x}", XXH3_64bits(text.data(), text.size()));
}

/// Splits at spaces; a part in quotes is one word.
std::vector<std::string> words_of(const std::string& text) {
    std::vector<std::string> words;
    std::string word;
    bool quoted = false, any = false;
    for (const char c : text) {
        if (c == '"') {
            quoted = !quoted;
            any = true;
        } else if (c == ' ' && !quoted) {
            if (any) words.push_back(std::exchange(word, {}));
            any = false;
        } else {
            word += c;
            any = true;
        }
    }
    if (any) words.push_back(word);
    return words;
}

std::vector<std::string> lines_of(const std::string& text) {
    std::vector<std::string> lines;
    std::istringstream stream(text);
    for (std::string line; std::getline(stream, line);) lines.push_back(line);
    return lines;
}

} // namespace

std::string Editor::text_id() const {
    return id_of(text_of(folder_));
}

PageAnswer Editor::answer(const PageRequest& request) {
    const std::lock_guard guard(mutex_);
    if (request.path == "undo") return undo();
    if (request.path == "edit") // a key per line, then the value
        return change(request, [&] {
            std::vector<std::string> place = lines_of(request.body);
            return set_value(folder_, place, value_of(request, "value"));
        });
    if (request.path == "bind") return change(request, [&] { return bind(folder_, {words_of(request.body), {}}); });
    if (request.path == "unbind") return change(request, [&] { return unbind(folder_, words_of(request.body)); });
    if (request.path == "remove")
        return change(request, [&] {
            return remove_entry(folder_, value_of(request, "name"), {EntryKind::zone, false, false});
        });
    return {};
}

PageAnswer Editor::change(const PageRequest& request, const std::function<EditResult()>& edit) {
    const std::string before = text_of(folder_);
    if (value_of(request, "text") != id_of(before))
        return refused(409, "kiai.toml has changed on disk since the page read it",
                       "look at the page again, then repeat the change");
    const EditResult edited = edit();
    if (!edited.ok()) {
        const Finding& first = edited.findings.front();
        return refused(400, first.message, first.fix);
    }
    const std::string after = text_of(folder_);
    if (after != before) {
        if (steps_.size() == most_steps) steps_.erase(steps_.begin());
        steps_.push_back({before, after});
    }
    return as_json(describe_edit(edited, id_of(after), steps_.size()));
}

PageAnswer Editor::undo() {
    if (steps_.empty()) return refused(409, "there is nothing to undo", "change something first");
    const std::filesystem::path file = folder_ / "kiai.toml";
    const FileLock lock(file);
    const Step step = steps_.back();
    if (text_of(folder_) != step.after)
        return refused(409, "kiai.toml has changed on disk since the last change on the page",
                       "undo it in your editor");
    const std::string error = write_atomically(file, step.before);
    if (!error.empty())
        return refused(500, fmt::format("cannot write kiai.toml ({})", error), "check the disk and the permissions");
    steps_.pop_back();
    return as_json(describe_edit({}, id_of(step.before), steps_.size()));
}

} // namespace kiai::workshop
