// Calls into the app, which may throw.
#pragma once

#include <exception>

namespace kiai::model {

/// Calls `call`; if it throws, calls `threw` with what was thrown, as text. In a build without exceptions nothing can
/// be thrown.
template<class Call, class Threw>
void guarded(const Call& call, const Threw& threw) noexcept {
#ifdef __cpp_exceptions
    try {
        call();
    } catch (const std::exception& exception) {
        threw(exception.what());
    } catch (...) {
        threw("of an unknown type");
    }
#else
    call();
    static_cast<void>(threw);
#endif
}

} // namespace kiai::model
