// Zones from drawings: shapes, transforms, names, order, and hostile files.
#include "support/places.h"
#include "support/project_folder.h"
#include "support/run_tool.h"
#include "support/text.h"

#include <kiai/workshop/picture.h>
#include <kiai/workshop/zone_import.h>

#include <catch2/catch.hpp>

#include <cmath>

using namespace support;

namespace {

const std::string open_svg =
    "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:d=\"urn:drawing\" width=\"400\" height=\"300\">";

struct Drawing : ProjectFolder {
    explicit Drawing(const std::string& toml = {}) : ProjectFolder(toml) {}

    kiai::ZoneImport import(const std::string& svg, const kiai::ZoneImportOptions& options = {}) const {
        write("drawing.svg", svg);
        return kiai::import_zones(path(), path() / "drawing.svg", options);
    }
    /// Imports shapes, and returns the text that was added.
    std::string added(const std::string& shapes, const std::string& begin = open_svg) const {
        const std::string before = read("kiai.toml");
        const auto result = import(begin + shapes + "</svg>");
        REQUIRE(result.edited.ok());
        return read("kiai.toml").substr(before.size());
    }
    /// Returns true if a press at a point meets the zone.
    bool meets(const std::string& zone, kiai::Point point) const {
        kiai::Engine engine(load(), {.seed = 1});
        std::string met;
        engine.set_log([&](const kiai::Decision& decision) { met = decision.on; });
        engine.press(point);
        render(engine, 64);
        engine.poll();
        return met == zone;
    }
};

} // namespace

TEST_CASE("Each shape becomes the zone of its kind", "[svg]") {
    const std::pair<std::string, std::string> cases[] = {
        {"<circle id=\"a\" cx=\"10\" cy=\"20\" r=\"5\"/>", "circle = { x = 10, y = 20, r = 5 }"},
        {"<ellipse id=\"a\" cx=\"10\" cy=\"20\" rx=\"5\" ry=\"3\"/>", "ellipse = { x = 10, y = 20, rx = 5, ry = 3 }"},
        {"<rect id=\"a\" x=\"1\" y=\"2\" width=\"30\" height=\"40\"/>",
         "rectangle = { x = 1, y = 2, width = 30, height = 40 }"},
        {"<polygon id=\"a\" points=\"0,0 10,0 5,8\"/>", "polygon = [[0, 0], [10, 0], [5, 8]]"},
        {"<path id=\"a\" d=\"M0 0h10v10H0z\"/>", "polygon = [[0, 0], [10, 0], [10, 10], [0, 10]]"},
        {"<path id=\"a\" d=\"m1,1 10,0 0,10z\"/>", "polygon = [[1, 1], [11, 1], [11, 11]]"},
        {"<circle id=\"a\" cx=\"10\" cy=\"20\" r=\"5\" transform=\"translate(100) scale(2)\"/>",
         "circle = { x = 120, y = 40, r = 10 }"},
        {"<circle id=\"a\" cx=\"10\" cy=\"20\" r=\"5\" transform=\"scale(2,1)\"/>",
         "ellipse = { x = 20, y = 20, rx = 10, ry = 5 }"},
        {"<circle id=\"a\" r=\"5\" transform=\"rotate(30) translate(10,0) rotate(45)\"/>",
         "circle = { x = 8.66, y = 5, r = 5 }"},
        {"<rect id=\"a\" x=\"1\" y=\"2\" width=\"30\" height=\"40\" transform=\"rotate(90)\"/>",
         "rectangle = { x = -42, y = 1, width = 40, height = 30 }"},
        {"<rect id=\"a\" width=\"10\" height=\"10\" transform=\"matrix(1,0,0.5,1,0,0)\"/>",
         "polygon = [[0, 0], [10, 0], [15, 10], [5, 10]]"},
        {"<g transform=\"translate(5,6)\"><g transform=\"scale(3)\"><circle id=\"a\" r=\"1\"/></g></g>",
         "circle = { x = 5, y = 6, r = 3 }"},
        {"<rect id=\"a\" width=\"10\" height=\"10\" transform=\"rotate(45 5 5)\"/>",
         "polygon = [[5, -2.07], [12.07, 5], [5, 12.07], [-2.07, 5]]"}};
    for (const auto& [shape, expected] : cases) {
        INFO(shape);
        const Drawing drawing;
        const std::string text = drawing.added(shape);
        CHECK(has(text, "[zone.a]\n" + expected + "\norder = 1\n"));
        CHECK(drawing.load().zones().size() == 1);
    }
}

