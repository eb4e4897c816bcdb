// Finds wrong names in calls of Kiai.
#include <kiai/workshop/code.h>

#include "core/model/key_codes.h"
#include "core/model/near.h"
#include "core/model/project.h"
#include "core/reader/entry.h"
#include "runtime/project/parse_toml.h"
#include "runtime/project/read_folder.h"
#include "workshop/check/source_tokens.h"
#include "workshop/edit/editing.h"
#include "workshop/edit/renamed_names.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <fstream>
#include <map>
#include <set>

namespace kiai::inline v0 {
namespace {

namespace fs = std::filesystem;
using namespace workshop;

enum class Named { sound, dial, scope, zone, bus, motion, sequence, notice, body, key };

constexpr std::pair<Named, const char*> kinds[] = {
    {Named::sound, "sound"},       {Named::dial, "dial"},     {Named::scope, "scope"},
    {Named::zone, "zone"},         {Named::bus, "bus"},       {Named::motion, "motion"},
    {Named::sequence, "sequence"}, {Named::notice, "notice"}, {Named::body, "body"}};

const char* kind_text(Named kind) {
    for (const auto& [known, text] : kinds)
        if (known == kind) return kind == Named::sound ? "sound or clip" : text;
    return "key code";
}

/// An argument of a call that takes a name.
struct Argument {
    const char* call;
    Named kind;
    int position; ///< from 0, without the engine that the C functions take first
};

constexpr Argument arguments[] = {
    {"play", Named::sound, 0},        {"stop", Named::sound, 0},        {"toggle", Named::sound, 0},
    {"pause", Named::sound, 0},       {"resume", Named::sound, 0},      {"restart", Named::sound, 0},
    {"crossfade", Named::sound, 0},   {"crossfade", Named::sound, 1},   {"run", Named::sequence, 0},
    {"set_dial", Named::dial, 0},     {"dial", Named::dial, 0},         {"enter_scope", Named::scope, 0},
    {"leave_scope", Named::scope, 0}, {"pause_scope", Named::scope, 0}, {"resume_scope", Named::scope, 0},
    {"scope", Named::scope, 0},       {"move_zone", Named::zone, 0},    {"remove_zone", Named::zone, 0},
    {"zone", Named::zone, 0},         {"set_bus_gain", Named::bus, 0},  {"mute_bus", Named::bus, 0},
    {"bus_gain", Named::bus, 0},      {"bus_muted", Named::bus, 0},     {"bus_level", Named::bus, 0},
    {"set_insert", Named::bus, 0},    {"playhead", Named::motion, 0},   {"playhead_gone", Named::motion, 0},
    {"notice", Named::notice, 0},     {"contact", Named::body, 0},      {"contact", Named::body, 1},
    {"body", Named::body, 1},         {"body_box", Named::body, 1},     {"key_down", Named::key, 0},
    {"key_up", Named::key, 0},        {"key_tap", Named::key, 0}};

/// The functions of Target, which name a kind.
constexpr std::pair<const char*, Named> targets[] = {
    {"sound", Named::sound}, {"bus", Named::bus}, {"scope", Named::scope}, {"sequence", Named::sequence}};

/// The names of a project, by kind.
class Names {
  public:
    Names(const model::Project& project, const fs::path& folder) : renamed_(read_renamed(folder)) {
        for (const model::Sound& sound : project.sounds) of_[Named::sound].insert(sound.name);
        for (const model::Clip& clip : project.clips) of_[Named::sound].insert(clip.name);
        for (const model::Dial& dial : project.dials) of_[Named::dial].insert(dial.name);
        for (const model::Scope& scope : project.scopes) of_[Named::scope].insert(scope.name);
        for (const model::Zone& zone : project.zones) of_[Named::zone].insert(zone.name);
        for (const model::Bus& bus : project.buses) of_[Named::bus].insert(bus.name);
        for (const model::Motion& motion : project.motions) of_[Named::motion].insert(motion.name);
        for (const model::Sequence& sequence : project.sequences) of_[Named::sequence].insert(sequence.name);
        for (const model::Binding& binding : project.bindings) {
            if (binding.trigger == ReportKind::notice) of_[Named::notice].insert(binding.name);
            if (binding.trigger != ReportKind::contact && binding.trigger != ReportKind::contact_end) continue;
            of_[Named::body].insert(binding.name);
            of_[Named::body].insert(binding.other);
        }
    }

