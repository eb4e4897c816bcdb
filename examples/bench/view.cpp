#include "view.h"

#include <algorithm>
#include <cmath>

namespace {

struct Ink {
    double red, green, blue, alpha = 1;
};

constexpr Ink wall{0.93, 0.90, 0.84}, bench_top{0.86, 0.79, 0.68}, edge{0.45, 0.34, 0.22}, oak{0.69, 0.49, 0.28},
    oak_light{0.80, 0.62, 0.40}, brass{0.80, 0.64, 0.24}, brass_light{0.96, 0.87, 0.56}, glass{0.42, 0.66, 0.70, 0.55},
    glass_light{0.85, 0.96, 0.97, 0.9}, dark{0.20, 0.17, 0.14}, shade{0.25, 0.18, 0.10, 0.22},
    lamp_off{0.48, 0.20, 0.16}, lamp_on{0.93, 0.25, 0.16};

void use(cairo_t* pen, Ink ink) {
    cairo_set_source_rgba(pen, ink.red, ink.green, ink.blue, ink.alpha);
}

void path(cairo_t* pen, const std::vector<Place>& points, bool closed = false) {
    cairo_new_path(pen);
    for (const Place point : points) cairo_line_to(pen, point.x, point.y);
    if (closed) cairo_close_path(pen);
}

/// Draws a bar of a material along a line, lit from above.
void bar(cairo_t* pen, const std::vector<Place>& points, double thick, Ink body, Ink light) {
    cairo_set_line_cap(pen, CAIRO_LINE_CAP_ROUND);
    cairo_set_line_join(pen, CAIRO_LINE_JOIN_ROUND);
    cairo_save(pen);
    cairo_translate(pen, 2, 5);
    path(pen, points);
    use(pen, shade);
    cairo_set_line_width(pen, thick);
    cairo_stroke(pen);
    cairo_restore(pen);
    cairo_save(pen);
    cairo_translate(pen, 0, thick / 2); // bodies roll along its upper edge
    path(pen, points);
    use(pen, body);
    cairo_set_line_width(pen, thick);
    cairo_stroke(pen);
    cairo_translate(pen, 0, -thick / 4);
    path(pen, points);
    use(pen, light);
    cairo_set_line_width(pen, thick / 5);
    cairo_stroke(pen);
    cairo_restore(pen);
}

/// Draws a ball of a material with its highlight.
void ball(cairo_t* pen, Place at, double radius, Ink body, Ink light) {
    cairo_new_path(pen);
    cairo_arc(pen, at.x + 2, at.y + 3, radius, 0, 2 * M_PI);
    use(pen, shade);
    cairo_fill(pen);
    cairo_pattern_t* shine =
        cairo_pattern_create_radial(at.x - radius / 3, at.y - radius / 3, radius / 8, at.x, at.y, radius);
    cairo_pattern_add_color_stop_rgb(shine, 0, light.red, light.green, light.blue);
    cairo_pattern_add_color_stop_rgb(shine, 0.5, body.red, body.green, body.blue);
    cairo_pattern_add_color_stop_rgb(shine, 1, body.red * 0.6, body.green * 0.6, body.blue * 0.6);
    cairo_arc(pen, at.x, at.y, radius, 0, 2 * M_PI);
    cairo_set_source(pen, shine);
    cairo_fill(pen);
    cairo_pattern_destroy(shine);
}

void words(cairo_t* pen, double x, double y, const std::string& text, double size, Ink ink, bool bold = false) {
    cairo_select_font_face(pen, "DejaVu Sans", CAIRO_FONT_SLANT_NORMAL,
                           bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
    cairo_set_font_size(pen, size);
    cairo_move_to(pen, x, y);
    use(pen, ink);
    cairo_show_text(pen, text.c_str());
}

void box(cairo_t* pen, double x, double y, double wide, double tall, Ink ink, double round = 6) {
    cairo_new_path(pen);
    cairo_arc(pen, x + round, y + round, round, M_PI, 1.5 * M_PI);
    cairo_arc(pen, x + wide - round, y + round, round, 1.5 * M_PI, 2 * M_PI);
    cairo_arc(pen, x + wide - round, y + tall - round, round, 0, 0.5 * M_PI);
    cairo_arc(pen, x + round, y + tall - round, round, 0.5 * M_PI, M_PI);
    cairo_close_path(pen);
    use(pen, ink);
    cairo_fill(pen);
}

Ink of_piece(int piece) {
    return piece == 1 ? oak : piece == 2 ? brass : glass;
}

Ink light_of_piece(int piece) {
    return piece == 1 ? oak_light : piece == 2 ? brass_light : glass_light;
}

} // namespace

View::View(double pixels, std::vector<Outline> zones) : scale_(pixels), zones_(std::move(zones)) {
    surface_ = cairo_image_surface_create(CAIRO_FORMAT_RGB24, pixel_width(), pixel_height());
    ground_ = cairo_image_surface_create(CAIRO_FORMAT_RGB24, pixel_width(), pixel_height());
    pen_ = cairo_create(ground_);
    cairo_scale(pen_, scale_, scale_);
    still_life();
    cairo_destroy(pen_);
    pen_ = cairo_create(surface_);
}

View::~View() {
    cairo_destroy(pen_);
    cairo_surface_destroy(surface_);
    cairo_surface_destroy(ground_);
}

void View::save(const std::string& file) const {
    cairo_surface_write_to_png(surface_, file.c_str());
}

int View::pixel_width() const {
    return static_cast<int>(width * scale_);
}

int View::pixel_height() const {
    return static_cast<int>(height * scale_);
}

const unsigned char* View::pixels() const {
    cairo_surface_flush(surface_);
    return cairo_image_surface_get_data(surface_);
}

int View::stride() const {
    return cairo_image_surface_get_stride(surface_);
}

/// Draws everything that does not move.
void View::still_life() {
    use(pen_, wall);
    cairo_paint(pen_);
    box(pen_, 60, 30, 600, 560, bench_top, 14);
    cairo_set_line_width(pen_, 0.7);
    for (int grain = 0; grain < 34; ++grain) { // of the back board
        const double y = 42 + grain * 16.2;
        cairo_move_to(pen_, 66, y);
        cairo_curve_to(pen_, 240, y + 5 * std::sin(grain * 1.7), 430, y - 6 * std::cos(grain * 2.3), 654, y + 3);
        use(pen_, {edge.red, edge.green, edge.blue, 0.16});
        cairo_stroke(pen_);
    }
    box(pen_, 556, 116, 68, 392, {0.55, 0.42, 0.27, 0.45}, 8); // the lift's shaft
    bar(pen_, {{84, 96}, {150, 122}, {392, 245}}, 9, oak, oak_light);
    bar(pen_, {{350, 296}, {416, 348}}, 7, glass, glass_light);
    bar(pen_, {{545, 180}, {545, 292}, {446, 348}}, 7, glass, glass_light);
    bar(pen_, {{196, 430}, {240, 500}, {240, 566}, {480, 566}, {480, 500}, {548, 440}}, 10, oak, oak_light);
    for (const Place peg : {Place{428, 258}, {466, 258}, {504, 258}, {447, 296}, {485, 296}})
        ball(pen_, peg, 5.5, brass, brass_light);
    path(pen_, {{78, 46}, {162, 46}, {146, 92}, {94, 92}}, true); // the hopper
    use(pen_, oak);
    cairo_fill_preserve(pen_);
    use(pen_, edge);
    cairo_set_line_width(pen_, 2);
    cairo_stroke(pen_);
    box(pen_, 86, 52, 68, 6, oak_light, 3);
}

void View::draw(const Bench& bench, const EntryDetails& shown) {
    cairo_identity_matrix(pen_);
    cairo_set_source_surface(pen_, ground_, 0, 0);
    cairo_paint(pen_);
    cairo_scale(pen_, scale_, scale_);
    moving(bench, shown);
    if (shown.drawer) drawer(bench);
    if (shown.zones) zones(shown);
    const std::string help =
        shown.drawer ? "press a box: the next piece · Tab: back to the bench"
                     : "press hopper, lift, lamp · Space · T · 1 2 3 · Tab: parts drawer · F1: zones and log";
    words(pen_, 64, 610, help, 11, dark);
}

void View::moving(const Bench& bench, const EntryDetails& shown) {
    bar(pen_, {{478, 392}, {388, 420}}, 8, of_piece(bench.piece()), light_of_piece(bench.piece()));
    const double hub_x = 330, hub_y = 462; // the wheel
    for (int paddle = 0; paddle < 3; ++paddle) {
        const double angle = -2 * M_PI * bench.wheel_turn() + 2 * M_PI * paddle / 3;
        const Place end{static_cast<float>(hub_x + 46 * std::cos(angle)),
                        static_cast<float>(hub_y + 46 * std::sin(angle))};
        cairo_set_line_width(pen_, 6);
        path(pen_, {{330, 462}, end});
        use(pen_, oak);
        cairo_stroke(pen_);
    }
    ball(pen_, {330, 462}, 7, brass, brass_light);
    const double platform = 480 - 350 * bench.lift_height();
    box(pen_, 562, platform, 56, 10, bench.lifting() ? brass : oak, 4);
    cairo_set_line_width(pen_, 1.5);
    path(pen_, {{590, 118}, {590, static_cast<float>(platform)}});
    use(pen_, edge);
    cairo_stroke(pen_);
    for (int marble = 0; marble < std::min(bench.stock(), 12); ++marble) // what the hopper holds
        ball(pen_, {static_cast<float>(98 + marble % 5 * 11), static_cast<float>(78 - marble / 5 * 11)}, 5, glass,
             glass_light);
    for (const Marble& marble : bench.marbles())
        ball(pen_, bench.place_of(marble), Bench::marble_radius, {0.22, 0.42, 0.52}, {0.9, 0.97, 1});
    ball(pen_, {452, 548}, 14, shown.warning ? lamp_on : lamp_off,
         shown.warning ? Ink{1, 0.85, 0.7} : Ink{0.7, 0.45, 0.4});
    box(pen_, 250, 576, 200, 5, {0.5, 0.4, 0.3, 0.35}, 2); // how full the tray is
    if (bench.fill() > 0)
        box(pen_, 250, 576, std::max(5.0, 200.0 * bench.fill()), 5, bench.fill() > 0.8f ? lamp_on : brass, 2);
}

void View::drawer(const Bench& bench) {
    box(pen_, 60, 30, 600, 560, {0.16, 0.12, 0.09, 0.45}, 14);
    box(pen_, 150, 200, 460, 200, {0.62, 0.47, 0.30}, 10);
    for (int piece = 1; piece <= 3; ++piece) {
        const double x = 180 + 140 * (piece - 1);
        box(pen_, x, 240, 120, 120, {0.42, 0.31, 0.20}, 8);
        const auto left = static_cast<float>(x + 18);
        bar(pen_, {{left, 312}, {left + 84, 286}}, 11, of_piece(piece), light_of_piece(piece));
        const char* const names[] = {"oak", "brass", "glass"};
        words(pen_, x + 42, 352, names[piece - 1], 13, {0.95, 0.90, 0.82}, bench.piece() == piece);
    }
    words(pen_, 160, 226, "the parts drawer: what the next piece is made of", 13, dark, true);
}

void View::zones(const EntryDetails& shown) {
    cairo_set_line_width(pen_, 1.2);
    for (const auto& [name, scope, outline] : zones_) {
        if (!scope.empty() && (scope == "drawer") != shown.drawer) continue;
        path(pen_, outline, true);
        use(pen_, {0.1, 0.3, 0.45, 0.9});
        cairo_stroke(pen_);
        if (!outline.empty()) words(pen_, outline.front().x + 3, outline.front().y - 3, name, 9, {0.1, 0.3, 0.45});
    }
    if (!shown.log) return;
    box(pen_, 64, 596 - 13.0 * static_cast<double>(shown.log->size()) - 22, 592,
        13.0 * static_cast<double>(shown.log->size()) + 8, {0.99, 0.98, 0.96, 0.88}, 4);
    double y = 596 - 13.0 * static_cast<double>(shown.log->size()) - 8;
    for (const std::string& line : *shown.log) {
        words(pen_, 70, y, line.substr(0, 104), 9.5, dark);
        y += 13;
    }
}
