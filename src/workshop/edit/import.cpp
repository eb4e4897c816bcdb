#include "workshop/edit/import.h"

#include "core/model/parallel.h"
#include "core/reader/entry.h"
#include "core/reader/series.h"
#include "runtime/audio/audio_reader.h"
#include "runtime/project/folder.h"
#include "workshop/disk/atomic_write.h"
#include "workshop/edit/references.h"
#include "workshop/edit/unicode.h"
#include "workshop/facts/content_hash.h"
#include "workshop/facts/facts_cache.h"
#include "workshop/facts/measure.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <set>

namespace kiai::workshop {
namespace {

namespace fs = std::filesystem;
using FileOutcome = AddedFile::Outcome;

/// A name without the number at its end, and whether a letter is directly before the number.
struct Numbered {
    std::string base;
    std::string number;
    bool set_off = false;
};

Numbered split_number(const std::string& name) {
    std::size_t at = name.size();
    while (at > 0 && name[at - 1] >= '0' && name[at - 1] <= '9') --at;
    const bool set_off = at > 0 && name[at - 1] == '-';
    return {name.substr(0, set_off ? at - 1 : at), name.substr(at), set_off};
}

std::string without_zeros(std::string number) {
    while (number.size() > 1 && number[0] == '0') number.erase(0, 1);
    return number;
}

/// Returns true if kiai.toml can contain the path.
bool can_be_written(const fs::path& path) {
    const std::string text = path.generic_string();
    return is_utf8(text) &&
           std::none_of(text.begin(), text.end(), [](unsigned char c) { return c < 0x20 || c == 0x7f; });
}

struct Candidate {
    Wanted wanted;
    reader::Decoded decoded;
    AddedFile told;
    fs::path copy_to; ///< below the project's folder; empty: the file is used in place
    bool outside = false;
};

class Import {
  public:
    Import(const fs::path& folder, const AddOptions& options, Document& toml)
        : folder_(folder), options_(options), toml_(toml) {
        const reader::Value* clips = toml.root().find("clip");
        for (std::size_t i = 0; clips && i < clips->members.size(); ++i) {
            const reader::Value& value = clips->members[i].value;
            const reader::Value* file = value.kind == reader::Value::Kind::table ? value.find("file") : &value;
            names_[clips->members[i].key] = file ? file->text : "";
        }
        std::error_code error;
        for (const auto& [name, file] : names_) {
            by_path_.emplace(fs::weakly_canonical(folder_ / file, error), name);
            by_size_.emplace(fs::file_size(folder_ / file, error), name);
        }
    }

    std::vector<fs::path> run(std::vector<Wanted> files, AddResult& added) {
        std::vector<Candidate> all;
        for (Wanted& wanted : files) {
            Candidate& candidate = all.emplace_back();
            candidate.wanted = std::move(wanted);
            candidate.told.file = candidate.wanted.file;
        }
        read(all);
        for (Candidate& candidate : all) {
            if (candidate.wanted.why.empty() && candidate.decoded.ok()) place(candidate);
        }
        write_entries(all);
        write_series(all, added);
        std::string remark;
        for (Candidate& candidate : all) {
            if (candidate.outside && candidate.told.outcome == FileOutcome::added)
                remark = "files added in place are missing on other machines; without --in-place they are copied";
            added.files.push_back(std::move(candidate.told));
        }
        if (!remark.empty()) added.remarks.push_back(remark);
        if (!options_.dry_run) remember(all, added);
        return std::move(copied_);
    }

  private:
    static void refuse(Candidate& candidate, std::string why, std::string fix) {
        candidate.told.outcome = FileOutcome::refused;
        candidate.told.why = std::move(why);
        candidate.told.fix = std::move(fix);
    }

    void read(std::vector<Candidate>& all) const {
        model::in_parallel(
            all.size(),
            [&](std::size_t i) {
                Candidate& candidate = all[i];
                if (!candidate.wanted.why.empty()) return;
                candidate.decoded = decode_facts(candidate.wanted.file);
                if (!candidate.decoded.ok()) return;
                candidate.decoded.facts.hash = content_hash(candidate.wanted.file).value_or(0);
            },
            options_.progress);
        for (Candidate& candidate : all) {
            if (!candidate.wanted.why.empty())
                refuse(candidate, candidate.wanted.why, candidate.wanted.fix);
            else if (!candidate.decoded.ok())
                refuse(candidate, candidate.decoded.message, candidate.decoded.fix);
            else
                candidate.told.seconds = candidate.decoded.facts.seconds();
        }
    }

