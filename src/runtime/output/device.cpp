#include "runtime/output/device.h"

#include <portaudio.h>

#ifdef KIAI_QUIET_alsa
#include <alsa/asoundlib.h>
#endif
#ifdef KIAI_QUIET_jack
#include <jack/jack.h>
#endif

#include <algorithm>
#include <atomic>
#include <chrono>
#include <mutex>
#include <vector>

namespace kiai::runtime {
namespace {

/// A lower latency is never requested: what the device calls its lowest leaves gaps as soon as the machine is busy.
constexpr double least_latency = 0.03;

std::mutex library; // its start and end, and its streams', are not safe to call from two threads

#ifdef KIAI_QUIET_alsa
void ignore_alsa(const char*, int, const char*, int, const char*, ...) {}
#endif

void keep_quiet() {
#ifdef KIAI_QUIET_alsa
    snd_lib_error_set_handler(&ignore_alsa);
#endif
#ifdef KIAI_QUIET_jack
    jack_set_error_function([](const char*) {});
    jack_set_info_function([](const char*) {});
#endif
}

} // namespace

struct Device::Stream {
    PaStream* stream = nullptr;
    Fill fill;
    int channels = 2;
    std::vector<float> stereo; // for a mono device
    std::atomic<std::uint64_t> late{0};

    static int more(const void*, void* output, unsigned long frames, const PaStreamCallbackTimeInfo*,
                    PaStreamCallbackFlags flags, void* self) {
        auto& stream = *static_cast<Stream*>(self);
        if ((flags & paOutputUnderflow) != 0) stream.late.fetch_add(1, std::memory_order_relaxed);
        auto* out = static_cast<float*>(output);
        if (stream.channels == 2) {
            stream.fill({out, frames * 2});
            return paContinue;
        }
        for (unsigned long done = 0; done < frames;) {
            const unsigned long now = std::min<unsigned long>(frames - done, stream.stereo.size() / 2);
            stream.fill({stream.stereo.data(), now * 2});
            for (unsigned long i = 0; i < now; ++i)
                out[done + i] = 0.5f * (stream.stereo[2 * i] + stream.stereo[2 * i + 1]);
            done += now;
        }
        return paContinue;
    }
};

namespace {

/// The device library, from its start to its end. Only a fresh start finds devices that were plugged in later.
class Library {
  public:
    Library() : error_(Pa_Initialize()) {}
    ~Library() {
        if (error_ == paNoError) Pa_Terminate();
    }
    Library(const Library&) = delete;
    Library& operator=(const Library&) = delete;
    PaError error() const noexcept { return error_; }
    /// Leaves the end to another owner.
    void keep() noexcept { error_ = paNotInitialized; }

