// Systems without threads, such as a browser's worklet.
#pragma once

namespace kiai::model {

#if defined(__EMSCRIPTEN__) && !defined(__EMSCRIPTEN_PTHREADS__)
inline constexpr bool has_threads = false;
#else
inline constexpr bool has_threads = true;
#endif

} // namespace kiai::model
