#include "workshop/page/recording.h"

#include "workshop/disk/atomic_write.h"
#include "workshop/page/answers.h"
#include "workshop/page/rehearsal_png.h"

#include <kiai/load.h>
#include <kiai/workshop/rehearse.h>
#include <kiai/workshop/trace.h>

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>
#include <set>

namespace kiai::workshop {
namespace {

namespace fs = std::filesystem;

constexpr std::size_t most_shown = 40;

/// Returns the expectation with the smallest of a few times within which it holds, if there is one.
std::optional<Expectation> within(const Rehearsal& rehearsal, Expectation expectation) {
    for (const Seconds time : {Seconds(0.02), Seconds(0.1), Seconds(0.5), Seconds(2)}) {
        expectation.within = time;
        if (meets(rehearsal, expectation)) return expectation;
    }
    return std::nullopt;
}

/// Returns what a run shows: which sounds are heard after which triggers, and what is refused.
std::vector<Expectation> expectations_of(const Rehearsal& rehearsal) {
    std::vector<Expectation> all;
    std::set<std::pair<std::string, std::string>> seen;
    for (const Decision& decision : rehearsal.decisions) {
        const bool refuses = decision.outcome == Outcome::refused_gap || decision.outcome == Outcome::not_met;
        if ((decision.outcome != Outcome::played && !refuses) || all.size() == most_shown) continue;
        const std::string trigger = to_string(Trigger{decision.trigger, decision.on});
        const std::string rule = decision.outcome == Outcome::refused_gap ? "gap" : decision.rule;
        if (!read_trigger(trigger) || !seen.emplace(trigger, refuses ? rule : decision.sound).second) continue;
        if (!refuses) {
            if (const auto heard = within(rehearsal, expect::heard(decision.sound, {.of = trigger})))
                all.push_back(*heard);
        } else if (const Expectation refused_by = expect::refused(trigger, rule); meets(rehearsal, refused_by)) {
            all.push_back(refused_by);
        }
    }
    return all;
}

/// Returns the expectation as an expectations file has it.
std::string toml_of(const Expectation& expectation) {
    if (expectation.kind == Expectation::Kind::refused)
        return fmt::format("\n[[expect]]\nrefused = {}\nby = {}\n", quoted(expectation.of), quoted(expectation.by));
    return fmt::format("\n[[expect]]\nheard = {}\nof = {}\nwithin = \"{} ms\"\n", quoted(expectation.sound),
                       quoted(expectation.of), std::lround(expectation.within.count() * 1000));
}

} // namespace

PageAnswer Recording::answer(const PageRequest& request) {
    const std::lock_guard guard(mutex_);
    if (request.post && request.path == "record") return record(value_of(request, "on") == "1");
    if (!request.post && request.path == "recording") return show();
    if (!request.post && request.path == "recording.png") return picture();
    if (!request.post || request.path != "expect") return {};
    std::size_t number = 0;
    const std::string text = value_of(request, "number");
    std::from_chars(text.data(), text.data() + text.size(), number);
    return expect(number);
}

PageAnswer Recording::record(bool start) {
    const std::lock_guard guard(control_);
    if (start) {
        engine_.start_recording();
        return as_json("{}");
    }
    const Trace trace = engine_.stop_recording();
    std::error_code failed;
    fs::create_directories(folder_ / "traces", failed);
    fs::path file;
    for (int number = 1; file.empty() || fs::exists(file, failed); ++number)
        file = folder_ / "traces" / fmt::format("by-hand-{}.jsonl", number);
    const std::string why = save_trace(file, trace);
    if (!why.empty()) return refused(500, why, "check the folder's permissions");
    file_ = file;
    shown_.clear();
    written_.clear();
    return as_json(fmt::format("{{\"file\":{}}}", quoted(relative(file))));
}

std::string Recording::relative(const fs::path& file) const {
    return file.lexically_relative(folder_).generic_string();
}

Rehearsal Recording::rehearsed() const {
    return rehearse(load_project(folder_).project, load_trace(file_).trace);
}

PageAnswer Recording::show() {
    if (file_.empty()) return refused(409, "nothing was recorded", "record a trace first");
    if (shown_.empty()) shown_ = expectations_of(rehearsed());
    std::string text = fmt::format("{{\"file\":{},\"expectations\":[", quoted(relative(file_)));
    for (std::size_t i = 0; i < shown_.size(); ++i)
        text += fmt::format("{}{}", i > 0 ? "," : "", quoted(to_string(shown_[i])));
    return as_json(text + "]}");
}

PageAnswer Recording::picture() {
    if (file_.empty()) return {};
    PictureSettings settings;
    settings.title = relative(file_);
    settings.width = 900;
    settings.height = 560;
    std::string error, png = rehearsal_png(rehearsed(), settings, error);
    return error.empty() ? PageAnswer{200, "image/png", std::move(png)} : refused(500, error, "check the disk");
}

PageAnswer Recording::expect(std::size_t number) {
    if (number < 1 || number > shown_.size())
        return refused(400, "the recording shows nothing with this number", "look at the recording again");
    fs::path file = file_;
    file.replace_extension(".expect.toml");
    std::vector<std::size_t> all = written_;
    if (std::find(all.begin(), all.end(), number) == all.end()) all.push_back(number);
    std::string text = fmt::format("# kiai rehearse . {} --expect {}\nformat = 1\n", relative(file_), relative(file));
    for (const std::size_t one : all) text += toml_of(shown_[one - 1]);
    const std::string error = write_atomically(file, text);
    if (!error.empty())
        return refused(500, fmt::format("cannot write {} ({})", relative(file), error),
                       "check the disk and the permissions");
    written_ = std::move(all);
    return as_json(fmt::format("{{\"file\":{},\"count\":{}}}", quoted(relative(file)), written_.size()));
}

} // namespace kiai::workshop
