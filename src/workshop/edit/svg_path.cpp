// Paths and transforms of SVG (SVG 1.1, sections 7.6 and 8.3).
#include "workshop/edit/svg.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>
#include <optional>

namespace kiai::workshop {
namespace {

bool is_blank(char c) noexcept {
    return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == ',';
}

/// Reads numbers and letters of an attribute.
class AttributeScan {
  public:
    explicit AttributeScan(std::string_view text) : text_(text) {}

    void blanks() {
        while (!text_.empty() && is_blank(text_.front())) text_.remove_prefix(1);
    }
    bool done() {
        blanks();
        return text_.empty();
    }
    char peek() {
        blanks();
        return text_.empty() ? '\0' : text_.front();
    }
    char take() {
        const char c = peek();
        if (c != '\0') text_.remove_prefix(1);
        return c;
    }
    std::string_view word() {
        blanks();
        std::size_t size = 0;
        while (size < text_.size() && ((text_[size] | 0x20) >= 'a' && (text_[size] | 0x20) <= 'z')) ++size;
        const std::string_view word = text_.substr(0, size);
        text_.remove_prefix(size);
        return word;
    }
    std::optional<double> number() {
        blanks();
        std::string_view rest = text_;
        if (!rest.empty() && rest.front() == '+') rest.remove_prefix(1);
        double value = 0;
        const auto read = std::from_chars(rest.data(), rest.data() + rest.size(), value);
        if (read.ec != std::errc() || !std::isfinite(value)) return std::nullopt;
        text_ = rest.substr(static_cast<std::size_t>(read.ptr - rest.data()));
        return value;
    }
    /// A flag of an arc: one character, which may touch the next number.
    std::optional<bool> flag() {
        const char c = peek();
        if (c != '0' && c != '1') return std::nullopt;
        take();
        return c == '1';
    }

  private:
    std::string_view text_;
};

class PathReader {
  public:
    PathReader(std::string_view data, double tolerance, std::size_t most)
        : scan_(data), tolerance_(tolerance), most_(most) {}

    std::vector<Points> run() {
        char command = '\0';
        while (!scan_.done() && corners_ < most_) {
            const char next = scan_.peek();
            const bool letter = (next | 0x20) >= 'a' && (next | 0x20) <= 'z';
            if (letter)
                command = scan_.take();
            else if (command == '\0')
                break;
            if (!step(command)) break;
            if (command == 'M') command = 'L'; // further pairs are lines
            if (command == 'm') command = 'l';
            if ((command | 0x20) == 'z') command = '\0'; // takes no numbers, so none may follow
        }
        std::erase_if(parts_, [](const Points& part) { return part.size() < 3; });
        return std::move(parts_);
    }

  private:
    bool step(char command) {
        const bool relative = command >= 'a';
        const double x0 = relative ? x_ : 0, y0 = relative ? y_ : 0;
        double v[6] = {};
        const auto read = [&](int count) {
            for (int i = 0; i < count; ++i) {
                const auto number = scan_.number();
                if (!number) return false;
                v[i] = *number;
            }
            return true;
        };
        const char last = last_;
        last_ = static_cast<char>(command | 0x20);
        switch (command | 0x20) {
        case 'm':
            if (!read(2)) return false;
            parts_.emplace_back();
            move(x0 + v[0], y0 + v[1]);
            start_x_ = x_, start_y_ = y_;
            return true;
        case 'l':
            return read(2) && move(x0 + v[0], y0 + v[1]);
        case 'h':
            return read(1) && move(x0 + v[0], y_);
        case 'v':
            return read(1) && move(x_, y0 + v[0]);
        case 'z':
            x_ = start_x_, y_ = start_y_;
            if (!parts_.empty() && scan_.peek() != '\0' && (scan_.peek() | 0x20) != 'm') {
                parts_.emplace_back();
                move(x_, y_);
            }
            return true;
        case 'c':
            return read(6) && cubic(x0 + v[0], y0 + v[1], x0 + v[2], y0 + v[3], x0 + v[4], y0 + v[5]);
        case 's': {
            if (!read(4)) return false;
            const bool smooth = last == 'c' || last == 's';
            return cubic(smooth ? 2 * x_ - control_x_ : x_, smooth ? 2 * y_ - control_y_ : y_, x0 + v[0], y0 + v[1],
                         x0 + v[2], y0 + v[3]);
        }
        case 'q':
            return read(4) && quadratic(x0 + v[0], y0 + v[1], x0 + v[2], y0 + v[3]);
        case 't': {
            if (!read(2)) return false;
            const bool smooth = last == 'q' || last == 't';
            return quadratic(smooth ? 2 * x_ - control_x_ : x_, smooth ? 2 * y_ - control_y_ : y_, x0 + v[0],
                             y0 + v[1]);
        }
        case 'a': {
            if (!read(3)) return false;
            const auto large = scan_.flag(), sweep = scan_.flag();
            const double rx = v[0], ry = v[1], turn = v[2];
            return large && sweep && read(2) && arc(rx, ry, turn, *large, *sweep, x0 + v[0], y0 + v[1]);
        }
        default:
            return false;
        }
    }

