// Reads a drawing: the shapes have finite positions, or the file is refused.
#include "target.h"

#include "workshop/edit/svg.h"

#include <cmath>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string text = fuzz::text_of(data, size);
    const kiai::workshop::SvgDrawing drawing = kiai::workshop::read_svg(text, 0.5);
    if (!drawing.error.empty() && !drawing.shapes.empty()) std::abort();
    for (const kiai::workshop::SvgShape& shape : drawing.shapes)
        if (shape.fault.empty() && shape.corners.size() > 10000) std::abort();
    kiai::workshop::parts_of_path(text, 0.5, 10000);
    kiai::workshop::transform_of(text);
    return 0;
}
