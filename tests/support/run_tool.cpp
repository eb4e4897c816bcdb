#include "support/run_tool.h"
#include "support/places.h"

#include "support/project_folder.h"

#include <cstdlib>
#include <sys/wait.h>

namespace support {

Ran run(const std::string& command, const std::filesystem::path& folder) {
    const Folder results;
    const std::string out = (results.path() / "out").string(), err = (results.path() / "err").string();
    const std::string go = folder.empty() ? "" : "cd '" + folder.string() + "' && ";
    const int status = std::system(("(" + go + command + ") >'" + out + "' 2>'" + err + "' </dev/null").c_str());
    return {WIFEXITED(status) ? WEXITSTATUS(status) : 128, results.read("out"), results.read("err")};
}

Ran kiai_tool(const std::string& arguments, const std::filesystem::path& folder) {
    return run("'" + tested_tool() + "' " + arguments, folder);
}

std::filesystem::path demo() {
    return std::filesystem::path(source_folder()) / "examples" / "marble-run";
}

} // namespace support
