#include "workshop/page/backend.h"

#include "core/model/project.h"
#include "runtime/audio/audio_reader.h"
#include "workshop/page/answers.h"
#include "workshop/page/assets.h"
#include "workshop/rehearse/read_trace.h"
#include "workshop/rehearse/staging.h"

#include <kiai/workshop/check.h>
#include <kiai/workshop/trigger.h>

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <chrono>
#include <fstream>
#include <sstream>
#include <thread>

namespace kiai::workshop {
namespace {

constexpr int most_pages = 8;
constexpr auto between_events = std::chrono::milliseconds(40);

// What the page's own triggers use, out of the way of the pointers and contacts of the stage.
constexpr std::uint64_t first_pointer = 1000000, first_pair = 1000000;

double number_of(const PageRequest& request, const char* name, double otherwise) {
    const auto found = request.values.find(name);
    if (found == request.values.end()) return otherwise;
    double value = otherwise;
    const char* const end = found->second.data() + found->second.size();
    return std::from_chars(found->second.data(), end, value).ec == std::errc{} ? value : otherwise;
}

/// Returns what ends the trigger of a binding that the page made happen.
std::vector<Report> ends_of(const model::Binding& binding, std::uint64_t number) {
    Report report;
    switch (binding.trigger) {
    case ReportKind::press:
        report.kind = ReportKind::release;
        report.pointer = first_pointer + number;
        break;
    case ReportKind::enter:
        report.kind = ReportKind::pointer_gone;
        report.pointer = first_pointer + number;
        break;
    case ReportKind::key_down:
        report.kind = ReportKind::key_up;
        report.name = binding.name;
        break;
    case ReportKind::contact:
        report.kind = ReportKind::contact_end;
        report.pair = first_pair + number;
        break;
    default:
        return {};
    }
    return {report};
}

/// Adds reports in front that make the condition of a watch false: one that is true already would not start again.
void turn_false(const model::Project& project, const model::Binding& watch, std::vector<TraceLine>& lines) {
    for (const model::Clause& clause : watch.watch) {
        const model::Dial& dial = project.dials[static_cast<std::size_t>(clause.dial)];
        Report report;
        report.kind = ReportKind::dial;
        report.name = dial.name;
        for (const double value : {dial.start, dial.low, dial.high})
            if (!clause.holds(value, -watch.margin)) report.value = static_cast<float>(value);
        lines.insert(lines.begin(), {0.05, std::nullopt, report, 0});
    }
}

} // namespace

PageBackend::PageBackend(Engine& engine, Project project, Plan plan)
    : engine_(engine), plan_(std::move(plan)), feed_(engine.sample_rate()) {
    set_project(std::move(project));
}

void PageBackend::set_project(Project project) {
    const std::lock_guard guard(mutex_);
    project_ = std::move(project);
    ++revision_;
    waveforms_.clear();
}

Project PageBackend::project() const {
    const std::lock_guard guard(mutex_);
    return project_;
}

/// Reads the folder if the tables are those of an older project.
std::shared_ptr<const PageProject> PageBackend::shown() {
    const std::lock_guard one_at_a_time(reading_);
    auto next = std::make_shared<PageProject>();
    {
        const std::lock_guard guard(mutex_);
        if (shown_ && shown_->revision == revision_) return shown_;
        next->project = project_;
        next->revision = revision_;
    }
    if (!plan_.folder.empty()) {
        next->catalogue = catalogue(plan_.folder);
        next->findings = check_project(plan_.folder).findings;
        std::erase_if(next->findings, [](const Finding& finding) { return finding.severity == Severity::note; });
    }
    const std::lock_guard guard(mutex_);
    return shown_ = std::move(next);
}

PageAnswer PageBackend::answer(const PageRequest& request) {
    return request.post ? post(request) : get(request);
}

PageAnswer PageBackend::get(const PageRequest& request) {
    if (request.path == "project") {
        PageProject project = *shown();
        if (plan_.editor) { // of now, since a changed comment is no change of the project
            project.text_id = plan_.editor->text_id();
            project.entries = describe_toml(plan_.folder);
        }
        return as_json(describe_project(project, plan_.rights, engine_.sample_rate()));
    }
    if (request.path == "why") return why(request);
    if (request.path == "clip") return clip(request);
    if (request.path == "over.png" && !plan_.over.empty()) {
        std::ifstream file(plan_.over, std::ios::binary);
        return {200, "image/png", std::string(std::istreambuf_iterator<char>(file), {})};
    }
    if (plan_.recording)
        if (PageAnswer answer = plan_.recording->answer(request); answer.status != 404) return answer;
    for (const Asset& asset : assets)
        if (request.path == asset.name) return {200, asset.type, std::string(asset.text)};
    return {};
}

PageAnswer PageBackend::post(const PageRequest& request) {
    if (!plan_.rights.reports)
        return refused(403, "this page only watches", "the app allows more with PageSettings::reports");
    if (request.path == "report") return report(request.body);
    if (request.path == "fire") return fire(request);
    if (plan_.editor)
        if (PageAnswer answer = plan_.editor->answer(request); answer.status != 404) return answer;
    return plan_.recording ? plan_.recording->answer(request) : PageAnswer();
}

PageAnswer PageBackend::report(const std::string& lines) {
    std::istringstream stream(lines);
    const LoadedTrace read = read_trace(stream, "page");
    if (!read.ok()) return refused(400, read.findings.front().message, read.findings.front().fix);
    const Frames now = engine_.now();
    for (const TraceLine& line : read.trace.lines) {
        const Frames due = line.due(engine_.sample_rate());
        const auto at = due > 0 ? std::optional(now + due) : std::nullopt;
        if (!engine_.report(line.report, at))
            return refused(503, "the engine has no room for another report", "wait a moment");
    }
    return as_json();
}

PageAnswer PageBackend::fire(const PageRequest& request) {
    const Project project = this->project();
    const model::Project& data = project.data();
    const auto number = static_cast<std::uint64_t>(std::max(0.0, std::min(number_of(request, "binding", 0), 1e9)));
    if (number < 1 || number > data.bindings.size())
        return refused(400, "the project has no binding with this number", "load the page again");
    const model::Binding& binding = data.bindings[number - 1];
    const std::lock_guard guard(mutex_); // the end of a trigger stays after its begin
    const Frames now = engine_.now();
    const auto at = [&](Frames due) { return due > now ? std::optional(due) : std::nullopt; };
    if (value_of(request, "end") == "1") {
        for (const Report& end : ends_of(binding, number)) engine_.report(end, at(triggered_[number]));
        return as_json();
    }
    FireSettings settings;
    settings.strength = static_cast<float>(number_of(request, "strength", 1));
    settings.place = static_cast<float>(number_of(request, "place", 0));
    for (const auto& [name, value] : request.values)
        if (name.starts_with("value-"))
            settings.values.push_back({name.substr(6), static_cast<float>(number_of(request, name.c_str(), 0))});
    model::Project present = data; // staged for the scopes that are on now, not at the start
    for (model::Scope& scope : present.scopes) scope.on = engine_.scope(scope.name) != ScopeState::off;
    Staged staged = stage(present, binding, settings);
    if (!staged.impossible.empty()) return refused(409, staged.impossible, "change the binding, or the dial's range");
    if (binding.trigger == ReportKind::watch) turn_false(data, binding, staged.lines);
    double first = 3600;
    for (const TraceLine& line : staged.lines) first = std::min(first, line.at);
    for (TraceLine& line : staged.lines) {
        Report& report = line.report;
        if (report.kind == ReportKind::press || report.kind == ReportKind::release ||
            report.kind == ReportKind::pointer || report.kind == ReportKind::pointer_gone)
            report.pointer = first_pointer + number;
        if (report.pair != 0) report.pair = first_pair + number;
        triggered_[number] = now + static_cast<Frames>((line.at - first) * engine_.sample_rate());
        engine_.report(report, at(triggered_[number]));
    }
    return as_json();
}

PageAnswer PageBackend::why(const PageRequest& request) const {
    Rehearsal happened;
    happened.sample_rate = engine_.sample_rate();
    happened.decisions = feed_.decisions();
    const Project project = this->project();
    for (const model::Sound& sound : project.data().sounds) happened.sounds.push_back(sound.name);
    return as_json(describe_diagnosis(why_silent(project, value_of(request, "about"), happened)));
}

PageAnswer PageBackend::clip(const PageRequest& request) {
    const std::string name = value_of(request, "name");
    {
        const std::lock_guard guard(mutex_);
        if (const auto found = waveforms_.find(name); found != waveforms_.end()) return as_json(found->second);
    }
    const Project project = this->project();
    const auto& clips = project.data().clips; // only files of the project are read
    const auto clip =
        std::find_if(clips.begin(), clips.end(), [&](const model::Clip& one) { return one.name == name; });
    if (plan_.folder.empty() || clip == clips.end() || clip->file.empty()) return {};
    const reader::Decoded decoded = runtime::decode({plan_.folder, {}}, clip->file, reader::Stream::no);
    if (!decoded.ok()) return {};
    std::string text = describe_clip(*clip, *decoded.audio);
    const std::lock_guard guard(mutex_);
    if (project_.shared() == project.shared()) waveforms_[name] = text;
    return as_json(std::move(text));
}

std::string PageBackend::event(const Feed::Part& part, std::uint64_t& next_level) {
    std::uint64_t revision = 0;
    Project project;
    {
        const std::lock_guard guard(mutex_);
        revision = revision_, project = project_;
    }
    const Speaker* speaker = plan_.speaker;
    std::string text = fmt::format(
        "{{\"revision\":{},\"device\":{},\"late\":{},\"left_out\":{},\"state\":{},\"ducked\":{},\"decisions\":[",
        revision, quoted(speaker ? speaker->status() : std::string()), speaker ? speaker->late_blocks() : 0,
        part.left_out, describe_state(engine_, project), describe_ducked(feed_.ducked()));
    for (std::size_t i = 0; i < part.lines.size(); ++i) text += (i > 0 ? "," : "") + part.lines[i];
    text += "],\"levels\":[";
    bool first = true;
    for (const LevelPoint& point : feed_.take_levels(next_level)) {
        text += fmt::format("{}[{},{},{:.4f}]", first ? "" : ",", point.play, point.frame, point.peak);
        first = false;
    }
    return text + "]}";
}

PageEvents PageBackend::events() {
    if (*open_ >= most_pages) return nullptr;
    // Destroyed with the last copy of the function below, when the page is closed.
    ++*open_;
    const std::shared_ptr<void> counted(nullptr, [open = open_](void*) { --*open; });
    return [this, counted, next = feed_.beginning(), next_level = feed_.beginning_of_levels(), first = true]() mutable {
        std::this_thread::sleep_for(between_events);
        if (!feed_.wait(next, 160)) return std::string();
        const std::size_t most = first ? Feed::most_at_first : Feed::most_at_once;
        first = false;
        return event(feed_.take(next, most), next_level);
    };
}

} // namespace kiai::workshop
