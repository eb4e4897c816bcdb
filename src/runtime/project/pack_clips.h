// Reads the clips of a project from a pack.
#pragma once

#include "core/reader/clip_files.h"
#include "runtime/project/pack_file.h"

#include <kiai/load.h>

#include <string>
#include <unordered_map>

namespace kiai::runtime {

class PackClips : public reader::ClipFiles {
  public:
    /// Without `options`, clips are only named and have no samples. All arguments must outlive the object.
    PackClips(const Pack& pack, const LoadOptions* options);
    bool exists(const std::string& file) const override { return by_file_.contains(file); }
    bool stays_inside(const std::string&) const override { return true; }
    std::vector<reader::Decoded> read(const std::vector<reader::AskedFile>& files) override;
    Meant meant(const std::string&, const std::set<std::string>&) override {
        return {"make the pack again with `kiai pack`", {}};
    }

  private:
    reader::Decoded decode(const PackClip& clip, reader::Stream stream, std::span<const std::byte> mapped) const;

    const Pack& pack_;
    const LoadOptions* options_;
    std::unordered_map<std::string, const PackClip*> by_file_;
};

} // namespace kiai::runtime