    bool has(Named kind, const std::string& name) const {
        return kind == Named::key ? model::is_key_code(name) : of(kind).contains(name);
    }

    /// Returns true if a constant of the names header is that of a name: `oak_1` of `oak-1`.
    bool has_constant(Named kind, const std::string& constant) const {
        std::string plain = constant;
        if (plain.ends_with('_')) plain.pop_back(); // a keyword
        return std::any_of(of(kind).begin(), of(kind).end(), [&](std::string name) {
            std::replace(name.begin(), name.end(), '-', '_');
            return name == constant || name == plain || "_" + name == constant || "n" + name == constant;
        });
    }

    std::string nearest(Named kind, const std::string& name) const {
        if (kind == Named::key) return model::nearest_key_code(name);
        return model::nearest(name, {of(kind).begin(), of(kind).end()});
    }

    /// Returns the kind that has this name, if another one was expected.
    const char* other_kind(Named wanted, const std::string& name) const {
        for (const auto& [kind, text] : kinds)
            if (kind != wanted && of(kind).contains(name)) return text;
        return nullptr;
    }

    /// Returns the present name of one that was renamed, or an empty text.
    std::string renamed(Named kind, const std::string& name) const {
        for (const char* word : {kind == Named::sound ? "clip" : "", kind_word(kind)})
            if (const auto found = renamed_.find({word, name}); found != renamed_.end()) return found->second;
        return {};
    }

  private:
    static const char* kind_word(Named kind) {
        for (const auto& [known, text] : kinds)
            if (known == kind) return text;
        return "";
    }

    const std::set<std::string>& of(Named kind) const {
        static const std::set<std::string> none;
        const auto found = of_.find(kind);
        return found == of_.end() ? none : found->second;
    }

    std::map<Named, std::set<std::string>> of_;
    RenamedNames renamed_;
};

struct SourceFile {
    std::string name, text;
    Language language = Language::c;
    std::vector<Token> tokens;
};

/// Finds which words name an engine or a session, in all files together: a header declares what a source uses.
class Engines {
  public:
    void read(const SourceFile& file) {
        const std::vector<Token>& t = file.tokens;
        std::set<std::string_view> modules{"kiai"};
        bool bare = false; // `using namespace kiai` makes `Session` Kiai's
        for (std::size_t i = 0; i < t.size(); ++i) {
            if (file.language == Language::c) {
                if (word(t, i, "using") && (word(t, i + 1, "kiai") || word(t, i + 2, "kiai"))) bare = true;
                if (word(t, i, "namespace") && word(t, i + 1, "kiai")) bare = true;
                std::size_t type = i;
                if (word(t, i, "kiai") && sign(t, i + 1, "::")) type = i + 2;
                if (word(t, type, "v0") && sign(t, type + 1, "::")) type += 2;
                if (type == i &&
                    !(bare && (i == 0 || !(t[i - 1].is("::") || t[i - 1].is(".") || t[i - 1].is("class")))))
                    continue;
                if (word(t, type, "Engine") || word(t, type, "Session")) declared(t, type + 1);
                if (word(t, type, "open") && type > i && type + 1 < t.size() && t[type + 1].is('(')) assigned(t, i);
            } else {
                // `local kiai = require "…"`, `import kiai as k`
                if (word(t, i, "require") && i >= 2 && t[i - 1].is('=') && next_text(t, i).find("kiai") == 0)
                    modules.insert(t[i - 2].text);
                if (word(t, i, "import") && word(t, i + 1, "kiai") && word(t, i + 2, "as") && i + 3 < t.size())
                    modules.insert(t[i + 3].text);
                const bool makes =
                    i + 3 < t.size() && modules.contains(t[i].text) && t[i + 1].is('.') && t[i + 3].is('(');
                if (makes && (t[i + 2].is("open") || t[i + 2].is("open_silent") || t[i + 2].is("Engine"))) {
                    assigned(t, i);
                    // `with kiai.open("…") as bench:`
                    for (std::size_t j = i + 3; j + 1 < t.size() && t[j].line == t[i].line; ++j)
                        if (t[j].is("as")) names_.insert(std::string(t[j + 1].text));
                }
            }
        }
    }

