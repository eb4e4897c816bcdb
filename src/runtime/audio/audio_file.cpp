#include "runtime/audio/audio_file.h"

namespace kiai::runtime {
/// The callbacks through which the audio library reads a file.
struct AudioFile::Bytes {
    std::unique_ptr<FileReader> reader;
    std::int64_t size = 0, at = 0;

    static sf_count_t length(void* self) { return static_cast<Bytes*>(self)->size; }
    static sf_count_t seek(sf_count_t by, int whence, void* self) {
        auto& bytes = *static_cast<Bytes*>(self);
        const std::int64_t to = (whence == SEEK_SET ? 0 : whence == SEEK_END ? bytes.size : bytes.at) + by;
        if (to < 0) return -1;
        return bytes.at = to;
    }
    static sf_count_t read(void* into, sf_count_t count, void* self) {
        auto& bytes = *static_cast<Bytes*>(self);
        const std::int64_t got = read_from(*bytes.reader, bytes.at, into, count);
        bytes.at += got;
        return got;
    }
    static sf_count_t write(const void*, sf_count_t, void*) { return 0; }
    static sf_count_t tell(void* self) { return static_cast<Bytes*>(self)->at; }
};

AudioFile::AudioFile(const FileAccess& access, const std::string& file) {
    if (!access.own()) {
        file_ = sf_open(access.path(file).string().c_str(), SFM_READ, &info_);
    } else if (auto reader = access.open(file)) {
        bytes_ = std::make_unique<Bytes>();
        bytes_->size = size_of(*reader);
        bytes_->reader = std::move(reader);
        SF_VIRTUAL_IO calls{&Bytes::length, &Bytes::seek, &Bytes::read, &Bytes::write, &Bytes::tell};
        file_ = sf_open_virtual(&calls, SFM_READ, &info_, bytes_.get());
    }
    // A lossy file may decode to more than full scale, which must not wrap around.
    if (file_) sf_command(file_, SFC_SET_CLIPPING, nullptr, SF_TRUE);
}

AudioFile::~AudioFile() {
    if (file_) sf_close(file_);
}

} // namespace kiai::runtime
