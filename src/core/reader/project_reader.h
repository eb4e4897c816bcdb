// Reads the sections of a project into the model. Each function adds valid entries and reports the others.
#pragma once

#include "core/model/project.h"
#include "core/reader/clip_files.h"
#include "core/reader/entry.h"

#include <kiai/clip_source.h>
#include <kiai/project.h>

#include <map>
#include <set>
#include <string>
#include <vector>

namespace kiai::reader {

struct ReadOptions {
    bool outside = true;                                     ///< clips may name files outside of the project
    bool placeholder = false;                                ///< what is pending is heard as a short tick
    const std::map<std::string, Samples>* samples = nullptr; ///< of clips that the app gives; null: none
};

/// What is known about a project while it is read.
struct Draft {
    /// `file`: the name of the file in findings. The arguments must outlive the draft.
    Draft(std::string file, ClipFiles& files, const ReadOptions& with)
        : clip_files(files), options(with), findings(file) {
        project.file = std::move(file);
    }

    ClipFiles& clip_files;
    const ReadOptions& options;
    model::Project project;
    Findings findings;
    std::map<std::string, int> clips;  ///< by name; -1: registered, but left out for an error that was said
    std::map<std::string, int> sounds; ///< the same way
    std::map<std::string, int> zones;  ///< the same way
    std::map<std::string, int> buses;  ///< the same way
    std::map<std::string, int> dials;  ///< the same way
    std::map<std::string, int> scopes; ///< the same way
    std::map<std::string, int> motions;
    std::map<std::string, int> sequences;
    std::set<std::string> left_out; ///< clips that were not asked for
    std::set<std::string> pending;  ///< clips that are declared, without a file
    std::string fingerprint;        ///< if it is known; otherwise made from the entries and clips
    int actions = 0;                ///< that have been read
};

void read_clips(Draft& draft, const Value& section);
/// Reads the keys for the author and licence of a clip or a folder.
model::Credit read_credit(Entry& entry);
void read_credits(Draft& draft, const Value& section);
void read_accepted(Draft& draft, const Value& list);
void read_buses(Draft& draft, const Value& section);
void read_dials(Draft& draft, const Value& section);
/// Reads `limit` of a sound or a bus.
void read_limit(Entry& entry, model::Limit& limit);
/// Where `follow` and the filters may be written.
enum class FollowsOf { sound, layer, bus, lfo };
std::vector<model::Follow> read_follows(Draft& draft, Entry& entry, FollowsOf of);
void read_cutoffs(Entry& entry, dsp::Cutoffs& cutoffs);
std::vector<model::Lfo> read_lfos(Draft& draft, Entry& entry);
void read_sounds(Draft& draft, const Value& section);
void read_zones(Draft& draft, const Value& section);
void read_scopes(Draft& draft, const Value& section);
void read_motions(Draft& draft, const Value& section);
/// Reads `scope` of a zone, a binding or a sequence; returns -1 if there is none.
int read_scope_of(Draft& draft, Entry& entry);
void read_sequences(Draft& draft, const Value& section);
/// Reads `name < number`, joined by `and`. `values`: names that are no dial may be values of the trigger.
model::Condition read_condition(Draft& draft, Entry& entry, const char* key, bool values);
void read_trigger(Draft& draft, Entry& entry, model::Binding& binding);
/// Reads the action in a table with these keys; returns nothing after an error. `ends`: the trigger ends, so that
/// `hold` is possible.
std::optional<model::Action> read_action(Draft& draft, Entry& action, model::Source source, bool ends);
void read_bindings(Draft& draft, const Value& section);
/// Reads the bindings inside zones. Their numbers follow those of the [[binding]]s.
void read_zone_bindings(Draft& draft, const Value& zones);

/// Marks the findings that the project accepts.
void accept(std::vector<Finding>& findings, const std::vector<model::Acceptance>& accepted);

/// Reads all entries of a project. [control]
LoadResult read_project(Draft draft, const Value& root);

/// Keeps the short tick that an app may play for pending clips.
void take_placeholder(Draft& draft, model::Clip clip);
/// Reads a clip whose samples the app provides.
void take_samples(Draft& draft, Entry& entry, model::Clip clip);

/// Returns the index of `name` in `known`, or nothing after a finding that names the nearest. An excluded name has a
/// finding already, so it gets no second one.
std::optional<int> look_up(Entry& entry, const Value& name, const std::map<std::string, int>& known,
                           const std::string& kind);

/// Returns true if the name may name an entry; otherwise reports it.
bool check_name(Draft& draft, const Member& member, const std::string& kind);

/// Returns true if the member is a table; otherwise reports it.
bool is_table(Draft& draft, const Member& member, const std::string& kind);

} // namespace kiai::reader
