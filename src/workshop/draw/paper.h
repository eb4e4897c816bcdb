// A sheet of light paper to draw on, with the few strokes and the text that the pictures need. The only code that uses
// the drawing library.
#pragma once

#include <filesystem>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace kiai::workshop {

struct Ink {
    double red = 0, green = 0, blue = 0, alpha = 1;
};

constexpr Ink paper{0.985, 0.98, 0.965};
constexpr Ink black{0.13, 0.15, 0.18}, grey{0.45, 0.47, 0.50}, pale{0.80, 0.80, 0.77}, faint{0.35, 0.42, 0.50, 0.28};
constexpr Ink wave{0.20, 0.36, 0.44}, amber{0.72, 0.46, 0.05}, red{0.75, 0.20, 0.14};

class Paper {
  public:
    Paper(int width, int height);
    ~Paper();
    Paper(const Paper&) = delete;
    Paper& operator=(const Paper&) = delete;

    /// Paints a PNG at the upper left.
    void image(const std::filesystem::path& png);
    void line(double x0, double y0, double x1, double y1, Ink ink, double width = 1);
    /// Draws a closed outline, filled with `fill`.
    void outline(const std::vector<std::pair<double, double>>& points, Ink ink, double width, Ink fill);
    void cross(double x, double y, double reach, Ink ink);
    /// Draws a filled shape, symmetric about `y`, with one height per pixel from `x` on.
    void trail(double x, double y, const std::vector<double>& heights, Ink ink);
    /// Draws left-aligned text at x, centred at y, with a rim of paper so that it can be read over lines.
    void text(double x, double y, const std::string& words, double size, Ink ink, bool bold = false);
    /// Limits drawing to the range between `left` and `right`, until `everywhere`.
    void only(double left, double right);
    void everywhere();
    double text_width(const std::string& words, double size, bool bold = false);
    /// Moves everything drawn later down.
    void shift(double down);
    /// Returns an empty text, or the error.
    std::string save(const std::filesystem::path& file);

  private:
    struct Sheet;
    std::unique_ptr<Sheet> sheet_;
};

/// The width and height of a PNG; nothing if it cannot be read.
std::optional<std::pair<int, int>> size_of_png(const std::filesystem::path& png);

} // namespace kiai::workshop
