// `rehearse --expect`: compares a run with expectations.
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
/// Prints a line per expectation; a failed one with what happened.
void print_judged(const Judged& judged, const std::string& file);
/// Draws the part of the run around each failed expectation, `line-N.png`, into a folder that is made. Returns false if
/// a picture was not written.
bool draw_pieces(const Rehearsal& rehearsal, const Judged& judged, const std::string& folder);

} // namespace kiai::tool