  private:
    PaError error_;
};

/// Returns the outputs that a name may mean.
std::vector<PaDeviceIndex> named(const std::string& name) {
    std::vector<PaDeviceIndex> exact, part;
    for (PaDeviceIndex i = 0; i < Pa_GetDeviceCount(); ++i) {
        const PaDeviceInfo* info = Pa_GetDeviceInfo(i);
        if (!info || info->maxOutputChannels < 1) continue;
        const std::string own = info->name;
        if (own == name) exact.push_back(i);
        if (own.find(name) != std::string::npos) part.push_back(i);
    }
    return exact.empty() ? part : exact;
}

PaDeviceIndex choose(const std::string& name, std::string& why) {
    if (name.empty()) {
        const PaDeviceIndex index = Pa_GetDefaultOutputDevice();
        if (index == paNoDevice) why = "the system has no output device";
        return index;
    }
    const auto found = named(name);
    if (found.size() == 1) return found.front();
    why =
        found.empty() ? "there is no output \"" + name + "\"" : "several outputs have \"" + name + "\" in their names";
    return paNoDevice;
}

/// Returns `; it takes 44100, 48000` if the rate is the problem.
std::string rates_of(const PaStreamParameters& output) {
    std::string rates;
    for (const int rate : {8000, 16000, 22050, 32000, 44100, 48000, 88200, 96000, 192000})
        if (Pa_IsFormatSupported(nullptr, &output, rate) == paFormatIsSupported)
            rates += (rates.empty() ? "; it takes " : ", ") + std::to_string(rate);
    return rates;
}

} // namespace

std::unique_ptr<Device> Device::open(const SpeakerSettings& wanted, int rate, Fill fill, std::string& why) {
    const std::lock_guard lock(library);
    keep_quiet();
    Library started;
    if (started.error() != paNoError) {
        why = Pa_GetErrorText(started.error());
        return nullptr;
    }
    const PaDeviceIndex index = choose(wanted.device, why);
    const PaDeviceInfo* info = index == paNoDevice ? nullptr : Pa_GetDeviceInfo(index);
    if (!info) return nullptr;
    std::unique_ptr<Device> device(new Device);
    device->name_ = info->name;
    device->stream_ = std::make_unique<Stream>();
    Stream& stream = *device->stream_;
    stream.fill = std::move(fill);
    stream.channels = std::min(2, std::max(1, info->maxOutputChannels));
    stream.stereo.resize(2048);
    const double latency = wanted.latency.count() > 0 ? std::min(wanted.latency.count(), 10.0)
                                                      : std::max(least_latency, info->defaultLowOutputLatency);
    const PaStreamParameters output{index, stream.channels, paFloat32, latency, nullptr};
    const auto block = static_cast<unsigned long>(std::clamp(wanted.block, 0, 16384));
    const PaError error =
        Pa_OpenStream(&stream.stream, nullptr, &output, rate, block, paNoFlag, &Stream::more, &stream);
    if (error != paNoError) {
        why = device->name_ + ": " + Pa_GetErrorText(error);
        if (error == paInvalidSampleRate)
            why = device->name_ + " refuses " + std::to_string(rate) + " frames per second" + rates_of(output);
        stream.stream = nullptr;
        return nullptr;
    }
    started.keep(); // until the device goes
    return device;
}

Device::~Device() {
    if (!stream_ || !stream_->stream) return;
    const std::lock_guard lock(library);
    Pa_StopStream(stream_->stream); // lets what it was given be heard
    Pa_CloseStream(stream_->stream);
    Pa_Terminate();
}

bool Device::start() {
    using Clock = std::chrono::steady_clock;
    const std::lock_guard lock(library);
    const auto begin = Clock::now();
    const PaError error = Pa_StartStream(stream_->stream);
    // PortAudio waits a second for its thread, then cancels and joins it. It may report that as a success, because its
    // threads share the variable of the last error. Closing the stream would cancel and join the thread id again, which
    // another thread may have by now.
    constexpr auto longest_start = std::chrono::milliseconds(900);
    if (error != paTimedOut && Clock::now() - begin < longest_start) return error == paNoError;
    static auto* const left = new std::vector<std::unique_ptr<Stream>>;
    left->push_back(std::move(stream_));
    return false;
}

Seconds Device::latency() const {
    const PaStreamInfo* info = stream_ ? Pa_GetStreamInfo(stream_->stream) : nullptr;
    return Seconds(info ? info->outputLatency : 0);
}

std::uint64_t Device::late() const noexcept {
    return stream_->late.load(std::memory_order_relaxed);
}

bool Device::active() const {
    return Pa_IsStreamActive(stream_->stream) == 1;
}

} // namespace kiai::runtime

namespace kiai::inline v0 {

std::vector<OutputDevice> output_devices() {
    using namespace runtime;
    const std::lock_guard lock(library);
    keep_quiet();
    const Library started;
    std::vector<OutputDevice> all;
    if (started.error() != paNoError) return all;
    for (const PaDeviceIndex index : named("")) {
        const PaDeviceInfo* info = Pa_GetDeviceInfo(index);
        all.push_back({info->name, info->maxOutputChannels, static_cast<int>(info->defaultSampleRate),
                       index == Pa_GetDefaultOutputDevice()});
    }
    return all;
}

} // namespace kiai::inline v0
