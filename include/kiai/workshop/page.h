// The local web page, on which a project is tried and a running app is watched.
#pragma once

#include <kiai/engine.h>
#include <kiai/finding.h>

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kiai::inline v0 {

class Speaker;

struct PageSettings {
    int port = 0; ///< 1 … 65535; 0: a free one
    /// The folder of the engine's project, for tables, waveforms and findings; empty: only what the engine has is
    /// shown.
    std::filesystem::path folder = {};
    std::filesystem::path over = {}; ///< a PNG of the app, drawn behind the zones in the app's units
    bool reports = false;            ///< allow the page to report triggers and to call the engine
    /// What the engine plays on, for its state and its late blocks; must outlive the page. Null: not shown.
    const Speaker* speaker = nullptr;
};

/// Shows a running engine on a local web page: decisions, plays, levels, load, and why something is silent. Only this
/// machine reaches the page, and only with the key in its address. The page never slows the app: what it cannot show in
/// time is counted and left out. The app must call Engine::poll.
class Page {
  public:
    /// Starts to serve; `engine` must outlive the page. [control]
    explicit Page(Engine& engine, const PageSettings& settings = {});
    /// Closes the page. [control]
    ~Page();
    Page(const Page&) = delete;
    Page& operator=(const Page&) = delete;

    /// Returns the address for a browser, with its key; empty if there is an error. [any]
    const std::string& url() const noexcept;
    /// Returns why the page is not served, or an empty text. [any]
    const std::string& error() const noexcept;

  private:
    struct State;
    std::unique_ptr<State> state_;
};

struct TrySettings {
    int port = 0;                                     ///< 1 … 65535; 0: a free one
    std::filesystem::path over = {};                  ///< a PNG of the app, drawn behind the zones in the app's units
    std::optional<std::uint64_t> seed = std::nullopt; ///< of all random choices; default: a random one
    bool edit = false;                                ///< let the page change kiai.toml, see set_value
};

/// Plays a project on the default output device, and serves a page on which each of its triggers can be made to happen
/// by hand, and with TrySettings::edit changed. Uses every valid change of the project's files. Records traces into the
/// folder `traces` of the project.
class TryPage {
  public:
    /// Loads the project and starts to serve. [control]
    explicit TryPage(const std::filesystem::path& folder, const TrySettings& settings = {});
    /// Stops all sounds, and closes the page. [control]
    ~TryPage();
    TryPage(const TryPage&) = delete;
    TryPage& operator=(const TryPage&) = delete;

    /// Returns the address for a browser, with its key; empty if there is an error. [any]
    const std::string& url() const noexcept;
    /// Returns why the page is not served, or an empty text. [any]
    const std::string& error() const noexcept;
    /// Returns the findings of loading the project. [any]
    const std::vector<Finding>& findings() const noexcept;
    /// Returns the name of the output device, or the reason for the silence. [any]
    std::string device() const;

  private:
    struct State;
    std::unique_ptr<State> state_;
};

struct ReportSettings {
    std::filesystem::path over = {};  ///< a PNG of the app, drawn behind the zones in the app's units
    std::filesystem::path trace = {}; ///< its rehearsal is drawn; empty: none
    bool without_audio = false;       ///< leave the sound of the clips out
    /// The folder of kiai.wasm and its scripts, which scripts/web builds: the report then plays; empty: it only shows.
    std::filesystem::path engine = {};
    /// The seed of all random choices of a report that plays, which then has the same samples on every system; default:
    /// another seed at each visit.
    std::optional<std::uint64_t> seed = std::nullopt;
};

struct ReportResult {
    std::uint64_t bytes = 0;       ///< of the file; 0 if it was not written
    int clips = 0;                 ///< with their sound
    std::vector<Finding> findings; ///< of reading the project and the trace
    std::string error;             ///< why the file was not written; empty: it was
};

/// Writes a page about the project as one HTML file that needs no server and no network: zones, bindings, sounds, clips
/// with waveforms and players, findings and credits. The clips are encoded small. [control]
ReportResult write_report(const std::filesystem::path& folder, const std::filesystem::path& file,
                          const ReportSettings& settings = {});

} // namespace kiai::inline v0
