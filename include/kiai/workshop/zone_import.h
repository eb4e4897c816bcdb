// Makes zones of the shapes in a drawing.
#pragma once

#include <kiai/workshop/check.h>

#include <filesystem>
#include <string>
#include <vector>

namespace kiai::inline v0 {

struct ZoneImportOptions {
    double tolerance = 0.5;   ///< how far a polygon may be from a curve, in the app's units, 0.01 … 100
    std::string scope = {};   ///< of new zones; empty: none
    std::string unnamed = {}; ///< names shapes without a name: `part` gives `part-1`, `part-2` …; empty: ignores them
    bool dry_run = false;     ///< returns the result, and writes nothing
};

struct ImportedZone {
    enum class Outcome { added = 0, changed = 1, same = 2, refused = 3 };
    std::string name;
    Outcome outcome = Outcome::refused;
    std::string shape;    ///< `circle`, `ellipse`, `rectangle` or `polygon`
    int corners = 0;      ///< of a polygon
    int order = 0;        ///< its place in the drawing, from 1: later shapes are in front
    std::string why, fix; ///< why the shape was refused
};

struct ZoneImport {
    std::vector<ImportedZone> zones; ///< in the order of the drawing
    std::size_t unnamed = 0;         ///< shapes without a name, which were ignored
    EditResult edited;
};

/// Reads an SVG file (SVG 1.1, chapters 7 to 9): `circle`, `ellipse`, `rect`, `polygon`, `polyline` and `path`, with
/// the transforms of shapes and groups. A shape is named by its `label` attribute, its `title`, or its `id`, in this
/// order; the name becomes one of kiai.toml as by `clip_name`. Positions are pixels of the drawing at its stated size
/// (96 per inch). Curves become polygons. Shapes in `defs`, `symbol`, `clipPath`, `mask` and `pattern`, and hidden
/// shapes, are ignored. An existing zone of the same name gets the new shape and order, and keeps all other keys.
/// Refused: a file that is no SVG, declares entities, is nested deeper than 256 elements or larger than 16 MiB; a shape
/// with more than 10,000 corners, with several parts, without an area, or beyond ±10,000,000. [control]
ZoneImport import_zones(const std::filesystem::path& folder, const std::filesystem::path& drawing,
                        const ZoneImportOptions& options = {});

} // namespace kiai::inline v0