TEST_CASE("Curves become polygons within the tolerance", "[svg]") {
    const Drawing drawing;
    // Circles of radius 100 around 200, 150: by four Béziers, by two arcs, and by quadratics that are nearly round.
    const std::string shapes[] = {
        "M300 150C300 205.2 255.2 250 200 250S100 205.2 100 150 144.8 50 200 50 300 94.8 300 150z",
        "M100 150A100 100 0 0 1 300 150 100 100 0 0 1 100 150z", "M100,150a100,100 0 1,1 200,0a100 100 0 01-200 0"};
    for (const double tolerance : {0.1, 1.0, 5.0})
        for (const std::string& d : shapes) {
            INFO(d << ' ' << tolerance);
            drawing.write("kiai.toml", "format = 1\n");
            const auto made =
                drawing.import(open_svg + "<path id=\"a\" d=\"" + d + "\"/></svg>", {.tolerance = tolerance});
            REQUIRE(made.edited.ok());
            REQUIRE(made.zones.size() == 1);
            CHECK(made.zones[0].corners < 200);
            for (int i = 0; i < 48; ++i) {
                const double turn = 2 * M_PI * i / 48;
                const auto at = [&](double r) {
                    return kiai::Point{static_cast<float>(200 + r * std::cos(turn)),
                                       static_cast<float>(150 + r * std::sin(turn))};
                };
                CHECK(drawing.meets("a", at(100 - tolerance - 0.1)));
                CHECK(!drawing.meets("a", at(100 + tolerance + 0.1)));
            }
        }
}

TEST_CASE("Names come from label, title or id, and order is that of the drawing", "[svg]") {
    const Drawing drawing;
    const auto made = drawing.import(
        open_svg + "<rect id=\"r1\" d:label=\"Grüne Taste\" width=\"1\" height=\"1\"><title>no</title></rect>"
                   "<rect id=\"r2\" width=\"1\" height=\"1\"><title>Lid</title></rect>"
                   "<g><rect id=\"left_box\" width=\"1\" height=\"1\"/></g><rect width=\"1\" height=\"1\"/>"
                   "<defs><rect id=\"hidden\" width=\"1\" height=\"1\"/></defs>"
                   "<g style=\"fill:red;display:none\"><rect id=\"unseen\" width=\"1\" height=\"1\"/></g>"
                   "<text>words</text><rect id=\"r2\" d:label=\"lid\" width=\"1\" height=\"1\"/></svg>");
    REQUIRE(made.edited.ok());
    REQUIRE(made.zones.size() == 4);
    CHECK(made.zones[0].name == "grune-taste");
    CHECK(made.zones[1].name == "lid");
    CHECK(made.zones[2].name == "left-box");
    CHECK(made.zones[3].why == "another shape has this name");
    CHECK(made.zones[0].order == 1);
    CHECK(made.zones[2].order == 3);
    CHECK(made.unnamed == 1);
    CHECK(drawing.load().zones() == kiai::NameList{"grune-taste", "lid", "left-box"});
}

TEST_CASE("Sizes in millimetres and a view box give pixels", "[svg]") {
    const Drawing drawing;
    CHECK(has(drawing.added("<circle id=\"a\" cx=\"10\" cy=\"10\" r=\"5\"/>",
                            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"100mm\" height=\"100mm\" viewBox=\"0 0 "
                            "100 100\">"),
              "circle = { x = 37.8, y = 37.8, r = 18.9 }"));
}

