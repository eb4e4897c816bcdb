#include "workshop/page/backend.h"
#include "workshop/page/server.h"

#include <kiai/workshop/page.h>

namespace kiai::inline v0 {

struct Page::State {
    State(Engine& engine, const PageSettings& settings)
        : backend(engine, engine.project(),
                  {{settings.reports, false, false, !settings.over.empty()},
                   settings.folder,
                   settings.over,
                   settings.speaker}),
          log(engine.add_log([this, &engine](const Decision& decision) {
              if (decision.outcome == Outcome::changed) backend.set_project(engine.project());
              backend.feed().add(decision);
          })),
          server(
              {[this](const auto& request) { return backend.answer(request); }, [this] { return backend.events(); }}),
          error(server.listen(settings.port)) {}
    ~State() {
        backend.feed().close();
        server.stop();
    }

    workshop::PageBackend backend;
    std::shared_ptr<void> log;
    workshop::PageServer server;
    std::string error;
};

Page::Page(Engine& engine, const PageSettings& settings) : state_(std::make_unique<State>(engine, settings)) {}

Page::~Page() = default;

const std::string& Page::url() const noexcept {
    return state_->server.url();
}

const std::string& Page::error() const noexcept {
    return state_->error;
}

} // namespace kiai::inline v0
