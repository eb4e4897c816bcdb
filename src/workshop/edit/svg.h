// Reads the shapes of an SVG drawing.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace kiai::workshop {

/// An affine transform: x' = a x + c y + e, y' = b x + d y + f (SVG 1.1, section 7.4).
struct Transform {
    double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;

    std::pair<double, double> operator()(double x, double y) const noexcept {
        return {a * x + c * y + e, b * x + d * y + f};
    }
    Transform operator*(const Transform& inner) const noexcept;
    /// Returns true if axes stay axes, so that rectangles and upright ellipses stay what they are.
    bool upright() const noexcept;
    /// Returns true if circles stay circles.
    bool similar() const noexcept;
    /// Returns the largest factor by which a length grows.
    double scale() const noexcept;
};

/// Reads a `transform` attribute; an unknown function is the identity. [any]
Transform transform_of(std::string_view text);

using Points = std::vector<std::pair<double, double>>;

/// The parts of a path, as corners; `tolerance`: how far a corner line may be from a curve, in the path's units. Stops
/// at the first error, as browsers do. At most `most` corners. [any]
std::vector<Points> parts_of_path(std::string_view data, double tolerance, std::size_t most);

/// A named shape, in pixels of the drawing.
struct SvgShape {
    enum class Kind { circle, ellipse, rectangle, polygon };
    std::string name; ///< as in the drawing; empty: none
    Kind kind = Kind::polygon;
    double x = 0, y = 0;          ///< the centre; of a rectangle its upper left
    double width = 0, height = 0; ///< half of each for circle and ellipse
    Points corners;
    std::string fault; ///< why it is no zone
};

struct SvgDrawing {
    std::vector<SvgShape> shapes; ///< from back to front
    std::string error;            ///< why the file cannot be read
};

/// Reads a drawing. [any]
SvgDrawing read_svg(std::string_view text, double tolerance);

} // namespace kiai::workshop