    /// Returns the clip that already has this content.
    std::string same_as(const Candidate& candidate) {
        const Facts& facts = candidate.decoded.facts;
        if (const auto found = by_hash_.find(facts.hash); found != by_hash_.end()) return found->second;
        const auto [from, to] = by_size_.equal_range(facts.bytes);
        for (auto at = from; at != to; ++at)
            if (content_hash(folder_ / names_.at(at->second)) == facts.hash) return at->second;
        return {};
    }

    std::string name_for(const Candidate& candidate) const {
        if (!options_.name.empty()) return options_.name;
        std::string name = clip_name(candidate.wanted.file);
        std::error_code error;
        const std::string above =
            clip_name(fs::weakly_canonical(candidate.wanted.file, error).parent_path().filename() += ".x");
        if (const Numbered split = split_number(name); !split.number.empty()) {
            if (split.base.empty())
                name = above + "-" + without_zeros(split.number); // 1.wav in oak: oak-1
            else if (!split.set_off && split.number.size() < 7)
                name = split.base + "-" + without_zeros(split.number); // oak1: oak-1, alone and in company
        }
        return names_.contains(name) && !above.empty() ? above + "-" + name : name;
    }

    void place(Candidate& candidate) {
        std::error_code error;
        const fs::path real = fs::weakly_canonical(candidate.wanted.file, error);
        AddedFile& told = candidate.told;
        const auto known = [&](const std::string& name, const std::string& why) {
            told.outcome = FileOutcome::known;
            told.name = name;
            told.path = names_.at(name);
            told.why = why;
        };
        if (const auto found = by_path_.find(real); found != by_path_.end())
            return known(found->second, fmt::format("is already clip \"{}\"", found->second));
        if (const std::string same = same_as(candidate); !same.empty())
            return known(same, fmt::format("has the same content as clip \"{}\"", same));
        const std::string name = name_for(candidate);
        if (name.empty())
            return refuse(candidate, "the name has no letter a-z and no digit", "add the file alone, with --name");
        if (!reader::good_name(name))
            return refuse(candidate, fmt::format("\"{}\" cannot name a clip", name),
                          "use a-z, 0-9, - and _, at most 64 of them: add the file alone, with --name");
        if (names_.contains(name))
            return refuse(candidate, fmt::format("the name \"{}\" is taken by \"{}\"", name, names_.at(name)),
                          "add the file alone, with --name");
        if (!find_path(candidate, real, name)) return;
        told.outcome = FileOutcome::added;
        told.name = name;
        told.why = reader::cut_short(candidate.decoded.facts);
        if (const int channels = candidate.decoded.facts.channels; told.why.empty() && channels > 2)
            told.why = fmt::format("has {} channels, which are mixed to stereo", channels);
        if (const reader::Value* sounds = toml_.root().find("sound"); sounds && sounds->find(name))
            told.why = fmt::format("is hidden by the sound \"{}\" of the same name", name);
        if (!options_.dry_run && !copy(candidate)) return;
        names_[name] = told.path;
        by_path_.emplace(real, name);
        by_hash_.emplace(candidate.decoded.facts.hash, name);
        taken_paths_.insert(told.path);
    }

    /// Chooses the path of the clip's file; returns false after a refusal.
    bool find_path(Candidate& candidate, const fs::path& real, const std::string& name) {
        std::error_code error;
        const fs::path root = fs::weakly_canonical(folder_, error), here = real.lexically_relative(root);
        const bool inside = !here.empty() && *here.begin() != "..";
        if (inside || options_.in_place) {
            candidate.outside = !inside;
            const fs::path path = here.empty() ? real : here;
            if (!can_be_written(path)) {
                refuse(candidate, "the path cannot be written in kiai.toml",
                       "rename the file without control characters, in UTF-8");
                return false;
            }
            candidate.told.path = path.generic_string();
            return true;
        }
        if (!runtime::stays_inside(folder_, options_.into)) {
            refuse(candidate, fmt::format("\"{}\" is outside of the project's folder", options_.into.generic_string()),
                   "name a folder of the project with --into");
            return false;
        }
        const fs::path& below = candidate.wanted.below;
        const fs::path into = (options_.into / "").parent_path();                        // without a slash at its end
        const bool joins = below.has_parent_path() && *below.begin() == into.filename(); // clips goes into clips
        const fs::path alternatives[] = {(joins ? into.parent_path() : into) / below,
                                         into / (name + real.extension().string())};
        for (const fs::path& to : alternatives) {
            const std::string path = to.lexically_normal().generic_string();
            if (!can_be_written(to) || taken_paths_.contains(path)) continue;
            const bool there = fs::exists(fs::symlink_status(folder_ / to, error));
            if (there && content_hash(folder_ / to) != candidate.decoded.facts.hash) continue;
            if (!there) candidate.copy_to = to;
            candidate.told.path = path;
            return true;
        }
        refuse(candidate, fmt::format("another file exists at \"{}\"", alternatives[1].generic_string()),
               "copy into another folder, with --into");
        return false;
    }

