// FFmpeg's libraries, which decode AAC and Apple Lossless. They are loaded when the first file needs them, so that no
// program links or loads them for anything else.
#pragma once

extern "C" {
#include <libavcodec/avcodec.h>
#include <libavformat/avformat.h>
}

namespace kiai::runtime {

/// The functions that this library calls.
struct AvLibrary {
    decltype(&::av_malloc) malloc = nullptr;
    decltype(&::av_freep) freep = nullptr;
    decltype(&::av_log_set_level) set_log_level = nullptr;
    decltype(&::av_frame_alloc) frame_alloc = nullptr;
    decltype(&::av_frame_free) frame_free = nullptr;
    decltype(&::av_packet_alloc) packet_alloc = nullptr;
    decltype(&::av_packet_free) packet_free = nullptr;
    decltype(&::av_packet_unref) packet_unref = nullptr;
    decltype(&::avcodec_find_decoder) find_decoder = nullptr;
    decltype(&::avcodec_alloc_context3) alloc_decoder = nullptr;
    decltype(&::avcodec_free_context) free_decoder = nullptr;
    decltype(&::avcodec_parameters_to_context) set_parameters = nullptr;
    decltype(&::avcodec_open2) open_decoder = nullptr;
    decltype(&::avcodec_send_packet) send_packet = nullptr;
    decltype(&::avcodec_receive_frame) receive_frame = nullptr;
    decltype(&::avcodec_flush_buffers) flush = nullptr;
    decltype(&::avformat_alloc_context) alloc_input = nullptr;
    decltype(&::avformat_open_input) open_input = nullptr;
    decltype(&::avformat_close_input) close_input = nullptr;
    decltype(&::avformat_find_stream_info) find_stream_info = nullptr;
    decltype(&::av_find_input_format) find_input_format = nullptr;
    decltype(&::av_find_best_stream) find_best_stream = nullptr;
    decltype(&::av_read_frame) read_packet = nullptr;
    decltype(&::av_seek_frame) seek = nullptr;
    decltype(&::avio_alloc_context) alloc_io = nullptr;
    decltype(&::avio_context_free) free_io = nullptr;
};

/// Returns null if the system has no such libraries of the version that this library was compiled for. [any]
const AvLibrary* av_library() noexcept;

} // namespace kiai::runtime
