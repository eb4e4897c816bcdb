#include "workshop/draw/paper.h"

#include "workshop/disk/atomic_write.h"

#include <cairo.h>
#include <pango/pangocairo.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <string>
#include <string_view>

namespace kiai::workshop {

struct Paper::Sheet {
    cairo_surface_t* surface = nullptr;
    cairo_t* pen = nullptr;
    PangoLayout* layout = nullptr;

    void use(Ink ink) { cairo_set_source_rgba(pen, ink.red, ink.green, ink.blue, ink.alpha); }
    void set(const std::string& words, double size, bool bold) {
        PangoFontDescription* font = pango_font_description_from_string("DejaVu Sans");
        pango_font_description_set_absolute_size(font, size * PANGO_SCALE);
        pango_font_description_set_weight(font, bold ? PANGO_WEIGHT_BOLD : PANGO_WEIGHT_NORMAL);
        pango_layout_set_font_description(layout, font);
        pango_font_description_free(font);
        pango_layout_set_text(layout, words.c_str(), static_cast<int>(words.size()));
    }
};

Paper::Paper(int width, int height) : sheet_(std::make_unique<Sheet>()) {
    sheet_->surface = cairo_image_surface_create(CAIRO_FORMAT_RGB24, width, height);
    sheet_->pen = cairo_create(sheet_->surface);
    sheet_->layout = pango_cairo_create_layout(sheet_->pen);
    sheet_->use(paper);
    cairo_paint(sheet_->pen);
}

void Paper::image(const std::filesystem::path& png) {
    cairo_surface_t* const image = cairo_image_surface_create_from_png(png.c_str());
    cairo_set_source_surface(sheet_->pen, image, 0, 0);
    cairo_paint(sheet_->pen);
    cairo_surface_destroy(image);
}

std::optional<std::pair<int, int>> size_of_png(const std::filesystem::path& png) {
    cairo_surface_t* const image = cairo_image_surface_create_from_png(png.c_str());
    std::optional<std::pair<int, int>> size;
    if (cairo_surface_status(image) == CAIRO_STATUS_SUCCESS)
        size = {cairo_image_surface_get_width(image), cairo_image_surface_get_height(image)};
    cairo_surface_destroy(image);
    return size;
}

Paper::~Paper() {
    g_object_unref(sheet_->layout);
    cairo_destroy(sheet_->pen);
    cairo_surface_destroy(sheet_->surface);
}

void Paper::line(double x0, double y0, double x1, double y1, Ink ink, double width) {
    sheet_->use(ink);
    cairo_set_line_width(sheet_->pen, width);
    cairo_move_to(sheet_->pen, x0, y0);
    cairo_line_to(sheet_->pen, x1, y1);
    cairo_stroke(sheet_->pen);
}

void Paper::outline(const std::vector<std::pair<double, double>>& points, Ink ink, double width, Ink fill) {
    cairo_new_path(sheet_->pen); // a text leaves its place behind
    for (const auto& [x, y] : points) cairo_line_to(sheet_->pen, x, y);
    cairo_close_path(sheet_->pen);
    sheet_->use(fill);
    cairo_fill_preserve(sheet_->pen);
    sheet_->use(ink);
    cairo_set_line_width(sheet_->pen, width);
    cairo_stroke(sheet_->pen);
}

void Paper::cross(double x, double y, double reach, Ink ink) {
    line(x - reach, y - reach, x + reach, y + reach, ink, 1.6);
    line(x - reach, y + reach, x + reach, y - reach, ink, 1.6);
}

void Paper::trail(double x, double y, const std::vector<double>& heights, Ink ink) {
    if (heights.empty()) return;
    const auto count = static_cast<int>(heights.size());
    cairo_move_to(sheet_->pen, x, y);
    for (int i = 0; i < count; ++i) cairo_line_to(sheet_->pen, x + i, y - heights[static_cast<std::size_t>(i)]);
    cairo_line_to(sheet_->pen, x + count, y);
    for (int i = count - 1; i >= 0; --i) cairo_line_to(sheet_->pen, x + i, y + heights[static_cast<std::size_t>(i)]);
    cairo_close_path(sheet_->pen);
    sheet_->use({ink.red, ink.green, ink.blue, 0.55});
    cairo_fill_preserve(sheet_->pen);
    sheet_->use(ink);
    cairo_set_line_width(sheet_->pen, 0.8);
    cairo_stroke(sheet_->pen);
}

void Paper::text(double x, double y, const std::string& words, double size, Ink ink, bool bold) {
    sheet_->set(words, size, bold);
    int width = 0, height = 0;
    pango_layout_get_pixel_size(sheet_->layout, &width, &height);
    cairo_move_to(sheet_->pen, x, std::round(y - height / 2.0));
    pango_cairo_layout_path(sheet_->pen, sheet_->layout);
    sheet_->use({paper.red, paper.green, paper.blue, 0.8});
    cairo_set_line_width(sheet_->pen, 3);
    cairo_stroke(sheet_->pen);
    sheet_->use(ink);
    cairo_move_to(sheet_->pen, x, std::round(y - height / 2.0));
    pango_cairo_show_layout(sheet_->pen, sheet_->layout);
}

void Paper::only(double left, double right) {
    cairo_save(sheet_->pen);
    cairo_rectangle(sheet_->pen, left, -1e4, right - left, 2e4);
    cairo_clip(sheet_->pen);
}

void Paper::everywhere() {
    cairo_restore(sheet_->pen);
}

double Paper::text_width(const std::string& words, double size, bool bold) {
    sheet_->set(words, size, bold);
    int width = 0, height = 0;
    pango_layout_get_pixel_size(sheet_->layout, &width, &height);
    return width;
}

void Paper::shift(double down) {
    cairo_translate(sheet_->pen, 0, down);
}

namespace {

/// Returns the CRC-32 of PNG (ISO 3309; PNG specification, annex D).
std::uint32_t checksum(std::string_view bytes) noexcept {
    std::uint32_t crc = 0xffffffffu;
    for (const char c : bytes) {
        crc ^= static_cast<unsigned char>(c);
        for (int bit = 0; bit < 8; ++bit) crc = crc & 1 ? 0xedb88320u ^ crc >> 1 : crc >> 1;
    }
    return ~crc;
}

std::string big_endian(std::uint32_t number) {
    std::string bytes;
    for (int shift = 24; shift >= 0; shift -= 8) bytes += static_cast<char>(number >> shift & 0xff);
    return bytes;
}

/// Returns a text chunk with the maker of the picture, by which the tool recognises its own files.
std::string made_by() {
    const std::string body = std::string("tEXt") + "Software" + std::string(1, '\0') + "Kiai";
    return big_endian(static_cast<std::uint32_t>(body.size()) - 4) + body + big_endian(checksum(body));
}

cairo_status_t append(void* into, const unsigned char* bytes, unsigned count) {
    static_cast<std::string*>(into)->append(reinterpret_cast<const char*>(bytes), count);
    return CAIRO_STATUS_SUCCESS;
}

} // namespace

std::string Paper::save(const std::filesystem::path& file) {
    constexpr std::size_t after_head = 33; // the signature and the first chunk, which is of one size
    std::string png;
    const cairo_status_t status = cairo_surface_write_to_png_stream(sheet_->surface, &append, &png);
    if (status != CAIRO_STATUS_SUCCESS) return file.string() + ": " + cairo_status_to_string(status);
    return workshop::write_atomically(file, png.insert(after_head, made_by()));
}

} // namespace kiai::workshop
