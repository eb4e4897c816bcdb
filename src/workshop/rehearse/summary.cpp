#include <kiai/workshop/summary.h>

#include <algorithm>
#include <map>
#include <set>
#include <string>
#include <utility>
#include <vector>

namespace kiai::inline v0 {
namespace {

struct Gathered {
    SoundSummary row;
    std::set<std::string> heard;
    std::map<std::uint32_t, Frames> begun;     ///< of plays whose end is not known yet
    std::vector<std::pair<Frames, int>> turns; ///< 1: one begins to count; -1: one counts no longer

    void ended(const Decision& decision) {
        const auto at = begun.find(decision.play);
        if (at == begun.end()) return;
        if (decision.counted > 0) turns.insert(turns.end(), {{at->second, 1}, {at->second + decision.counted, -1}});
        begun.erase(at);
    }
    /// Counts as limits do: a play counts from its start until its stop.
    int most_at_once() {
        for (const auto& [play, frame] : begun) turns.emplace_back(frame, 1);
        std::sort(turns.begin(), turns.end()); // ends first
        int now = 0, most = 0;
        for (const auto& [frame, step] : turns) most = std::max(most, now += step);
        return most;
    }
};

void add_play(Gathered& sound, const Decision& decision) {
    SoundSummary& row = sound.row;
    int takes = 0;
    for (const LayerTake& layer : decision.layers) {
        if (sound.heard.empty()) {
            row.least_pitch = row.most_pitch = layer.pitch;
            row.least_gain = row.most_gain = layer.gain;
        }
        sound.heard.insert(layer.clip);
        takes += layer.of;
        row.least_pitch = std::min(row.least_pitch, layer.pitch),
        row.most_pitch = std::max(row.most_pitch, layer.pitch);
        row.least_gain = std::min(row.least_gain, layer.gain), row.most_gain = std::max(row.most_gain, layer.gain);
    }
    ++row.plays;
    row.takes = takes;
    row.takes_heard = static_cast<int>(sound.heard.size());
    sound.begun[decision.play] = decision.frame;
}

} // namespace

Summary summarise(const Rehearsal& rehearsal) {
    Summary summary;
    std::vector<Gathered> sounds;
    std::set<std::uint64_t> causes;
    for (const Decision& decision : rehearsal.decisions) {
        if (decision.cause > 0) causes.insert(decision.cause);
        summary.unanswered += decision.outcome == Outcome::no_zone || decision.outcome == Outcome::no_binding ? 1 : 0;
        if (decision.sound.empty()) continue;
        auto at = std::find_if(sounds.begin(), sounds.end(),
                               [&](const Gathered& one) { return one.row.sound == decision.sound; });
        if (at == sounds.end()) {
            at = sounds.insert(at, Gathered{});
            at->row.sound = decision.sound;
        }
        switch (decision.outcome) {
        case Outcome::played:
            add_play(*at, decision);
            break;
        case Outcome::refused_gap:
        case Outcome::refused_limit:
        case Outcome::refused_full:
            ++at->row.refused;
            break;
        case Outcome::stolen:
            ++at->row.stolen;
            break;
        case Outcome::ended:
            at->ended(decision);
            at->row.peak = std::max(at->row.peak, decision.level);
            break;
        default:
            break;
        }
    }
    summary.triggers = static_cast<int>(causes.size());
    for (Gathered& sound : sounds) {
        sound.row.most_at_once = sound.most_at_once();
        summary.sounds.push_back(std::move(sound.row));
    }
    return summary;
}

} // namespace kiai::inline v0
