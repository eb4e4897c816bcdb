#include "speaker/device.h"

#include <portaudio.h>

#ifdef KIAI_QUIET_alsa
#include <alsa/asoundlib.h>
#endif
#ifdef KIAI_QUIET_jack
#include <jack/jack.h>
#endif

#include <algorithm>
#include <mutex>
#include <vector>

namespace kiai::speaker {
namespace {

/// Less than this is not asked for: what the device calls its lowest leaves holes as soon as the machine is busy.
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

    static int more(const void*, void* output, unsigned long frames, const PaStreamCallbackTimeInfo*,
                    PaStreamCallbackFlags, void* self) {
        auto& stream = *static_cast<Stream*>(self);
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

std::unique_ptr<Device> Device::open_default(int rate, Fill fill, std::string& why) {
    const std::lock_guard lock(library);
    keep_quiet();
    if (const PaError error = Pa_Initialize(); error != paNoError) {
        why = Pa_GetErrorText(error);
        return nullptr;
    }
    const PaDeviceIndex index = Pa_GetDefaultOutputDevice();
    const PaDeviceInfo* info = index == paNoDevice ? nullptr : Pa_GetDeviceInfo(index);
    if (!info) {
        Pa_Terminate();
        why = "the system has no output device";
        return nullptr;
    }
    std::unique_ptr<Device> device(new Device);
    device->name_ = info->name;
    device->stream_ = std::make_unique<Stream>();
    Stream& stream = *device->stream_;
    stream.fill = std::move(fill);
    stream.channels = std::min(2, std::max(1, info->maxOutputChannels));
    stream.stereo.resize(2048);
    const PaStreamParameters output{index, stream.channels, paFloat32,
                                    std::max(least_latency, info->defaultLowOutputLatency), nullptr};
    const PaError error = Pa_OpenStream(&stream.stream, nullptr, &output, rate, paFramesPerBufferUnspecified, paNoFlag,
                                        &Stream::more, &stream);
    if (error != paNoError) {
        why = device->name_ + ": " + Pa_GetErrorText(error);
        stream.stream = nullptr;
        Pa_Terminate();
        return nullptr;
    }
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
    const std::lock_guard lock(library);
    return Pa_StartStream(stream_->stream) == paNoError;
}

bool Device::active() const {
    return Pa_IsStreamActive(stream_->stream) == 1;
}

} // namespace kiai::speaker
