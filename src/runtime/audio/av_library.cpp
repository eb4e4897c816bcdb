#include "runtime/audio/av_library.h"

#include "runtime/system/library.h"

namespace kiai::runtime {
namespace {

template<class Function>
bool find(void* library, const char* name, Function& function) noexcept {
    function = reinterpret_cast<Function>(function_of(library, name));
    return function != nullptr;
}

/// The libraries stay loaded until the program ends, because they keep state of their own.
bool load(AvLibrary& av) noexcept {
    const bool app_has_it = is_loaded(KIAI_AVUTIL);
    void* const util = load_library(KIAI_AVUTIL);
    void* const codec = load_library(KIAI_AVCODEC);
    void* const format = load_library(KIAI_AVFORMAT);
    if (!util || !codec || !format) return false;
    const bool complete =
        find(util, "av_malloc", av.malloc) && find(util, "av_freep", av.freep) &&
        find(util, "av_log_set_level", av.set_log_level) && find(util, "av_frame_alloc", av.frame_alloc) &&
        find(util, "av_frame_free", av.frame_free) && find(codec, "av_packet_alloc", av.packet_alloc) &&
        find(codec, "av_packet_free", av.packet_free) && find(codec, "av_packet_unref", av.packet_unref) &&
        find(codec, "avcodec_find_decoder", av.find_decoder) &&
        find(codec, "avcodec_alloc_context3", av.alloc_decoder) &&
        find(codec, "avcodec_free_context", av.free_decoder) &&
        find(codec, "avcodec_parameters_to_context", av.set_parameters) &&
        find(codec, "avcodec_open2", av.open_decoder) && find(codec, "avcodec_send_packet", av.send_packet) &&
        find(codec, "avcodec_receive_frame", av.receive_frame) && find(codec, "avcodec_flush_buffers", av.flush) &&
        find(format, "avformat_alloc_context", av.alloc_input) && find(format, "avformat_open_input", av.open_input) &&
        find(format, "avformat_close_input", av.close_input) &&
        find(format, "avformat_find_stream_info", av.find_stream_info) &&
        find(format, "av_find_input_format", av.find_input_format) &&
        find(format, "av_find_best_stream", av.find_best_stream) && find(format, "av_read_frame", av.read_packet) &&
        find(format, "av_seek_frame", av.seek) && find(format, "avio_alloc_context", av.alloc_io) &&
        find(format, "avio_context_free", av.free_io);
    // They would print to the app's standard error. An app that uses them itself has chosen what they print.
    if (complete && !app_has_it) av.set_log_level(AV_LOG_QUIET);
    return complete;
}

} // namespace

const AvLibrary* av_library() noexcept {
    static AvLibrary library;
    static const bool loaded = load(library);
    return loaded ? &library : nullptr;
}

} // namespace kiai::runtime