    bool move(double x, double y) {
        x_ = x, y_ = y;
        if (parts_.empty()) return false; // a path starts with a move
        Points& part = parts_.back();
        if (part.empty() || part.back() != std::pair(x, y)) {
            part.emplace_back(x, y);
            ++corners_;
        }
        return true;
    }

    bool cubic(double x1, double y1, double x2, double y2, double x, double y) {
        control_x_ = x2, control_y_ = y2;
        // The second derivative bounds the distance between a chord and the curve: steps² = |d| · 6 / 8 / tolerance.
        const double bend =
            std::max(std::hypot(x_ - 2 * x1 + x2, y_ - 2 * y1 + y2), std::hypot(x1 - 2 * x2 + x, y1 - 2 * y2 + y));
        const double x0 = x_, y0 = y_;
        const int steps = steps_for(6 * bend);
        for (int i = 1; i <= steps; ++i) {
            const double t = static_cast<double>(i) / steps, s = 1 - t;
            if (i == steps)
                move(x, y);
            else
                move(s * s * s * x0 + 3 * s * s * t * x1 + 3 * s * t * t * x2 + t * t * t * x,
                     s * s * s * y0 + 3 * s * s * t * y1 + 3 * s * t * t * y2 + t * t * t * y);
        }
        return !parts_.empty();
    }

    bool quadratic(double x1, double y1, double x, double y) {
        const double x0 = x_, y0 = y_;
        cubic(x0 + (x1 - x0) * 2 / 3, y0 + (y1 - y0) * 2 / 3, x + (x1 - x) * 2 / 3, y + (y1 - y) * 2 / 3, x, y);
        control_x_ = x1, control_y_ = y1;
        return !parts_.empty();
    }

    /// From end points to the centre, as in SVG 1.1, appendix F.6.
    bool arc(double rx, double ry, double degrees, bool large, bool sweep, double x, double y) {
        rx = std::abs(rx), ry = std::abs(ry);
        if (rx == 0 || ry == 0 || (x == x_ && y == y_)) return move(x, y);
        const double turn = degrees * std::numbers::pi / 180, cosine = std::cos(turn), sine = std::sin(turn);
        const double dx = (x_ - x) / 2, dy = (y_ - y) / 2;
        const double px = cosine * dx + sine * dy, py = -sine * dx + cosine * dy;
        const double large_enough = px * px / (rx * rx) + py * py / (ry * ry);
        if (large_enough > 1) rx *= std::sqrt(large_enough), ry *= std::sqrt(large_enough);
        const double top = rx * rx * ry * ry - rx * rx * py * py - ry * ry * px * px;
        const double root = std::sqrt(std::max(0.0, top / (rx * rx * py * py + ry * ry * px * px)));
        const double side = large == sweep ? -root : root;
        const double cx = side * rx * py / ry, cy = -side * ry * px / rx;
        const double middle_x = cosine * cx - sine * cy + (x_ + x) / 2,
                     middle_y = sine * cx + cosine * cy + (y_ + y) / 2;
        const double from = std::atan2((py - cy) / ry, (px - cx) / rx);
        double way = std::atan2((-py - cy) / ry, (-px - cx) / rx) - from;
        if (sweep && way < 0) way += 2 * std::numbers::pi;
        if (!sweep && way > 0) way -= 2 * std::numbers::pi;
        const int steps = steps_for(std::max(rx, ry) * way * way);
        for (int i = 1; i <= steps; ++i) {
            const double at = from + way * i / steps;
            if (i == steps)
                move(x, y);
            else
                move(middle_x + cosine * rx * std::cos(at) - sine * ry * std::sin(at),
                     middle_y + sine * rx * std::cos(at) + cosine * ry * std::sin(at));
        }
        return !parts_.empty();
    }

