// Plays rehearsals on an output device.
#pragma once

#include "command.h"

#include <kiai/speaker.h>
#include <kiai/workshop/rehearse.h>

#include <memory>

namespace kiai::tool {

/// One output for several rehearsals, so that each is heard at once.
class Player {
  public:
    explicit Player(SpeakerSettings settings);
    ~Player();

    /// Plays the samples unchanged, in place of what is playing. Returns false, after printing why the first time, if
    /// nothing can be heard.
    bool play(const Rehearsal& rehearsal);
    bool playing() const;
    /// Fades out what is playing.
    void stop();
    /// Warns if the device had to wait for samples, so that there were gaps.
    void report_gaps() const;

  private:
    struct State;
    SpeakerSettings settings_;
    std::unique_ptr<State> state_;
    bool silent_ = false; ///< there is no device, which was printed
};

/// Plays the samples unchanged to their end. Ctrl-C fades them out.
Status listen(const Rehearsal& rehearsal, const SpeakerSettings& settings);

/// Prints the available outputs.
void print_devices();

} // namespace kiai::tool
