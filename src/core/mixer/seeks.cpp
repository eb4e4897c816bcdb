#include "core/mixer/seeks.h"

namespace kiai::mixer {

void Seeks::ask(int index, double seconds, Frames now) noexcept {
    ActivePlay& play = item(table_.plays, index);
    play.goal = seconds;
    if (!play.unheard(now) && !play.frozen) {
        play.seeking = true;
        return play.envelope.move_to(0, now - play.skipped);
    }
    // The voices of a play are contiguous.
    for (std::size_t begin = 0, end = 0; begin < table_.order.size(); begin = end) {
        const int other = item(table_.voices, table_.order[begin]).play;
        while (end < table_.order.size() && item(table_.voices, table_.order[end]).play == other) ++end;
        if (other == index) return go(play, {table_.order.data() + begin, end - begin});
    }
}

void Seeks::go(const ActivePlay& play, std::span<const int> voices) noexcept {
    for (const int slot : voices) {
        ActiveVoice& active = item(table_.voices, slot);
        if (active.play == no_play) continue;
        const VoiceStory& story = item(table_.stories, slot);
        const auto frame = static_cast<std::int64_t>(play.goal * story.audio->rate + 0.5);
        const std::int64_t turns = turns_of(*story.lap, play.options);
        Stream* stream = nullptr;
        if (Stream* const before = active.voice.stream()) {
            story.users->fetch_add(1, std::memory_order_relaxed); // the new one uses the clip as well
            stream = table_.stream_for(story, turns, story.lap->count_of(frame, turns));
            if (!stream) {
                story.users->fetch_sub(1, std::memory_order_relaxed);
                continue; // none is free: it stays where it is
            }
            table_.streams.leave(*before);
        }
        active.voice.seek(frame, turns, stream);
    }
}

} // namespace kiai::mixer
