// Returns the exception of a call as a value. In a build without exceptions there are none.
#pragma once

#include <exception>

namespace kiai::model {

/// Calls `call`, and returns its exception, or null.
template<class Call>
std::exception_ptr thrown_by(const Call& call) noexcept {
#ifdef __cpp_exceptions
    try {
        call();
    } catch (...) {
        return std::current_exception();
    }
#else
    call();
#endif
    return nullptr;
}

/// Calls `call`. If it throws, calls `threw` with the exception's text.
template<class Call, class Threw>
void guarded(const Call& call, const Threw& threw) noexcept {
#ifdef __cpp_exceptions
    try {
        call();
    } catch (const std::exception& exception) {
        threw(exception.what());
    } catch (...) {
        threw("of unknown type");
    }
#else
    call();
    static_cast<void>(threw);
#endif
}

} // namespace kiai::model
