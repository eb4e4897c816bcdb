// A marble run to play with. Box2D moves the marbles, SDL2 shows them and reads the pointer and the keys, and Kiai
// plays the sounds.
//   bench                          in a window; --page prints the address of a page that shows what the engine does
//   bench --script out.jsonl       without a window: half a minute of scripted input, recorded as a trace; --picture
//   draws its end
#include "bench.h"
#include "script.h"
#include "sound.h"
#include "view.h"

#include <kiai/with/sdl2.h>

#include <cstdlib>
#include <fstream>
#include <iostream>
#include <optional>

namespace {

struct Wanted {
    std::string project = "marble-run", script, record, log, picture;
    bool zones = false, page = false;
    std::uint64_t seed = 0;
    int steps = 0; ///< 0: until the window is closed
};

std::optional<Wanted> read(int count, char** arguments) {
    Wanted wanted;
    for (int i = 1; i < count; ++i) {
        const std::string word = arguments[i];
        const auto value = [&](const char* option, std::string& into) {
            if (word != option || i + 1 >= count) return false;
            into = arguments[++i];
            return true;
        };
        std::string number;
        if (value("--project", wanted.project) || value("--script", wanted.script) ||
            value("--record", wanted.record) || value("--log", wanted.log) || value("--picture", wanted.picture))
            continue;
        if (value("--seed", number))
            wanted.seed = std::strtoull(number.c_str(), nullptr, 10);
        else if (word == "--zones")
            wanted.zones = true;
        else if (word == "--page")
            wanted.page = true;
        else if (value("--steps", number))
            wanted.steps = std::atoi(number.c_str());
        else
            return std::nullopt;
    }
    return wanted;
}

int save(kiai::Engine& engine, const std::string& file) {
    if (file.empty()) return 0;
    const std::string error = save_trace(file, engine.stop_recording());
    if (!error.empty()) std::cerr << error << '\n';
    return error.empty() ? 0 : 1;
}

/// Returns the outlines of the project's zones, which the window can show.
std::vector<Outline> outlines(const kiai::Project& project) {
    std::vector<Outline> all;
    for (const kiai::ZoneOutline& zone : outlines_of(project)) {
        Outline& outline = all.emplace_back(Outline{zone.name, zone.scope, {}});
        for (const kiai::Point point : zone.points) outline.points.push_back({point.x, point.y});
    }
    return all;
}

/// Runs the script. The result is the same each time: fixed steps, no device, no window.
int run_script(const Wanted& wanted, const kiai::Project& project, BenchSound& sound, Bench& bench) {
    Hands hands(bench, sound);
    std::vector<float> block(2 * 800); // a sixtieth of a second at 48 kHz
    const int steps = wanted.steps > 0 ? wanted.steps : script_steps;
    for (int step = 0; step < steps; ++step) {
        follow_script(hands, step);
        sound.hear(bench, hands.drawer() ? Happened{} : bench.step());
        sound.engine().render(block);
    }
    sound.engine().poll();
    if (!wanted.picture.empty()) {
        View view(1.25, outlines(project));
        EntryDetails shown;
        shown.drawer = hands.drawer();
        shown.zones = wanted.zones;
        shown.warning = bench.fill() > 0.8f;
        shown.log = &sound.log();
        view.draw(bench, shown);
        view.save(wanted.picture);
    }
    return save(sound.engine(), wanted.script);
}

class Window {
  public:
    explicit Window(const View& view) {
        SDL_Init(SDL_INIT_VIDEO);
        window_ = SDL_CreateWindow("The marble run", SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED, view.pixel_width(),
                                   view.pixel_height(), 0);
        if (window_) renderer_ = SDL_CreateRenderer(window_, -1, SDL_RENDERER_SOFTWARE);
        if (renderer_)
            texture_ = SDL_CreateTexture(renderer_, SDL_PIXELFORMAT_RGB888, SDL_TEXTUREACCESS_STREAMING,
                                         view.pixel_width(), view.pixel_height());
    }
    ~Window() {
        SDL_DestroyTexture(texture_);
        SDL_DestroyRenderer(renderer_);
        SDL_DestroyWindow(window_);
        SDL_Quit();
    }
    Window(const Window&) = delete;
    Window& operator=(const Window&) = delete;

