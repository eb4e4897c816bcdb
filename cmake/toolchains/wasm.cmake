# WebAssembly, with Debian's emscripten; its programs run in a browser, or in Node without its fetch, which emscripten's
# loader would use for files.
include(/usr/share/emscripten/cmake/Modules/Platform/Emscripten.cmake)
set(CMAKE_EXE_LINKER_FLAGS_INIT "-s ALLOW_MEMORY_GROWTH=1")
# The linker runs in Node; a Node that is not Debian's does not know where Debian's modules are.
set(CMAKE_CXX_LINKER_LAUNCHER ${CMAKE_COMMAND} -E env NODE_PATH=/usr/share/nodejs)
set(CMAKE_CROSSCOMPILING_EMULATOR node --no-experimental-fetch)
