#include "workshop/facts/facts_cache.h"

#include "core/model/parallel.h"
#include "runtime/project/folder.h"
#include "workshop/disk/atomic_write.h"
#include "workshop/facts/content_hash.h"
#include "workshop/facts/measure.h"

#include <kiai/version.h>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <fstream>

namespace kiai::workshop {
namespace {

namespace fs = std::filesystem;
using nlohmann::json;

constexpr const char* cache_name = ".kiai-facts.json";
constexpr int cache_format = 2; // changes with what is measured, and how

json to_json(const Facts& facts) {
    json loops = json::array();
    for (std::size_t i = 0; i < facts.loops.size(); ++i)
        loops.push_back({facts.loops[i].begin, facts.loops[i].end, facts.loop_seams[i]});
    return {{"format", facts.format},       {"coding", facts.coding},
            {"bits", facts.bits},           {"rate", facts.rate},
            {"channels", facts.channels},   {"frames", facts.frames},
            {"claimed", facts.claimed},     {"bytes", facts.bytes},
            {"hash", facts.hash},           {"peak", facts.peak},
            {"true-peak", facts.true_peak}, {"loudness", facts.loudness},
            {"lead", facts.lead},           {"trail", facts.trail},
            {"offset", facts.offset},       {"clipped", {facts.clipped, facts.first_clipped, facts.longest_clipped}},
            {"seam", facts.seam},           {"loops", loops},
            {"measured", facts.measured}};
}

Facts from_json(const json& kept) {
    Facts facts;
    kept.at("format").get_to(facts.format);
    kept.at("coding").get_to(facts.coding);
    kept.at("bits").get_to(facts.bits);
    kept.at("rate").get_to(facts.rate);
    kept.at("channels").get_to(facts.channels);
    kept.at("frames").get_to(facts.frames);
    kept.at("claimed").get_to(facts.claimed);
    kept.at("bytes").get_to(facts.bytes);
    kept.at("hash").get_to(facts.hash);
    kept.at("peak").get_to(facts.peak);
    kept.at("true-peak").get_to(facts.true_peak);
    kept.at("loudness").get_to(facts.loudness);
    kept.at("lead").get_to(facts.lead);
    kept.at("trail").get_to(facts.trail);
    kept.at("offset").get_to(facts.offset);
    kept.at("clipped").at(0).get_to(facts.clipped);
    kept.at("clipped").at(1).get_to(facts.first_clipped);
    kept.at("clipped").at(2).get_to(facts.longest_clipped);
    kept.at("seam").get_to(facts.seam);
    kept.at("measured").get_to(facts.measured);
    for (const json& loop : kept.at("loops")) {
        facts.loops.push_back({loop.at(0), loop.at(1)});
        facts.loop_seams.push_back(loop.at(2));
    }
    return facts;
}

} // namespace

struct FactsCache::Look {
    reader::Decoded result;
    std::int64_t changed = 0;
    bool fresh = false; ///< the cache does not say so yet
};

FactsCache::FactsCache(fs::path folder, bool verify, Progress progress)
    : runtime::FolderClips(folder, {}), folder_(std::move(folder)), verify_(verify), progress_(std::move(progress)) {
    load();
}

void FactsCache::load() {
    std::ifstream file(folder_ / cache_name, std::ios::binary);
    if (!file) return;
    kept_ = true;
    try {
        const json all = json::parse(file);
        if (all.at("facts") != cache_format || all.at("version") != version) return;
        for (const auto& [path, kept] : all.at("files").items())
            entries_[path] = {from_json(kept), kept.at("changed").get<std::int64_t>()};
    } catch (const json::exception&) { // a cache that is not what it should be is none
        entries_.clear();
    }
    for (const auto& [path, entry] : entries_) by_hash_.emplace(entry.facts.hash, path);
}

void FactsCache::save() const {
    if (!fresh_) return;
    json files = json::object();
    for (const auto& [path, entry] : entries_) {
        files[path] = to_json(entry.facts);
        files[path]["changed"] = entry.changed;
    }
    const json all{{"facts", cache_format}, {"version", version}, {"files", std::move(files)}};
    static_cast<void>(write_atomically(folder_ / cache_name, all.dump(0, ' ', false, json::error_handler_t::replace)));
}

reader::ClipFiles::Meant FactsCache::meant(const std::string& missing, const std::set<std::string>& named) {
    const auto was = entries_.find(missing);
    if (was == entries_.end()) return FolderClips::meant(missing, named);
    if (!unnamed_) {
        unnamed_.emplace();
        std::error_code error;
        for (const fs::path& path : runtime::find_audio(folder_).audio)
            if (const std::string there = path.lexically_relative(folder_).generic_string(); !named.contains(there))
                unnamed_->emplace(fs::file_size(path, error), there);
    }
    std::string found;
    const auto [from, to] = unnamed_->equal_range(was->second.facts.bytes);
    for (auto at = from; at != to; ++at) {
        if (content_hash(folder_ / at->second) != was->second.facts.hash) continue;
        if (!found.empty()) return FolderClips::meant(missing, named); // which of them is not certain
        found = at->second;
    }
    if (found.empty()) return FolderClips::meant(missing, named);
    return {fmt::format("the same content is in \"{}\", so the file was moved", found), found};
}

void FactsCache::remember(const std::string& file, const Facts& facts) {
    std::error_code error;
    const auto changed = fs::last_write_time(folder_ / file, error).time_since_epoch().count();
    if (error) return;
    fresh_ = true;
    entries_[file] = {facts, static_cast<std::int64_t>(changed)};
}

FactsCache::Look FactsCache::look(const std::string& file) const {
    Look look;
    std::error_code error;
    const fs::path path = folder_ / file;
    const auto size = fs::file_size(path, error);
    look.changed = static_cast<std::int64_t>(fs::last_write_time(path, error).time_since_epoch().count());
    const auto known = entries_.find(file);
    if (!error && !verify_ && known != entries_.end() && known->second.facts.bytes == size &&
        known->second.changed == look.changed) {
        look.result.facts = known->second.facts;
        return look;
    }
    look.fresh = true;
    if (const auto hash = error ? std::nullopt : content_hash(path)) {
        if (const auto same = by_hash_.find(*hash); same != by_hash_.end()) {
            look.result.facts = entries_.at(same->second).facts;
            return look;
        }
        look.result = decode_facts(path);
        look.result.facts.hash = *hash;
        return look;
    }
    look.result = decode_facts(path); // which says why it cannot be read
    return look;
}

std::vector<reader::Decoded> FactsCache::read(const std::vector<reader::AskedFile>& files) {
    std::vector<Look> looks(files.size());
    model::in_parallel(
        files.size(), [&](std::size_t i) { looks[i] = look(files[i].file); }, progress_);
    std::vector<reader::Decoded> all;
    for (std::size_t i = 0; i < files.size(); ++i) {
        if (looks[i].fresh && looks[i].result.ok()) {
            entries_[files[i].file] = {looks[i].result.facts, looks[i].changed};
            by_hash_.emplace(looks[i].result.facts.hash, files[i].file);
            fresh_ = true;
        }
        all.push_back(std::move(looks[i].result));
    }
    return all;
}

} // namespace kiai::workshop