TEST_CASE("The same drawing again changes nothing, and a changed one keeps the other keys", "[svg]") {
    const Drawing drawing(
        "# mine\n[zone.lid] # the lid\ncircle = { x = 1, y = 2, r = 3 }\nthrough = true # yes\n\n[zone.other]\n"
        "circle = { x = 9, y = 9, r = 1 }\n");
    const std::string svg = open_svg + "<rect id=\"lid\" width=\"5\" height=\"6\"/><circle id=\"new\" r=\"2\"/></svg>";
    const auto first = drawing.import(svg);
    CHECK(first.zones.at(0).outcome == kiai::ImportedZone::Outcome::changed);
    CHECK(first.zones.at(1).outcome == kiai::ImportedZone::Outcome::added);
    const std::string text = drawing.read("kiai.toml");
    CHECK(has(text, "# mine\n[zone.lid] # the lid\n"));
    CHECK(has(text, "through = true # yes\n"));
    CHECK(has(text, "rectangle = { x = 0, y = 0, width = 5, height = 6 }"));
    CHECK(!has(text, "r = 3"));
    CHECK(has(text, "[zone.other]\ncircle = { x = 9, y = 9, r = 1 }\n"));
    const auto second = drawing.import(svg);
    CHECK(second.zones.at(0).outcome == kiai::ImportedZone::Outcome::same);
    CHECK(second.zones.at(1).outcome == kiai::ImportedZone::Outcome::same);
    CHECK(drawing.read("kiai.toml") == text);
}

TEST_CASE("Drawings of real programs, which name no shape", "[svg]") {
    const std::filesystem::path drawings = source_folder() + "/tests/project/drawings";
    const Drawing xfig; // 342 by 304 points, 1200 units per inch
    const auto figure = kiai::import_zones(xfig.path(), drawings / "fig2dev.svg", {.unnamed = "part"});
    REQUIRE(figure.zones.size() == 4);
    CHECK(figure.zones[0].shape ==
          std::string("ellipse")); // its sides are scaled differently by a fraction of a per cent
    CHECK(figure.zones[1].shape == "ellipse");
    CHECK(figure.zones[2].shape == "rectangle");
    CHECK(figure.zones[3].shape == "polygon");
    CHECK(xfig.meets("part-1", {102, 51})); // the hopper's centre, at (1800 - 588) * 342 / 5424 points
    CHECK(xfig.meets("part-3", {200, 380}));
    CHECK(!xfig.meets("part-1", {102, 120}));
    CHECK(kiai::import_zones(xfig.path(), drawings / "fig2dev.svg").unnamed == 4);
    const Drawing dia;
    const auto diagram = kiai::import_zones(dia.path(), drawings / "dia.svg", {.unnamed = "part"});
    REQUIRE(diagram.zones.size() == 4);
    CHECK(diagram.zones[3].shape == "polygon");
    CHECK(diagram.zones[3].corners > 10);
    CHECK(dia.meets("part-1", {160 * 1.96f, 195 * 1.92f})); // the middle of the box
    CHECK(dia.meets("part-2", {61 * 1.96f, 35 * 1.92f}));
    CHECK(dia.load().zones().size() == 4);
    CHECK(!kiai::import_zones(dia.path(), drawings / "dia.svg", {.unnamed = "A B"}).edited.ok());
}

