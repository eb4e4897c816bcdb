// Draws the bench: wood, brass, glass and light, on a Cairo surface that a window shows.
#pragma once

#include "bench.h"

#include <cairo.h>

#include <deque>
#include <memory>
#include <string>
#include <vector>

/// The outline of a zone.
struct Outline {
    std::string name, scope;
    std::vector<Place> points;
};

/// State that is shown in addition to the bench.
struct EntryDetails {
    bool drawer = false;  ///< the parts drawer is open
    bool zones = false;   ///< outlines of the zones, and the last decisions
    bool warning = false; ///< the red lamp is lit
    Place pointer = {};
    const std::deque<std::string>* log = nullptr;
};

class View {
  public:
    static constexpr int width = 720, height = 620; ///< of the bench, in its own units

    /// `pixels`: pixels per unit.
    View(double pixels, std::vector<Outline> zones);
    ~View();
    View(const View&) = delete;
    View& operator=(const View&) = delete;

    void draw(const Bench& bench, const EntryDetails& shown);
    /// Writes a PNG.
    void save(const std::string& file) const;
    int pixel_width() const;
    int pixel_height() const;
    /// Returns the pixels row by row, four bytes each: blue, green, red, unused.
    const unsigned char* pixels() const;
    int stride() const;

  private:
    void still_life();
    void moving(const Bench& bench, const EntryDetails& shown);
    void drawer(const Bench& bench);
    void zones(const EntryDetails& shown);

    double scale_;
    std::vector<Outline> zones_;
    cairo_surface_t *surface_ = nullptr, *ground_ = nullptr;
    cairo_t* pen_ = nullptr;
};