    /// Returns false after a refusal.
    bool copy(Candidate& candidate) {
        if (candidate.copy_to.empty()) return true;
        std::error_code error;
        const fs::path to = folder_ / candidate.copy_to;
        fs::create_directories(to.parent_path(), error);
        clear_leftovers(to);
        const std::string problem = copy_new(candidate.wanted.file, to);
        if (problem.empty()) {
            copied_.push_back(to);
            return true;
        }
        refuse(candidate, fmt::format("could not be copied ({})", problem), "check the disk and the permissions");
        return false;
    }

    std::string entry_of(const Candidate& candidate) const {
        std::string extra;
        const std::pair<const char*, const std::string*> texts[] = {{"author", &options_.author},
                                                                    {"licence", &options_.licence},
                                                                    {"source", &options_.source},
                                                                    {"note", &options_.note}};
        if (candidate.outside) extra += ", outside = true";
        for (const auto& [key, text] : texts)
            if (!text->empty()) extra += fmt::format(", {} = {}", key, toml_text(*text));
        const std::string file = toml_text(candidate.told.path);
        return extra.empty() ? file : fmt::format("{{ file = {}{} }}", file, extra);
    }

    void write_entries(const std::vector<Candidate>& all) {
        std::vector<std::pair<std::string, std::string>> entries;
        for (const Candidate& candidate : all)
            if (candidate.told.outcome == FileOutcome::added)
                entries.emplace_back(candidate.told.name, entry_of(candidate));
        if (!entries.empty()) toml_.add({std::string("clip")}, entries);
    }

    void write_series(const std::vector<Candidate>& all, AddResult& added) {
        std::map<std::string, std::set<int>> series;
        for (const Candidate& candidate : all)
            if (const Numbered split = split_number(candidate.told.name);
                candidate.told.outcome == FileOutcome::added && split.set_off && split.number.size() < 7)
                series[split.base];
        for (auto& [base, numbers] : series)
            for (const auto& [name, file] : names_)
                if (const int number = reader::number_in_series(name, base); number >= 0) numbers.insert(number);
        for (const auto& [base, numbers] : series) {
            if (numbers.size() < 2 || base.empty()) continue;
            AddedSeries told{base, static_cast<int>(numbers.size()), {}, false};
            for (int n = std::min(1, *numbers.begin()); n < *numbers.rbegin() && told.missing.size() < 1000; ++n)
                if (!numbers.contains(n)) told.missing.push_back(n);
            const reader::Value* sounds = toml_.root().find("sound");
            const bool taken = (sounds && sounds->find(base)) || names_.contains(base) ||
                               !sounds_by_series(toml_.root(), fmt::format("{}-{}", base, *numbers.begin())).empty();
            if (!taken && options_.make_sounds) {
                toml_.append(fmt::format("[sound.{}]\ntakes = {{ series = \"{}\" }}\n", base, base));
                told.made_sound = true;
            }
            added.series.push_back(std::move(told));
        }
    }

    /// Stores measurements, so that they are not repeated.
    void remember(const std::vector<Candidate>& all, const AddResult& added) const {
        FactsCache cache(folder_, false);
        for (std::size_t i = 0; i < all.size(); ++i)
            if (added.files[i].outcome == FileOutcome::added) cache.remember(added.files[i].path, all[i].decoded.facts);
        cache.save();
    }

    const fs::path& folder_;
    const AddOptions& options_;
    Document& toml_;
    std::map<std::string, std::string> names_;           ///< clips, those that were just added included: their files
    std::map<fs::path, std::string> by_path_;            ///< by their real path
    std::multimap<std::uintmax_t, std::string> by_size_; ///< the ones that were registered before
    std::map<std::uint64_t, std::string> by_hash_;       ///< the ones that were just added
    std::set<std::string> taken_paths_;
    std::vector<fs::path> copied_;
};

} // namespace

std::vector<fs::path> import_files(const fs::path& folder, std::vector<Wanted> wanted, const AddOptions& options,
                                   Document& toml, AddResult& added) {
    return Import(folder, options, toml).run(std::move(wanted), added);
}

} // namespace kiai::workshop
