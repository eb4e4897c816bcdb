#include "workshop/edit/svg.h"

#include <expat.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <memory>
#include <numbers>

namespace kiai::workshop {
namespace {

constexpr std::size_t most_corners = 10000;
constexpr int most_depth = 256;

/// The part of a name after its prefix: `label` of `inkscape:label`.
std::string_view local(const char* name) {
    const char* colon = std::strrchr(name, ':');
    return colon ? colon + 1 : name;
}

/// The attributes of an element.
class Attributes {
  public:
    explicit Attributes(const char** pairs) : pairs_(pairs) {}

    std::string_view text(std::string_view name) const {
        for (const char** pair = pairs_; *pair; pair += 2)
            if (name == *pair) return pair[1];
        return {};
    }
    /// Returns an attribute by its name without a prefix, if it has a prefix.
    std::string_view prefixed(std::string_view name) const {
        for (const char** pair = pairs_; *pair; pair += 2)
            if (std::strchr(*pair, ':') && local(*pair) == name) return pair[1];
        return {};
    }
    double number(std::string_view name, double otherwise = 0) const {
        const std::string_view value = text(name);
        double number = otherwise;
        std::from_chars(value.data(), value.data() + value.size(), number);
        return std::isfinite(number) ? number : otherwise;
    }

  private:
    const char** pairs_;
};

/// A length in pixels (CSS: 96 per inch); 0: none, or a share of something.
double pixels_of(std::string_view text) {
    double value = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
    const std::string_view unit = text.substr(static_cast<std::size_t>(read.ptr - text.data()));
    const std::pair<std::string_view, double> units[] = {
        {"", 1}, {"px", 1}, {"pt", 96.0 / 72}, {"pc", 16}, {"mm", 96 / 25.4}, {"cm", 96 / 2.54}, {"in", 96}};
    for (const auto& [name, factor] : units)
        if (unit == name) return read.ec == std::errc() ? value * factor : 0;
    return 0;
}

class SvgReader {
  public:
    explicit SvgReader(double tolerance) : tolerance_(tolerance) {}

    SvgDrawing run(std::string_view text) {
        const std::unique_ptr<XML_ParserStruct, decltype(&XML_ParserFree)> parser(XML_ParserCreate(nullptr),
                                                                                  &XML_ParserFree);
        parser_ = parser.get();
        XML_SetUserData(parser_, this);
        XML_SetElementHandler(
            parser_,
            [](void* self, const char* name, const char** with) { static_cast<SvgReader*>(self)->begin(name, with); },
            [](void* self, const char* name) { static_cast<SvgReader*>(self)->end(name); });
        XML_SetCharacterDataHandler(parser_, [](void* self, const char* characters, int count) {
            static_cast<SvgReader*>(self)->characters({characters, static_cast<std::size_t>(count)});
        });
        XML_SetEntityDeclHandler(
            parser_, [](void* self, const char*, int, const char*, int, const char*, const char*, const char*,
                        const char*) { static_cast<SvgReader*>(self)->fail("it declares entities"); });
        const XML_Status status = XML_Parse(parser_, text.data(), static_cast<int>(text.size()), XML_TRUE);
        if (status != XML_STATUS_OK && drawing_.error.empty())
            drawing_.error = std::string("line ") + std::to_string(XML_GetCurrentLineNumber(parser_)) + ": " +
                             XML_ErrorString(XML_GetErrorCode(parser_));
        if (drawing_.error.empty() && !is_svg_) drawing_.error = "its root is no svg element";
        if (!drawing_.error.empty()) drawing_.shapes.clear();
        return std::move(drawing_);
    }

  private:
    struct Level {
        Transform transform;
        bool ignored = false;
        int shape = -1; ///< of this element; -1: it is none
    };

    void fail(const char* why) {
        if (drawing_.error.empty()) drawing_.error = why;
        XML_StopParser(parser_, XML_FALSE);
    }

    void begin(const char* element, const char** pairs) {
        if (!drawing_.error.empty()) return;
        const std::string_view name = local(element);
        const Attributes with(pairs);
        if (levels_.size() >= most_depth) return fail("it is nested deeper than 256 elements");
        Level level = levels_.empty() ? Level{} : levels_.back();
        level.shape = -1;
        if (levels_.empty()) {
            is_svg_ = name == "svg";
            level.transform = view_of(with);
        }
        level.transform = level.transform * transform_of(with.text("transform"));
        const std::string_view style = with.text("style");
        level.ignored = level.ignored || name == "defs" || name == "symbol" || name == "clipPath" || name == "mask" ||
                        name == "pattern" || name == "marker" || with.text("display") == "none" ||
                        style.find("display:none") != std::string_view::npos;
        if (!level.ignored) add(name, with, level);
        in_title_ = name == "title" && !levels_.empty() && levels_.back().shape >= 0;
        levels_.push_back(level);
    }

    void end(const char*) {
        in_title_ = false;
        if (!levels_.empty()) levels_.pop_back();
    }

    /// A `title` names its shape, unless a label does.
    void characters(std::string_view text) {
        if (!in_title_ || levels_.size() < 2) return;
        SvgShape& shape = drawing_.shapes[static_cast<std::size_t>(levels_[levels_.size() - 2].shape)];
        if (labelled_) return;
        if (!titled_) shape.name.clear(), titled_ = true;
        shape.name += text;
    }

