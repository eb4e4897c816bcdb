#include "support/files_in_memory.h"

#include <algorithm>
#include <cstring>

namespace support {

void Gate::hold() {
    const std::lock_guard lock(mutex_);
    held_ = true;
}

void Gate::let_go() {
    const std::lock_guard lock(mutex_);
    held_ = false;
    changed_.notify_all();
}

void Gate::pass() {
    std::unique_lock lock(mutex_);
    ++waiting_;
    changed_.notify_all();
    changed_.wait(lock, [&] { return !held_; });
    --waiting_;
}

void Gate::wait_for_one() {
    std::unique_lock lock(mutex_);
    changed_.wait(lock, [&] { return waiting_ > 0; });
}

namespace {

class Reader : public kiai::FileReader {
  public:
    Reader(std::shared_ptr<const std::string> bytes, std::shared_ptr<Gate> gate)
        : bytes_(std::move(bytes)), gate_(std::move(gate)) {}
    std::int64_t size() override { return static_cast<std::int64_t>(bytes_->size()); }
    std::int64_t read(std::int64_t from, std::span<std::byte> into) override {
        if (gate_) gate_->pass();
        const std::int64_t count = std::clamp<std::int64_t>(size() - from, 0, static_cast<std::int64_t>(into.size()));
        if (count > 0) std::memcpy(into.data(), bytes_->data() + from, static_cast<std::size_t>(count));
        return count;
    }

  private:
    std::shared_ptr<const std::string> bytes_;
    std::shared_ptr<Gate> gate_;
};

} // namespace

kiai::OpenFile files_in_memory(std::map<std::string, std::string> files, std::shared_ptr<Gate> gate) {
    auto all = std::make_shared<std::map<std::string, std::shared_ptr<const std::string>>>();
    for (auto& [name, bytes] : files) (*all)[name] = std::make_shared<const std::string>(std::move(bytes));
    return [all, gate](const std::string& path) -> std::unique_ptr<kiai::FileReader> {
        const auto found = all->find(path);
        if (found == all->end()) return nullptr;
        return std::make_unique<Reader>(found->second, gate);
    };
}

} // namespace support
