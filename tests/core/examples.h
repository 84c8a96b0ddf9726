#pragma once
#include "core/bar/rate.h"
#include "core/car/handling.h"
#include "core/job/job.h"
#include "core/units/units.h"

#include <charconv>
#include <cmath>
#include <random>
#include <string>

/// Bars and cars that tests share.
namespace dervish::examples {

inline constexpr double mm = 1e-3, N_per_mm = 1e3;

/// The number that `text` begins with, whatever the locale; with `after`, the one behind these words.
inline double number_in(const std::string& text, const std::string& after = {}) {
    const auto at = text.find(after);
    double out = std::nan("");
    if (at != std::string::npos) std::from_chars(text.data() + at + after.size(), text.data() + text.size(), out);
    return out;
}

/// A car with everything that a test may ask about.
inline job::Job off_road_car() {
    job::NewCar asked;
    asked.kind = job::CarKind::OffRoad;
    asked.driven = job::Driven::Rear;
    asked.suspension.rear = AxleKind::Solid;
    return job::new_car(asked);
}

/// A U of a shape's parameters with two mounts; eyes are indices from the outermost.
inline bar::Bar bar_of(const bar::Shape& shape, const bar::Mount& mount, std::size_t left_eye = 0,
                       std::size_t right_eye = 0) {
    const bar::Laid laid = bar::lay(shape);
    bar::Bar b;
    b.line = laid.line;
    for (std::size_t point : laid.mounts) {
        b.mounts.push_back(mount);
        b.mounts.back().point = point;
    }
    b.eyes = {laid.left_eye[left_eye], laid.right_eye[right_eye]};
    return b;
}

inline bar::Shape plain_u(double diameter = 24 * mm) {
    return {.centre_length = 1.0,
            .arm_length = {0.25},
            .mount_spacing = 0.8,
            .section = bar::Round{diameter},
            .arm_section = bar::Round{diameter}};
}

inline bar::Mount rubber() { return {0, 2500 * N_per_mm, 2100 * N_per_mm, 300 * N_per_mm, 0, 15000 * N_per_mm}; }

/// A seeded source of plausible bars.
struct Random {
    std::mt19937 engine{20311};
    double operator()(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine); }

    bar::Shape shape() {
        Random& r = *this;
        const double d = r(15, 35) * mm, arm = r(0.15, 0.4), width = r(0.8, 1.3);
        bar::Shape s{.centre_length = width,
                     .arm_length = {arm, 0.9 * arm, 0.8 * arm},
                     .splay = r(-0.2, 0.4),
                     .drop = r(-0.2, 0.2),
                     .bend_radius = r(2, 3) * d,
                     .mount_spacing = r(0.45, 0.6) * width,
                     .section = bar::Round{d, r(0, 1) < 0.5 ? 0 : r(0.1, 0.4) * d},
                     .arm_section = bar::Round{d}};
        if (r(0, 1) < 0.5) {
            s.kink_outer = 0.6 * s.mount_spacing;
            s.kink_inner = 0.4 * s.mount_spacing;
            s.kink_forward = r(-0.05, 0.05);
            s.kink_up = r(-0.05, 0.05);
        }
        return s;
    }
    bar::Mount mount() {
        Random& r = *this;
        return {0,
                r(1e6, 8e6),
                r(1e6, 8e6),
                r(2e5, 8e5),
                r(0, 1) < 0.5 ? 0 : r(10, 60),
                r(0, 1) < 0.5 ? bar::rigid : r(5e6, 5e7)};
    }
    car::Axle axle(AxleKind kind) {
        Random& r = *this;
        car::Axle a{.kind = kind,
                    .track = r(1.3, 1.7),
                    .unsprung_mass = r(60, 180),
                    .unsprung_height = r(0.28, 0.4),
                    .tyre_rate = r(1.8e5, 3e5),
                    .spring_rate = r(2e4, 4e4),
                    .spring_base = r(0.9, 1.1),
                    .bar_base = r(0.8, 1.1),
                    .bump_gap = r(0.06, 0.1),
                    .bump_k1 = 6e4,
                    .bump_k3 = 3e7,
                    .droop_gap = r(0.06, 0.12),
                    .droop_k = 5e5,
                    .roll_centre_height = r(0, 0.15),
                    .parasitic_roll_stiffness = r(0, 8000),
                    .spring_table = {},
                    .linkage = {}};
        const double k = r(0, 15000);
        a.bar << k, -k, -k, k;
        return a;
    }
    car::Car car() {
        Random& r = *this;
        car::Car c;
        c.wheelbase = r(2.3, 3.2);
        c.sprung_mass = r(800, 2200);
        c.cg_height = r(0.4, 0.8);
        c.front = axle(AxleKind::Independent);
        c.rear = axle(r(0, 1) < 0.5 ? AxleKind::Solid : AxleKind::Independent);
        c.cg_behind_front_axle = r(0.4, 0.6) * c.wheelbase;
        if (c.rear.kind == AxleKind::Solid) c.rear.roll_centre_height = r(0.3, 0.45);
        if (r(0, 1) < 0.5) c.chassis_torsion = r(2e5, 1e6);
        if (r(0, 1) < 0.5) c.loads.push_back({r(20, 200), -r(0, c.wheelbase), r(-0.4, 0.4), r(0.5, 1.8)});
        return c;
    }
};

/// A load that both setups carry, or neither.
inline void carry(job::Job& job, job::Load load, bool aboard = true) {
    load.id = "load-" + std::to_string(job.vehicle.loads.size() + 1);
    if (aboard)
        for (job::Setup* s : {&job.fitted, &job.trial}) s->aboard.push_back(load.id);
    job.vehicle.loads.push_back(std::move(load));
}

} // namespace dervish::examples
