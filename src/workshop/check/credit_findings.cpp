// Reports doubts about the author and the licence of a clip.
#include "workshop/check/findings.h"
#include "workshop/check/licences.h"

#include <fmt/format.h>

namespace kiai::workshop {

void doubt_credits(const model::Project& project, reader::Findings& findings) {
    for (const model::Clip& clip : project.clips) {
        const auto say = [&](FindingCode code, const std::string& message, const std::string& fix) {
            findings.add(code, clip.source, fmt::format("clip \"{}\": {}", clip.name, message), fix, clip.name);
        };
        const model::Credit& credit = clip.credit;
        if (credit.licence.empty()) {
            say(FindingCode::no_credit,
                credit.author.empty() ? "no author and no licence recorded" : "no licence recorded",
                "write author and licence in the clip, or in [credit.\"…\"]");
            continue;
        }
        const Licence licence = read_licence(credit.licence);
        if (!licence.unknown.empty())
            say(FindingCode::unknown_licence, fmt::format("\"{}\" is not an SPDX licence identifier", licence.unknown),
                (licence.nearest.empty() ? std::string() : fmt::format("did you mean \"{}\"? ", licence.nearest)) +
                    "Write your own agreement as \"LicenseRef-…\"");
        if (licence.demands_author && credit.author.empty())
            say(FindingCode::no_author,
                fmt::format("{} requires attribution, but no author is recorded", credit.licence),
                "write author = \"…\"");
    }
}

} // namespace kiai::workshop