    bool has(std::string_view name) const { return names_.contains(name); }

  private:
    static bool word(const std::vector<Token>& t, std::size_t i, std::string_view text) {
        return i < t.size() && t[i].kind == Token::Kind::word && t[i].text == text;
    }
    static bool sign(const std::vector<Token>& t, std::size_t i, std::string_view text) {
        return i < t.size() && t[i].kind == Token::Kind::sign && t[i].text == text;
    }
    static std::string_view next_text(const std::vector<Token>& t, std::size_t i) {
        for (std::size_t j = i + 1; j < t.size() && j < i + 3; ++j)
            if (t[j].kind == Token::Kind::text) return t[j].text;
        return {};
    }

    /// After the type: `& bench`, `> bench_`, `bench(…)`; a function that returns one counts too.
    void declared(const std::vector<Token>& t, std::size_t i) {
        while (i < t.size() && (t[i].is('>') || t[i].is('&') || t[i].is('*') || t[i].is("const"))) ++i;
        if (i < t.size() && t[i].kind == Token::Kind::word)
            names_.insert(std::string(t[i].text));
        else if (i < t.size() && t[i].is('(')) // make_unique<kiai::Session>(…)
            assigned(t, i);
    }

    /// Goes back to the `=`, `(` or `{` before the call that makes one, and takes the word before it.
    void assigned(const std::vector<Token>& t, std::size_t i) {
        for (std::size_t j = i; j-- > 1 && !t[j].is(';') && i - j < 24;) {
            if (!t[j].is('=') && !t[j].is('(') && !t[j].is('{')) continue;
            std::size_t name = j - 1;
            if (t[name].is('>')) name = name >= 3 && t[name - 2].is('<') ? name - 3 : name; // Lua's `bench <close> =`
            if (t[name].kind == Token::Kind::word) names_.insert(std::string(t[name].text));
            return;
        }
    }

    std::set<std::string, std::less<>> names_;
};

class Checker {
  public:
    Checker(const Names& names, const Engines& engines) : names_(names), engines_(engines) {}

    void read(const SourceFile& file) {
        file_ = &file;
        findings_ = std::make_unique<reader::Findings>(file.name);
        const std::vector<Token>& t = file.tokens;
        for (std::size_t i = 0; i < t.size(); ++i) {
            if (t[i].kind != Token::Kind::word) continue;
            if (i + 1 < t.size() && t[i + 1].is('(')) call(i);
            if (file.language == Language::c) constant(i);
        }
        for (Finding& finding : findings_->take()) all_.push_back(std::move(finding));
    }

    std::vector<Finding> take() { return std::move(all_); }
    std::size_t names() const noexcept { return count_; }

  private:
    /// Returns true if the method is called on an engine: `bench`, `game.bench`, `sound()`.
    bool on_engine(std::size_t method) const {
        const std::vector<Token>& t = file_->tokens;
        if (method < 2 || !(t[method - 1].is('.') || t[method - 1].is("->") || t[method - 1].is(':'))) return false;
        std::size_t object = method - 2;
        if (t[object].is(')') && object >= 2 && t[object - 1].is('(')) object -= 2;
        return t[object].kind == Token::Kind::word && engines_.has(t[object].text);
    }

