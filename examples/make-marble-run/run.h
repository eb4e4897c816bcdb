// Half a minute on the bench, as a trace.
#pragma once

#include <iosfwd>

namespace bench {

void write_run(std::ostream& out);

} // namespace bench
