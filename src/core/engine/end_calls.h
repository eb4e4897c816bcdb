// The functions that the app wants to be called when plays end.
#pragma once

#include "core/mixer/handles.h"

#include <kiai/decision.h>

#include <functional>
#include <mutex>
#include <vector>

namespace kiai::engine {

class EndCalls {
  public:
    /// [control] `handles` must outlive the object.
    explicit EndCalls(const mixer::Handles& handles) noexcept : handles_(handles) {}

    /// Calls `call` once the play has ended, in place of an earlier function; empty: calls nothing. [any]
    void await(mixer::Handles::Handle handle, std::function<void(EndReason)> call);
    /// Makes the calls that are due, in the order of the ends, through `guarded`, which catches exceptions. A function
    /// may do anything, so no lock is held during the call. [control]
    void call_ended(const std::function<void(const std::function<void()>&)>& guarded);

  private:
    struct Waiting {
        mixer::Handles::Handle handle;
        std::function<void(EndReason)> call;
    };
    const mixer::Handles& handles_;
    std::mutex mutex_;
    std::vector<Waiting> waiting_;
    std::vector<Waiting> calling_; ///< those whose play has ended, while they are being called
};

} // namespace kiai::engine
