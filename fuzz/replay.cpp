// A replacement for libFuzzer: runs a target on each file of the given folders.
#include "target.h"

#include <fstream>
#include <iostream>
#include <iterator>

int main(int count, char** arguments) {
    int files = 0;
    for (int i = 1; i < count; ++i)
        for (const auto& entry : std::filesystem::directory_iterator(arguments[i])) {
            std::ifstream in(entry.path(), std::ios::binary);
            const std::string bytes{std::istreambuf_iterator<char>(in), {}};
            LLVMFuzzerTestOneInput(reinterpret_cast<const std::uint8_t*>(bytes.data()), bytes.size());
            ++files;
        }
    std::cout << files << " inputs\n";
    return files > 0 ? 0 : 1; // a corpus that is missing proves nothing
}
