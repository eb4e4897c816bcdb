// A project, its engine and the default output device in one object.
#pragma once

#include <kiai/engine.h>
#include <kiai/reload.h>
#include <kiai/speaker.h>

#include <filesystem>
#include <memory>

namespace kiai::inline v0 {

/// An engine with an output device: `kiai::open("marble-run").click({118, 82})`. The destructor fades endless sounds
/// out, and waits for the others to end, at most for `OpenSettings::close_within`. Without a device the session prints
/// one message on standard error, and all calls still work.
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
    Seconds close_within = Seconds(10); ///< the longest wait of the destructor for sounds to end, 0 … 3600 s
    bool reload = false;                ///< watch the files, and use every valid change, see Reload
};

/// Loads a project, a folder or a pack, and opens the default output device. Waits up to two seconds for the device.
/// `folder`: a relative path is looked up in the current folder, then next to the program's file.
/// Does not throw or fail: errors and warnings are printed on standard error, and the rest of the project plays.
/// [control]
Session open(const std::filesystem::path& folder, const OpenSettings& settings = {});

} // namespace kiai::inline v0

#ifdef KIAI_SILENT
#include <kiai/silent/open.h>
#endif