TEST_CASE("Hostile and broken drawings are refused with a reason, and nothing is written", "[svg]") {
    std::string deep = open_svg, many = open_svg + "<path id=\"a\" d=\"M0 0";
    for (int i = 0; i < 100000; ++i) deep += "<g>";
    for (int i = 0; i < 20000; ++i) many += "L" + std::to_string(i) + " " + std::to_string(i * i % 997);
    std::string bomb = "<?xml version=\"1.0\"?><!DOCTYPE svg [<!ENTITY a \"ha\">";
    for (char c = 'b'; c < 'm'; ++c)
        bomb +=
            std::string("<!ENTITY ") + c + " \"&" + static_cast<char>(c - 1) + ";&" + static_cast<char>(c - 1) + ";\">";
    const std::pair<std::string, std::string> files[] = {
        {bomb + "]><svg>&l;</svg>", "declares entities"},
        {"<!DOCTYPE svg [<!ENTITY x SYSTEM \"file:///etc/passwd\">]><svg>&x;</svg>", "declares entities"},
        {deep, "nested deeper"},
        {"<html></html>", "its root is no svg element"},
        {"", "line 1"},
        {open_svg + "<rect", "line 1"},
        {std::string("\0\1\2\3", 4), "line 1"}};
    for (const auto& [svg, why] : files) {
        const Drawing drawing;
        const std::string before = drawing.read("kiai.toml");
        const auto made = drawing.import(svg);
        INFO(why);
        REQUIRE(made.edited.findings.size() == 1);
        CHECK(has(made.edited.findings[0].message, why));
        CHECK(drawing.read("kiai.toml") == before);
    }
    const Drawing drawing;
    const auto faults = drawing.import(
        open_svg +
        "<path id=\"none\" d=\"M0 0\"/><path id=\"two\" d=\"M0 0h9v9zM20 20h9v9z\"/><rect id=\"flat\" width=\"5\"/>"
        "<circle id=\"nan\" r=\"nan\"/><path id=\"junk\" d=\"hello\"/><path id=\"cut\" d=\"M0 0 9 0 9 9z5\"/></svg>");
    REQUIRE(faults.zones.size() == 6);
    CHECK(faults.zones[0].why == "it has no area");
    CHECK(faults.zones[1].why == "it has several parts");
    CHECK(faults.zones[2].why == "it has no area");
    CHECK(faults.zones[3].why == "it has no area");
    CHECK(faults.zones[4].why == "it has no area");
    CHECK(faults.zones[5].why.empty());
    CHECK(
        drawing
            .import(open_svg + "<ellipse id=\"far\" rx=\"1e300\" ry=\"9\" transform=\"rotate(1) scale(1e300)\"/></svg>")
            .zones.at(0)
            .why == "its position is out of range");
    CHECK(drawing.import(many + "z\"/></svg>").zones.at(0).why == "it has more than 10,000 corners");
    CHECK(drawing.import(open_svg + "<circle id=\"a\" r=\"1\"/></svg>", {.scope = "nowhere"}).edited.findings.size() ==
          1);
}

TEST_CASE("zones --from prints each shape, and --over draws the zones on a picture", "[svg][tool]") {
    const Drawing drawing;
    drawing.write("d.svg", open_svg +
                               "<circle id=\"Lid\" cx=\"50\" cy=\"50\" r=\"20\"/><path id=\"two\" d=\"M0 0h9v9zM20 "
                               "20h9v9z\"/></svg>");
    const Ran made = kiai_tool("zones --from d.svg", drawing.path());
    INFO(made.out << made.err);
    CHECK(made.status == 1); // one was refused
    CHECK(has(made.out, "lid"));
    CHECK(has(made.out, "it has several parts; draw one closed outline"));
    CHECK(kiai::draw_zones(drawing.path() / "app.png", drawing.load()).empty());
    const Ran over = kiai_tool("zones --picture over.png --over app.png", drawing.path());
    INFO(over.out << over.err);
    CHECK(over.status == 0);
    const std::string app = drawing.read("app.png"), drawn = drawing.read("over.png");
    CHECK(drawn.substr(16, 8) == app.substr(16, 8)); // the same size
    CHECK(drawn != app);
    CHECK(kiai_tool("zones --over app.png", drawing.path()).status == 2);
    CHECK(kiai_tool("zones --picture x.png --over d.svg", drawing.path()).status == 3);
    CHECK(kiai_tool("zones --from nowhere.svg", drawing.path()).status == 1);
}