    void call(std::size_t at) {
        const std::vector<Token>& t = file_->tokens;
        std::string_view name = t[at].text;
        int first = 0;
        if (name.starts_with("kiai_") && name.size() > 5) {
            name.remove_prefix(5);
            first = name == "stop" || name == "pause" || name == "resume" || name == "restart" ? 2 : 1;
        } else if (at >= 2 && t[at - 1].is("::") && t[at - 2].is("Target")) {
            for (const auto& target : targets)
                if (name == target.first)
                    each_text(at, [&](int position, const Token& text) {
                        if (position == 0) check(target.second, text, std::string(name));
                    });
            return;
        } else if (!on_engine(at)) {
            return;
        }
        each_text(at, [&](int position, const Token& text) {
            for (const Argument& argument : arguments)
                if (name == argument.call && position - first == argument.position)
                    check(argument.kind, text, std::string(t[at].text));
        });
    }

    /// Calls `use` with each argument that is one text.
    template<class Use>
    void each_text(std::size_t at, const Use& use) const {
        const std::vector<Token>& t = file_->tokens;
        int depth = 0, position = 0;
        for (std::size_t i = at + 1; i < t.size(); ++i) {
            if (t[i].is('(') || t[i].is('{') || t[i].is('[')) ++depth;
            if (t[i].is(')') || t[i].is('}') || t[i].is(']')) --depth;
            if (depth == 0) return;
            if (depth != 1) continue;
            if (t[i].is(',')) ++position;
            if (t[i].kind != Token::Kind::text || !(t[i - 1].is('(') || t[i - 1].is(','))) continue;
            const std::size_t after = i + 1 < t.size() && (t[i + 1].is("s") || t[i + 1].is("sv")) ? i + 2 : i + 1;
            if (after < t.size() && (t[after].is(',') || t[after].is(')'))) use(position, t[i]);
        }
    }

    /// `names::sound::oak`, whatever the namespace of the header is called.
    void constant(std::size_t at) {
        const std::vector<Token>& t = file_->tokens;
        if (at + 4 >= t.size() || !t[at + 1].is("::") || !t[at + 3].is("::") || t[at].is("Target")) return;
        if (!t[at].is("names")) return;
        for (const auto& [kind, text] : kinds) {
            if (!t[at + 2].is(text)) continue;
            ++count_;
            const std::string name(t[at + 4].text);
            if (names_.has_constant(kind, name)) continue;
            findings_->add(FindingCode::unknown_name, Severity::error, {t[at + 4].line, t[at + 4].column},
                           fmt::format("unknown {} `names::{}::{}`", kind_text(kind), text, name),
                           "make the header again: kiai names");
        }
    }

    void check(Named kind, const Token& text, const std::string& called) {
        ++count_;
        const std::string name(text.text);
        if (names_.has(kind, name)) return;
        const std::string what = fmt::format("{}(\"{}\")", called, name);
        const model::Source at{text.line, text.column};
        if (kind == Named::key) {
            const std::string near = names_.nearest(kind, name);
            findings_->add(FindingCode::unknown_key_code, Severity::error, at,
                           fmt::format("{}: not a W3C key code", what),
                           near.empty() ? "pass a code such as KeyA, Space or ArrowLeft"
                                        : fmt::format("did you mean \"{}\"?", near));
            return;
        }
        const bool told = kind == Named::notice || kind == Named::body; // an app may report more than is bound
        const std::string now = names_.renamed(kind, name), near = names_.nearest(kind, name);
        const char* other = names_.other_kind(kind, name);
        const FindingCode code = told ? FindingCode::nothing_bound : FindingCode::unknown_name;
        if (!now.empty() && names_.has(kind, now))
            findings_->add(code, Severity::error, at, fmt::format("{}: \"{}\" was renamed", what, name),
                           fmt::format("write \"{}\"", now));
        else
            findings_->add(
                code, told ? Severity::note : Severity::error, at,
                other  ? fmt::format("{}: \"{}\" is a {}, but a {} is needed", what, name, other, kind_text(kind))
                : told ? fmt::format("{}: no binding has this {}", what, kind_text(kind))
                       : fmt::format("{}: unknown {}", what, kind_text(kind)),
                near.empty() ? "`kiai list` prints all names" : fmt::format("did you mean \"{}\"?", near));
    }

