// Names of a project's entries, each of one kind.
#pragma once

#include <cstdint>
#include <string_view>
#include <type_traits>

namespace kiai::inline v0 {

/// What a name is the name of.
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

/// A name of any kind. A plain value; its text has to live until the call that it is given to returns.
class AnyName {
  public:
    constexpr AnyName() = default;
    template<class Text>
    requires std::is_convertible_v<const Text&, std::string_view>
    constexpr AnyName(const Text& text) : text_(text) {}
    /// For the header that `kiai names` makes. `number`: that of the name in an engine that begins with this project,
    /// so that a call finds it without a search; where it is another, the text is searched for.
    constexpr AnyName(std::string_view text, std::uint32_t number) : text_(text), number_(number) {}

    constexpr std::string_view text() const noexcept { return text_; }
    constexpr std::uint32_t number() const noexcept { return number_; }
    constexpr bool empty() const noexcept { return text_.empty(); }

  private:
    std::string_view text_;
    std::uint32_t number_ = 0; ///< 0: not known
};

/// A text (`"roll"`), or a constant of the header that `kiai names` makes of a project (`names::sound::roll`): a
/// constant of another kind does not compile.
template<NameKind kind>
class Name : public AnyName {
  public:
    constexpr Name() = default;
    template<class Text>
    requires std::is_convertible_v<const Text&, std::string_view>
    constexpr Name(const Text& text) : AnyName(text) {}
    constexpr Name(std::string_view text, std::uint32_t number) : AnyName(text, number) {}
    /// A clip may be played where a sound may.
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
