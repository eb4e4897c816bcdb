#include "runtime/audio/file_access.h"

#include <algorithm>
#include <fstream>
#include <vector>

namespace kiai::runtime {

std::int64_t read_from(FileReader& reader, std::int64_t from, void* into, std::int64_t count) noexcept {
    try {
        const std::int64_t got = reader.read(
            from, {static_cast<std::byte*>(into), static_cast<std::size_t>(std::max<std::int64_t>(0, count))});
        return std::clamp<std::int64_t>(got, 0, count);
    } catch (...) {
        return 0;
    }
}

std::int64_t size_of(FileReader& reader) noexcept {
    try {
        return std::max<std::int64_t>(0, reader.size());
    } catch (...) {
        return 0;
    }
}

FileAccess::FileAccess(const std::filesystem::path& folder, OpenFile open) : folder_(folder), open_(std::move(open)) {
    std::error_code error;
    const std::filesystem::path absolute = std::filesystem::absolute(folder, error);
    if (!open_ && !error) folder_ = absolute;
}

namespace {

class ReaderBuffer : public std::streambuf {
  public:
    explicit ReaderBuffer(std::unique_ptr<FileReader> reader) : reader_(std::move(reader)), size_(size_of(*reader_)) {}

  protected:
    int_type underflow() override {
        at_ += egptr() - eback();
        const auto got = read_from(*reader_, at_, block_.data(), static_cast<std::int64_t>(block_.size()));
        setg(block_.data(), block_.data(), block_.data() + got);
        return got > 0 ? traits_type::to_int_type(block_[0]) : traits_type::eof();
    }
    pos_type seekoff(off_type by, std::ios::seekdir from, std::ios::openmode) override {
        const off_type now = at_ + (gptr() - eback());
        const off_type to = (from == std::ios::beg ? 0 : from == std::ios::end ? size_ : now) + by;
        if (to < 0) return pos_type(off_type(-1));
        at_ = to;
        setg(block_.data(), block_.data(), block_.data());
        return to;
    }
    pos_type seekpos(pos_type to, std::ios::openmode which) override { return seekoff(to, std::ios::beg, which); }

  private:
    std::unique_ptr<FileReader> reader_;
    std::int64_t size_, at_ = 0; ///< of the block's first byte
    std::vector<char> block_ = std::vector<char>(1 << 14);
};

class ReaderStream : private ReaderBuffer, public std::istream {
  public:
    explicit ReaderStream(std::unique_ptr<FileReader> reader)
        : ReaderBuffer(std::move(reader)), std::istream(static_cast<ReaderBuffer*>(this)) {}
};

} // namespace

bool FileAccess::exists(const std::string& file) const {
    std::error_code error;
    return own() ? open(file) != nullptr : std::filesystem::is_regular_file(path(file), error);
}

std::unique_ptr<FileReader> FileAccess::open(const std::string& file) const {
    try {
        return open_(file);
    } catch (...) {
        return nullptr;
    }
}

std::unique_ptr<std::istream> FileAccess::stream(const std::string& file) const {
    if (own()) {
        auto reader = open(file);
        return reader ? std::make_unique<ReaderStream>(std::move(reader)) : nullptr;
    }
    auto stream = std::make_unique<std::ifstream>(path(file), std::ios::binary);
    return *stream ? std::move(stream) : nullptr;
}

} // namespace kiai::runtime
