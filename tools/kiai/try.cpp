// kiai try: serves a page on which a project is tried by hand.
#include "command.h"
#include "documents.h"
#include "system/browser.h"
#include "system/terminal.h"

#include <kiai/workshop/page.h>

#include <fmt/format.h>

#include <atomic>
#include <chrono>
#include <csignal>
#include <iostream>
#include <memory>
#include <thread>

namespace kiai::tool {
namespace {

std::atomic<bool> asked_to_end = false;

struct TryArguments {
    Operands words;
    TrySettings settings;
    std::string over;
    std::uint64_t seed = 1;
    bool no_browser = false, json = false;
};

/// A page that is served.
struct Served {
    std::string url, device;
};

Status run(TryArguments arguments) {
    const auto folder = take_project(arguments.words);
    TrySettings& settings = arguments.settings;
    settings.over = arguments.over;
    settings.seed = arguments.seed;
    std::error_code error;
    if (!settings.over.empty() && !std::filesystem::is_regular_file(settings.over, error))
        throw WrongUse(fmt::format("--over {}: missing file; name a PNG of the app", arguments.over));
    const TryPage page(folder, settings);
    say_findings(page.findings());
    if (!page.error().empty()) {
        say_error(page.error() + "; choose another one with --port, or leave it out");
        return failed;
    }
    for (int tries = 0; page.device() == "opening" && tries < 40; ++tries)
        std::this_thread::sleep_for(std::chrono::milliseconds(50));
    if (arguments.json)
        std::cout << print_document(try_document, Served{page.url(), page.device()}) << std::flush;
    else
        std::cout << fmt::format("{}\noutput: {}\nCtrl-C ends\n", page.url(), page.device()) << std::flush;
    if (!arguments.no_browser && prints_to_terminal()) open_browser(page.url());
    for (const int signal : {SIGINT, SIGTERM}) std::signal(signal, [](int) { asked_to_end = true; });
    while (!asked_to_end) std::this_thread::sleep_for(std::chrono::milliseconds(20));
    return done;
}

} // namespace

static void describe_members(Shape<Served>& shape) {
    shape.has("url", "The address of the page, with its key.", &Served::url)
        .has("device", "The output device, or the reason for the silence.", &Served::device);
}

const Document try_document{"try", "The page of `kiai try --json`", 1, [] { return shape_of<Served>().schema(); }};

void add_try(Commands& commands) {
    auto arguments = std::make_shared<TryArguments>();
    Command command = commands.add(Group::runs, "try", "Try a project by hand on a local web page");
    command.project(arguments->words, {});
    command.option("--over", arguments->over, "FILE", "PNG of the app to draw the zones on, in the app's units");
    command.flag("--edit", arguments->settings.edit, "Let the page change kiai.toml");
    command.option("--port", arguments->settings.port, "NUMBER", "Port of the page; a free one by default")
        .in_range(1, 65535);
    add_seed(command, arguments->seed);
    command.flag("--no-browser", arguments->no_browser, "Print the address only");
    add_json(command, arguments->json);
    command.fails_if("the port is taken");
    command.example("kiai try marble-run --over app.png");
    command.runs([arguments] { return run(*arguments); });
}

} // namespace kiai::tool
