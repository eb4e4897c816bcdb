// kiai fire: fires triggers, each in a new engine, and prints what was heard.
#include "browse.h"
#include "by_hand.h"
#include "claim.h"
#include "documents.h"
#include "outputs.h"
#include "system/terminal.h"
#include "table.h"

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace kiai::tool {
namespace {

struct FireArguments {
    ByHand by_hand;
    std::vector<int> bindings;
    std::string trace;
    double listen = 10;
    bool quiet = false, json = false;
};

std::string outcome_of(const FireResult& fired) {
    if (fired.heard) return "heard";
    if (fired.silent_by_design && fired.fired) return "done";
    return "silent";
}

std::string detail(const FireResult& fired) {
    if (fired.heard) return {};
    if (fired.good()) return "plays nothing by design";
    const Diagnosis::Step* const broken = fired.why.broken();
    return broken ? fmt::format("{}: {}; {}", to_string(broken->link), broken->detail, fired.why.fix) : "";
}

void print(const std::vector<FireResult>& all) {
    Table table({"binding", "line", "trigger", "fired", "", "peak", "sounds", "why"});
    std::size_t heard = 0, meant = 0;
    for (const FireResult& fired : all) {
        heard += fired.heard ? 1 : 0;
        meant += !fired.heard && fired.good() ? 1 : 0;
        table.add({std::to_string(fired.binding), std::to_string(fired.line), fired.trigger, fired.fired ? "yes" : "no",
                   outcome_of(fired), fired.level > -200 ? fmt::format("{:.1f} dBFS", fired.level) : "",
                   joined(fired.sounds, ", "), detail(fired)});
    }
    table.print();
    std::cout << fmt::format("{}: {} heard, {} silent by design, {} silent\n", counted(all.size(), "binding"), heard,
                             meant, all.size() - heard - meant);
}

/// Prints one binding, as a line.
void print_line(const FireResult& fired, std::size_t number, std::size_t count) {
    std::cout << paint(fmt::format("{}/{}", number, count), 2) << ' ' << paint(fired.trigger, 1)
              << fmt::format("  binding {} in line {}: {}", fired.binding, fired.line, outcome_of(fired));
    if (fired.level > -200) std::cout << fmt::format(", {:.1f} dBFS", fired.level);
    if (!fired.sounds.empty()) std::cout << ", " << joined(fired.sounds, ", ");
    if (const std::string why = detail(fired); !why.empty()) std::cout << "; " << why;
    std::cout << '\n' << std::flush;
}

/// Fires one binding after the other by key presses, and plays what it causes.
Status walk(const Project& project, const std::vector<int>& numbers, const FireSettings& settings) {
    Player player({});
    bool good = true;
    std::vector<BrowseItem> all;
    for (std::size_t i = 0; i < numbers.size(); ++i)
        all.push_back({.show = [&, i](bool) {
            const FireResult fired = fire(project, numbers[i], settings);
            good = good && fired.good();
            print_line(fired, i + 1, numbers.size());
            RehearseSettings with;
            with.seed = settings.seed;
            with.tail = Seconds(1);
            player.play(rehearse(project, trace_of(project, numbers[i], settings), with));
            return true;
        }});
    browse(all, player);
    return good ? done : failed;
}

struct Fired {
    std::vector<FireResult> bindings;
};

/// Returns a text of the broken link, if the binding is silent and should not be.
template<class Get>
auto of_broken(Get get) {
    return [get](const FireResult& fired) -> std::optional<std::string> {
        const Diagnosis::Step* const broken = fired.why.broken();
        if (!broken || fired.good()) return std::nullopt;
        return get(*broken, fired.why);
    };
}

Status run(FireArguments arguments) {
    ByHand& by_hand = arguments.by_hand;
    const auto folder = take_project(by_hand.words);
    if (const Status status = claim_output(arguments.trace, {".jsonl"}, trace_mark); status != done) return status;
    const LoadResult loaded = load_or_say(folder);
    by_hand.settings.listen = Seconds(arguments.listen);
    if (!take_values(by_hand)) return wrong_use;
    const bool by_keys = interactive() && !arguments.quiet && !arguments.json && arguments.trace.empty();
    std::vector<FireResult> all;
    if (by_hand.words.empty() && arguments.bindings.empty()) {
        if (by_keys) return walk(loaded.project, all_bindings(loaded.project), by_hand.settings);
        all = fire_all(loaded.project, by_hand.settings);
    } else {
        std::vector<int> numbers = arguments.bindings;
        if (!by_hand.words.empty()) {
            Status status = done;
            const std::vector<int> named = bindings_named(loaded.project, by_hand, status);
            if (named.empty()) return status;
            numbers.insert(numbers.end(), named.begin(), named.end());
        }
        if (by_keys) return walk(loaded.project, numbers, by_hand.settings);
        for (const int number : numbers) all.push_back(fire(loaded.project, number, by_hand.settings));
        if (!arguments.trace.empty()) {
            const std::string error =
                save_own_trace(arguments.trace, trace_of(loaded.project, numbers.front(), by_hand.settings));
            if (!error.empty()) {
                say_error(error);
                return not_written;
            }
            std::cerr << "wrote " << arguments.trace << '\n';
        }
    }
    if (arguments.json)
        std::cout << print_document(fire_document, Fired{all});
    else
        print(all);
    bool good = loaded.ok();
    for (const FireResult& fired : all) good = good && fired.good();
    return good ? done : failed;
}

} // namespace

static void describe_members(Shape<FireResult>& shape) {
    shape
        .has("binding", "The number of the binding, from 1: those of `[[binding]]` first, then those inside zones.",
             &FireResult::binding)
        .has("line", "The line of the binding in kiai.toml.", &FireResult::line)
        .has("trigger", "The trigger of the binding: `press hopper`.", &FireResult::trigger)
        .has("fired", "true: the binding answered its trigger.", &FireResult::fired)
        .has("heard", "true: one of the plays of the binding was loud enough to be heard.", &FireResult::heard)
        .has("good", "true: the binding was heard, or it fired and plays nothing by design.", &FireResult::good)
        .has("level", "The peak of the loudest play, in dBFS; -200: no play.", &FireResult::level)
        .has("sounds", "The names of the sounds that the binding played.", &FireResult::sounds)
        .has("broken", "The link of the chain that is broken, as in `kiai why`; missing if the binding is good.",
             of_broken([](const Diagnosis::Step& step, const Diagnosis&) { return to_string(step.link); }))
        .has("detail", "What is wrong with that link.",
             of_broken([](const Diagnosis::Step& step, const Diagnosis&) { return step.detail; }))
        .has("fix", "What to do about it.",
             of_broken([](const Diagnosis::Step&, const Diagnosis& why) { return why.fix; }));
}

static void describe_members(Shape<Fired>& shape) {
    shape.has("bindings", "The bindings that were fired, in the order of kiai.toml.", &Fired::bindings);
}

const Document fire_document{"fire", "The bindings of `kiai fire --json`", 1,
                             [] { return shape_of<Fired>().schema(); }};

void add_fire(Commands& commands) {
    auto arguments = std::make_shared<FireArguments>();
    Command command = commands.add(Group::runs, "fire", "Fire every binding once, or those of one trigger");
    command.project(
        arguments->by_hand.words,
        {{"[TRIGGER…]", "press hopper, press 118 82, contact marble oak … (default: every binding)", {}, {}}});
    command.option("--binding", arguments->bindings, "NUMBER", "Fire the binding with this number; may be repeated")
        .repeatable()
        .at_least(1);
    add_by_hand(command, arguments->by_hand);
    command.time("--listen", arguments->listen, 0.1, 3600, "Wait for a sound for this time after the trigger");
    command.option("-o,--out", arguments->trace, "FILE", "Write the reports as a trace: .jsonl")
        .completes(Completes::file);
    add_force(command);
    add_quiet(command, arguments->quiet);
    add_json(command, arguments->json);
    command.explain("In a terminal, fires one binding after the other and plays what it causes: space fires again, the "
                    "arrow keys go to the previous and the next, and `q` ends.");
    command.fails_if("a binding that plays something was not heard");
    command.example("kiai fire marble-run");
    command.example("kiai fire marble-run contact marble oak --strength 0.3");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