    /// Chords of a curve whose second derivative is at most `second` stay within second / 8 / steps² of it.
    int steps_for(double second) const {
        if (!std::isfinite(second)) return 1;
        return static_cast<int>(std::clamp(std::ceil(std::sqrt(second / (8 * tolerance_))), 1.0, 1000.0));
    }

    AttributeScan scan_;
    double tolerance_;
    std::size_t most_, corners_ = 0;
    std::vector<Points> parts_;
    double x_ = 0, y_ = 0, start_x_ = 0, start_y_ = 0, control_x_ = 0, control_y_ = 0;
    char last_ = '\0';
};

} // namespace

std::vector<Points> parts_of_path(std::string_view data, double tolerance, std::size_t most) {
    return PathReader(data, tolerance, most).run();
}

Transform Transform::operator*(const Transform& inner) const noexcept {
    return {a * inner.a + c * inner.b, b * inner.a + d * inner.b,     a * inner.c + c * inner.d,
            b * inner.c + d * inner.d, a * inner.e + c * inner.f + e, b * inner.e + d * inner.f + f};
}

bool Transform::upright() const noexcept {
    const double small = 1e-9 * scale();
    return (std::abs(b) <= small && std::abs(c) <= small) || (std::abs(a) <= small && std::abs(d) <= small);
}

bool Transform::similar() const noexcept {
    const double small = 1e-6 * scale();
    return std::abs(std::hypot(a, b) - std::hypot(c, d)) <= small && std::abs(a * c + b * d) <= small * scale();
}

double Transform::scale() const noexcept {
    return std::max(std::hypot(a, b), std::hypot(c, d));
}

Transform transform_of(std::string_view text) {
    Transform all;
    AttributeScan scan(text);
    while (!scan.done()) {
        const std::string_view name = scan.word();
        if (name.empty() || scan.take() != '(') return all;
        std::vector<double> v;
        while (scan.peek() != ')' && !scan.done() && v.size() < 6) {
            const auto number = scan.number();
            if (!number) return all;
            v.push_back(*number);
        }
        if (scan.take() != ')') return all;
        Transform one;
        const auto value = [&](std::size_t i, double otherwise) { return i < v.size() ? v[i] : otherwise; };
        const double turn = value(0, 0) * std::numbers::pi / 180;
        if (name == "matrix" && v.size() == 6) one = {v[0], v[1], v[2], v[3], v[4], v[5]};
        if (name == "translate") one.e = value(0, 0), one.f = value(1, 0);
        if (name == "scale") one.a = value(0, 1), one.d = value(1, value(0, 1));
        if (name == "skewX") one.c = std::tan(turn);
        if (name == "skewY") one.b = std::tan(turn);
        if (name == "rotate") {
            const double x = value(1, 0), y = value(2, 0);
            const Transform there{1, 0, 0, 1, x, y}, back{1, 0, 0, 1, -x, -y};
            one = there * Transform{std::cos(turn), std::sin(turn), -std::sin(turn), std::cos(turn), 0, 0} * back;
        }
        all = all * one;
    }
    return all;
}

} // namespace kiai::workshop
