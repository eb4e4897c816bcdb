#include "workshop/edit/binding_words.h"

#include "core/model/near.h"
#include "core/model/number_text.h"
#include "core/reader/renamed.h"
#include "workshop/edit/document.h"

#include <kiai/keys.h>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>

namespace kiai::workshop {
namespace {

/// Returns the key with that name in a section, or null.
const Key* key_in(std::string_view section, std::string_view name) {
    for (const Key& key : project_keys())
        if (key.parent == section && key.name == name) return &key;
    return nullptr;
}

/// Returns true for the keys that name an event, not a setting of one.
bool is_event(const Key& key) {
    return std::string_view(key.parent) == "trigger" && std::string_view(key.name) != "margin" &&
           std::string_view(key.name) != "lost" && std::string_view(key.name) != "repeat";
}

/// Returns true for the keys that say what to do, not how.
bool is_verb(const Key& key) {
    return std::string_view(key.parent) == "action" &&
           (key.takes == Takes::text || key.takes == Takes::target || key.takes == Takes::truth);
}

template<class Test>
std::vector<std::string> names_of(const Test& test) {
    std::vector<std::string> names;
    for (const Key& key : project_keys())
        if (test(key)) names.emplace_back(key.name);
    return names;
}

bool is_number(const std::string& text) {
    return model::read_decimal(text).has_value();
}

/// Returns a setting's value as TOML.
std::string value_text(const Key& key, const std::string& text) {
    switch (key.takes) {
    case Takes::number:
    case Takes::whole:
        return is_number(text) ? text : toml_text(text);
    case Takes::truth:
        return text.empty() ? "true" : text;
    default:
        return toml_text(text);
    }
}

/// Takes one word after another.
class Words {
  public:
    explicit Words(const std::vector<std::string>& all) : all_(all) {}

    bool done() const { return next_ >= all_.size(); }
    std::string next() { return done() ? std::string() : all_[next_++]; }
    bool ahead(std::size_t count) const { return next_ + count <= all_.size(); }
    const std::string& peek() const { return all_[next_]; }

  private:
    const std::vector<std::string>& all_;
    std::size_t next_ = 0;
};

class Reader {
  public:
    explicit Reader(const std::vector<std::string>& words) : words_(words) {}

    WordedBinding run(const BindingWords& given, bool whole) {
        trigger();
        if (read_.problem.empty() && (whole || !words_.done())) action();
        if (read_.problem.empty() && !words_.done())
            refuse(fmt::format("unexpected word \"{}\"", words_.peek()),
                   "put names with blanks in quotes; give conditions and settings as options");
        for (const auto& [name, value] : given.settings) setting(name, value);
        return read_;
    }

  private:
    void refuse(std::string problem, std::string fix) {
        if (!read_.problem.empty()) return;
        read_.problem = std::move(problem);
        read_.fix = std::move(fix);
    }

    /// Refuses a word that is neither of `known`.
    void refuse_word(const std::string& what, const std::string& word, const std::vector<std::string>& known) {
        std::string near = reader::usual_key(word);
        if (std::find(known.begin(), known.end(), near) == known.end()) near = model::nearest(word, known);
        refuse(word.empty() ? fmt::format("missing {}", what) : fmt::format("unknown {} \"{}\"", what, word),
               near.empty() ? fmt::format("use one of: {}", fmt::join(known, ", "))
                            : fmt::format("did you mean \"{}\"?", near));
    }

    std::string name(const std::string& what) {
        if (words_.done()) refuse(fmt::format("missing name after \"{}\"", what), "name it, as in kiai.toml");
        return words_.next();
    }

    void trigger() {
        read_.trigger = words_.next();
        const Key* key = key_in("trigger", read_.trigger);
        if (!key || !is_event(*key)) return refuse_word("trigger", read_.trigger, names_of(is_event));
        if (key->takes == Takes::truth) {
            read_.trigger_value = "true";
            return;
        }
        const std::size_t count = key->takes == Takes::pair ? 2 : 1;
        for (std::size_t i = 0; i < count; ++i) read_.names.push_back(name(read_.trigger));
        if (!read_.problem.empty()) return;
        read_.trigger_value = count == 2 ? fmt::format("[{}, {}]", toml_text(read_.names[0]), toml_text(read_.names[1]))
                                         : toml_text(read_.names[0]);
    }

    void action() {
        read_.verb = words_.next();
        const Key* key = key_in("action", read_.verb);
        if (!key || !is_verb(*key)) return refuse_word("action", read_.verb, names_of(is_verb));
        if (key->takes == Takes::truth) {
            read_.action_value = "true";
            return;
        }
        const std::string first = name(read_.verb);
        const Key* target = key->takes == Takes::target ? key_in("target", first) : nullptr;
        if (target && target->takes == Takes::truth)
            read_.action_value = fmt::format("{{ {} = true }}", first);
        else if (target && words_.ahead(1))
            read_.action_value = fmt::format("{{ {} = {} }}", first, toml_text(words_.next()));
        else
            read_.action_value = toml_text(first);
        if (read_.verb == "set" && !target && !words_.done() && is_number(words_.peek())) read_.to = words_.next();
    }

    void setting(const std::string& name, const std::string& value) {
        if (const Key* key = key_in("binding", name))
            read_.of_binding.emplace_back(name, value_text(*key, value));
        else if (const Key* event = key_in("trigger", name))
            read_.of_trigger.emplace_back(name, value_text(*event, value));
        else if (const Key* action = key_in("action", name))
            read_.of_action.emplace_back(name, value_text(*action, value));
        else
            refuse(fmt::format("unknown setting \"{}\"", name), "use a key of bindings, triggers or actions");
    }

    Words words_;
    WordedBinding read_;
};

std::string table(std::string text, const std::vector<std::pair<std::string, std::string>>& more) {
    for (const auto& [key, value] : more) text += fmt::format(", {} = {}", key, value);
    return fmt::format("{{ {} }}", text);
}

} // namespace

WordedBinding read_words(const BindingWords& words, bool whole) {
    return Reader(words.words).run(words, whole);
}

std::string trigger_table(const WordedBinding& binding) {
    return table(fmt::format("{} = {}", binding.trigger, binding.trigger_value), binding.of_trigger);
}

std::string action_table(const WordedBinding& binding) {
    std::string text = fmt::format("{} = {}", binding.verb, binding.action_value);
    if (!binding.to.empty()) text += ", to = " + binding.to;
    return table(std::move(text), binding.of_action);
}

} // namespace kiai::workshop