    /// The viewBox at the stated size (SVG 1.1, section 7.7), without the alignment of unequal proportions.
    static Transform view_of(const Attributes& with) {
        double box[4] = {};
        std::string_view text = with.text("viewBox");
        for (double& number : box) {
            while (!text.empty() && (text.front() == ' ' || text.front() == ',' || text.front() == '\n'))
                text.remove_prefix(1);
            const auto read = std::from_chars(text.data(), text.data() + text.size(), number);
            if (read.ec != std::errc()) return {};
            text.remove_prefix(static_cast<std::size_t>(read.ptr - text.data()));
        }
        if (!(box[2] > 0 && box[3] > 0)) return {};
        const double width = pixels_of(with.text("width")), height = pixels_of(with.text("height"));
        const double x = width > 0 ? width / box[2] : 1, y = height > 0 ? height / box[3] : x;
        return {x, 0, 0, y, -box[0] * x, -box[1] * y};
    }

    void add(std::string_view element, const Attributes& with, Level& level) {
        SvgShape shape;
        const Transform& at = level.transform;
        if (element == "circle" || element == "ellipse") {
            const double rx = with.number(element == "circle" ? "r" : "rx"),
                         ry = with.number(element == "circle" ? "r" : "ry");
            round(shape, with.number("cx"), with.number("cy"), rx, ry, at);
        } else if (element == "rect") {
            rectangle(shape, with, at);
        } else if (element == "polygon" || element == "polyline") {
            path(shape, "M" + std::string(with.text("points")), at);
        } else if (element == "path") {
            path(shape, with.text("d"), at);
        } else {
            return;
        }
        if (shape.fault.empty() && !is_near(shape)) shape.fault = "its position is out of range";
        const std::string_view label = with.prefixed("label");
        labelled_ = !label.empty();
        titled_ = false;
        shape.name = labelled_ ? label : with.text("id");
        level.shape = static_cast<int>(drawing_.shapes.size());
        drawing_.shapes.push_back(std::move(shape));
    }

    /// Returns true if all positions are numbers that kiai.toml allows.
    static bool is_near(const SvgShape& shape) {
        constexpr double far = 1e7;
        const auto near = [](double value) { return value > -far && value < far; };
        return near(shape.x) && near(shape.y) && near(shape.width) && near(shape.height) &&
               std::all_of(shape.corners.begin(), shape.corners.end(),
                           [&](const auto& corner) { return near(corner.first) && near(corner.second); });
    }

    void round(SvgShape& shape, double x, double y, double rx, double ry, const Transform& at) const {
        if (!(rx > 0 && ry > 0)) {
            shape.fault = "it has no area";
            return;
        }
        const bool circle = rx == ry && at.similar();
        if (circle || at.upright()) {
            std::tie(shape.x, shape.y) = at(x, y);
            shape.kind = circle ? SvgShape::Kind::circle : SvgShape::Kind::ellipse;
            shape.width = std::hypot(at.a * rx, at.c * ry);
            shape.height = circle ? shape.width : std::hypot(at.b * rx, at.d * ry);
            return;
        }
        const double size = std::max(rx, ry) * at.scale();
        const double needed = std::ceil(std::numbers::pi * std::sqrt(size / (2 * tolerance_)));
        const int corners = static_cast<int>(needed <= 1000 ? std::max(needed, 8.0) : 1000.0);
        for (int i = 0; i < corners; ++i) {
            const double turn = 2 * std::numbers::pi * i / corners;
            shape.corners.push_back(at(x + rx * std::cos(turn), y + ry * std::sin(turn)));
        }
    }

    void rectangle(SvgShape& shape, const Attributes& with, const Transform& at) const {
        const double x = with.number("x"), y = with.number("y"), width = with.number("width"),
                     height = with.number("height");
        if (!(width > 0 && height > 0)) {
            shape.fault = "it has no area";
            return;
        }
        const auto [x0, y0] = at(x, y);
        const auto [x1, y1] = at(x + width, y + height);
        if (at.upright()) {
            shape.kind = SvgShape::Kind::rectangle;
            shape.x = std::min(x0, x1), shape.y = std::min(y0, y1);
            shape.width = std::abs(x1 - x0), shape.height = std::abs(y1 - y0);
            return;
        }
        shape.corners = {{x0, y0}, at(x + width, y), {x1, y1}, at(x, y + height)};
    }

    void path(SvgShape& shape, std::string_view data, const Transform& at) const {
        const double scale = std::max(at.scale(), 1e-9);
        std::vector<Points> parts = parts_of_path(data, tolerance_ / scale, most_corners + 1);
        if (parts.empty()) {
            shape.fault = "it has no area";
        } else if (parts.size() > 1) {
            shape.fault = "it has several parts";
        } else if (parts.front().size() > most_corners) {
            shape.fault = "it has more than 10,000 corners";
        } else {
            Points& corners = parts.front();
            if (corners.size() > 3 && corners.front() == corners.back()) corners.pop_back();
            for (const auto& [x, y] : corners) shape.corners.push_back(at(x, y));
        }
    }

    double tolerance_;
    XML_Parser parser_ = nullptr;
    SvgDrawing drawing_;
    std::vector<Level> levels_;
    bool is_svg_ = false, in_title_ = false, labelled_ = false, titled_ = false;
};

} // namespace

SvgDrawing read_svg(std::string_view text, double tolerance) {
    return SvgReader(tolerance).run(text);
}

} // namespace kiai::workshop