    const Names& names_;
    const Engines& engines_;
    const SourceFile* file_ = nullptr;
    std::unique_ptr<reader::Findings> findings_;
    std::vector<Finding> all_;
    std::size_t count_ = 0;
};

std::optional<Language> language_of(const fs::path& file) {
    static const std::map<std::string, Language> languages{
        {".c", Language::c},   {".cc", Language::c},  {".cpp", Language::c},   {".cxx", Language::c},
        {".h", Language::c},   {".hh", Language::c},  {".hpp", Language::c},   {".hxx", Language::c},
        {".inl", Language::c}, {".ipp", Language::c}, {".lua", Language::lua}, {".py", Language::python}};
    const auto found = languages.find(file.extension().string());
    return found == languages.end() ? std::nullopt : std::optional(found->second);
}

/// Returns the source files that the paths mean, each once, in order.
std::vector<fs::path> files_in(const std::vector<fs::path>& sources, std::vector<Finding>& findings) {
    std::set<fs::path> files;
    for (const fs::path& source : sources) {
        std::error_code error;
        if (fs::is_regular_file(source, error)) {
            files.insert(source);
            continue;
        }
        if (!fs::is_directory(source, error)) {
            reader::Findings missing(source.string());
            missing.add(FindingCode::file_missing, Severity::error, {}, "missing source", "name a file or a folder");
            findings.push_back(missing.take().front());
            continue;
        }
        for (auto entry =
                 fs::recursive_directory_iterator(source, fs::directory_options::skip_permission_denied, error);
             entry != fs::recursive_directory_iterator(); entry.increment(error)) {
            if (error) break;
            const bool hidden = entry->path().filename().string().starts_with('.');
            if (hidden && entry->is_directory(error)) entry.disable_recursion_pending();
            if (!hidden && entry->is_regular_file(error) && language_of(entry->path())) files.insert(entry->path());
        }
    }
    return {files.begin(), files.end()};
}

} // namespace

CodeResult check_code(const fs::path& folder, const std::vector<fs::path>& sources) {
    CodeResult result;
    const runtime::ProjectText read = runtime::read_text(folder);
    const auto parsed = runtime::parse_toml(read.text);
    const auto* root = std::get_if<reader::Value>(&parsed);
    const Project project =
        read_entries(folder, root ? *root : reader::Value{}).project; // `check_project` reports errors
    std::vector<SourceFile> files;
    for (const fs::path& path : files_in(sources, result.findings)) {
        constexpr std::size_t most = 16u << 20;
        std::ifstream stream(path, std::ios::binary);
        SourceFile file{path.generic_string(),
                        std::string(std::istreambuf_iterator<char>(stream), {}),
                        language_of(path).value_or(Language::c),
                        {}};
        if (file.text.size() > most) continue; // data, not code
        result.lines += static_cast<std::size_t>(std::count(file.text.begin(), file.text.end(), '\n'));
        files.push_back(std::move(file));
    }
    Engines engines;
    for (SourceFile& file : files) {
        file.tokens = tokens_of(file.text, file.language);
        engines.read(file);
    }
    const Names names(project.data(), folder);
    Checker checker(names, engines);
    for (const SourceFile& file : files) checker.read(file);
    result.files = files.size();
    result.names = checker.names();
    for (Finding& finding : checker.take()) result.findings.push_back(std::move(finding));
    return result;
}

} // namespace kiai::inline v0
