// A project, its engine and the default device in one.
#pragma once

#include <kiai/engine.h>
#include <kiai/reload.h>
#include <kiai/speaker.h>

#include <filesystem>
#include <memory>

namespace kiai::inline v0 {

/// An engine that is heard: `kiai::open("marble-run").click({118, 82})`. Its destructor waits until what sounds has
/// ended (what would never end is faded out), at most for `OpenSettings::close_within`. Without an output device it
/// says so once on standard error, and all calls work.
class Session : public Engine {
  public:
    explicit Session(Project project, Seconds close_within = Seconds(10));
    ~Session();
    Session(Session&&) noexcept = default;
    Session& operator=(Session&&) = delete;

    const Speaker& speaker() const noexcept { return *speaker_; }

  private:
    friend Session open(const std::filesystem::path& folder, const struct OpenSettings& settings);
    std::unique_ptr<Speaker> speaker_;
    std::unique_ptr<Reload> reload_;
    Seconds close_within_;
};

struct OpenSettings {
    Seconds close_within = Seconds(10); ///< how long the destructor may wait for sounds to end, 0 … 3600 s
    bool reload = false;                ///< watch its files, and go on with what they are, see Reload
};

/// Loads a project, a folder or a pack, and opens the default device, which it waits for (two seconds at most), so that
/// the first sound is heard whole. A relative path is looked up from the current folder, then beside the program's own
/// file. Findings
/// that are errors or warnings go to standard error. Never fails: what cannot be played is silent and said. [control]
Session open(const std::filesystem::path& folder, const OpenSettings& settings = {});

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/open.h>
#endif
