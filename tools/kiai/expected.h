// `rehearse --expect`: what a run must show, and how far it does.
#pragma once

#include <kiai/workshop/expect.h>

#include <string>
#include <vector>

namespace kiai::tool {

struct Judged {
    bool readable = false; ///< else the findings about the file are on standard error
    std::vector<ExpectationResult> met;

    bool good() const noexcept;
};

Judged judge(const Rehearsal& rehearsal, const std::string& file);
/// A line each, the ones that fail with what happened.
void print_judged(const Judged& judged, const std::string& file);
/// A picture of the piece of each that failed, `line-N.png`, in a folder that is made; false where one was not written.
bool draw_pieces(const Rehearsal& rehearsal, const Judged& judged, const std::string& folder);

} // namespace kiai::tool
