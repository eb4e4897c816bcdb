// Names of entries, typed by the kind of entry.
#pragma once

#include <cstdint>
#include <string_view>
#include <type_traits>

namespace kiai::inline v0 {

/// The kind of entry that a name belongs to.
enum class NameKind : std::uint8_t {
    bus = 0,
    dial = 1,
    scope = 2,
    zone = 3,
    motion = 4,
    sequence = 5,
    notice = 6,
    contact = 7,
    value = 8,
    sound = 9,
    clip = 10
};

template<NameKind kind>
class Name;

namespace detail {
/// FNV-1a, 64 bits.
constexpr std::uint64_t hash(std::string_view text) noexcept {
    std::uint64_t value = 0xcbf29ce484222325u;
    for (const char c : text) value = (value ^ static_cast<unsigned char>(c)) * 0x100000001b3u;
    return value;
}
} // namespace detail

/// A name of any kind. A plain value. Its text must live until the call that receives the name returns.
class AnyName {
  public:
    constexpr AnyName() = default;
    template<class Text>
    requires std::is_convertible_v<const Text&, std::string_view>
    constexpr AnyName(const Text& text) : text_(text) {}
    /// For the header that `kiai names` makes. `number`: the number of the name in an engine that starts with this
    /// project, which avoids a search. If the text at that number has another hash, the engine searches for the text.
    constexpr AnyName(std::string_view text, std::uint32_t number)
        : text_(text), hash_(detail::hash(text)), number_(number) {}

    constexpr std::string_view text() const noexcept { return text_; }
    constexpr std::uint32_t number() const noexcept { return number_; }
    /// The hash of a constant's text, which the compiler computes.
    constexpr std::uint64_t hash() const noexcept { return hash_; }
    constexpr bool empty() const noexcept { return text_.empty(); }

  private:
    std::string_view text_;
    std::uint64_t hash_ = 0;
    std::uint32_t number_ = 0; ///< 0: unknown
};

/// A text (`"roll"`), or a constant of the header that `kiai names` makes (`names::sound::roll`). A constant of another
/// kind does not compile.
template<NameKind kind>
class Name : public AnyName {
  public:
    constexpr Name() = default;
    template<class Text>
    requires std::is_convertible_v<const Text&, std::string_view>
    constexpr Name(const Text& text) : AnyName(text) {}
    constexpr Name(std::string_view text, std::uint32_t number) : AnyName(text, number) {}
    /// A clip can be played in place of a sound.
    constexpr Name(const Name<NameKind::clip>& clip) requires(kind == NameKind::sound) : AnyName(clip) {}
};

using SoundName = Name<NameKind::sound>;
using ClipName = Name<NameKind::clip>;
using BusName = Name<NameKind::bus>;
using DialName = Name<NameKind::dial>;
using ScopeName = Name<NameKind::scope>;
using ZoneName = Name<NameKind::zone>;
using MotionName = Name<NameKind::motion>;
using SequenceName = Name<NameKind::sequence>;
using NoticeName = Name<NameKind::notice>;
using ContactName = Name<NameKind::contact>; ///< the kind of a body
using ValueName = Name<NameKind::value>;     ///< of a play, see Play::set

} // namespace kiai::inline v0