    bool open() const { return texture_ != nullptr; }
    void show(const View& view) {
        SDL_UpdateTexture(texture_, nullptr, view.pixels(), view.stride());
        SDL_RenderCopy(renderer_, texture_, nullptr, nullptr);
        SDL_RenderPresent(renderer_);
    }

  private:
    SDL_Window* window_ = nullptr;
    SDL_Renderer* renderer_ = nullptr;
    SDL_Texture* texture_ = nullptr;
};

int run_window(const Wanted& wanted, const kiai::Project& project, BenchSound& sound, Bench& bench) {
    constexpr double pixels = 1.25;
    View view(pixels, outlines(project));
    Window window(view);
    if (!window.open()) {
        std::cerr << "no window can be opened: " << SDL_GetError() << '\n';
        return 1;
    }
    kiai::Speaker speaker(sound.engine());
    std::optional<kiai::Page> page;
    if (wanted.page)
        std::cout
            << page.emplace(sound.engine(), kiai::PageSettings{.folder = wanted.project, .speaker = &speaker}).url()
            << std::endl;
    Hands hands(bench, sound);
    EntryDetails shown;
    shown.log = &sound.log();
    const kiai::with::View place{static_cast<float>(pixels)};
    const std::uint64_t begin = SDL_GetTicks64();
    std::uint64_t done = 0;
    for (bool open = true; open && (wanted.steps == 0 || done < static_cast<std::uint64_t>(wanted.steps));) {
        for (SDL_Event event; SDL_PollEvent(&event);) {
            const bool taken = kiai::with::sdl2(sound.engine(), event, place); // all that the sound needs of it
            if (event.type == SDL_QUIT) open = false;
            if (event.type == SDL_MOUSEBUTTONDOWN && taken) {
                const kiai::Point at = place(event.button.x, event.button.y);
                hands.pressed({at.x, at.y});
            }
            if (event.type == SDL_MOUSEBUTTONUP ||
                (event.type == SDL_WINDOWEVENT && event.window.event == SDL_WINDOWEVENT_FOCUS_LOST))
                hands.released();
            if (event.type == SDL_KEYDOWN && taken) {
                if (event.key.keysym.scancode == SDL_SCANCODE_ESCAPE) open = false;
                if (event.key.keysym.scancode == SDL_SCANCODE_F1) shown.zones = !shown.zones;
                hands.key_went_down(std::string(kiai::with::code_of(event.key.keysym.scancode)));
            }
        }
        const std::uint64_t due = (SDL_GetTicks64() - begin) * 60 / 1000;
        for (int late = 0; done < due; ++done, ++late) // where drawing is slow, time continues all the same
            if (late < 8) sound.hear(bench, hands.drawer() ? Happened{} : bench.step());
        shown.drawer = hands.drawer();
        shown.warning = bench.fill() > 0.8f && SDL_GetTicks64() % 600 < 350;
        view.draw(bench, shown);
        window.show(view);
        SDL_Delay(4);
    }
    // What was reported last is decided with the next blocks.
    for (const kiai::Frames last = sound.engine().now() + sound.engine().sample_rate() / 5;
         sound.engine().now() < last;) {
        sound.engine().poll();
        SDL_Delay(5);
    }
    return save(sound.engine(), wanted.record);
}

} // namespace

int main(int count, char** arguments) {
    const auto wanted = read(count, arguments);
    if (!wanted) {
        std::cerr << "bench [--project FOLDER] [--script TRACE | --record TRACE] [--log FILE] [--picture PNG "
                     "[--zones]] [--page] [--seed N] [--steps N]\n";
        return 2;
    }
    const kiai::LoadResult loaded = kiai::load_project(wanted->project);
    for (const kiai::Finding& finding : loaded.findings) std::cerr << finding << '\n';
    BenchSound sound(loaded.project, wanted->seed != 0 || wanted->script.empty() ? wanted->seed : 7);
    std::ofstream log;
    if (!wanted->log.empty()) {
        log.open(wanted->log);
        sound.write_log_to(&log);
    }
    if (!wanted->script.empty() || !wanted->record.empty()) sound.engine().start_recording();
    Bench bench;
    return wanted->script.empty() ? run_window(*wanted, loaded.project, sound, bench)
                                  : run_script(*wanted, loaded.project, sound, bench);
}
