#include "core/bar/bend_table.h"
#include "core/num/bad_input.h"

#include <Eigen/Geometry>
#include <catch2/catch.hpp>
#include <random>

namespace tests::of_bend_table {
using namespace dervish;
using Eigen::Vector3d;

TEST_CASE("a bar bent by its table is the bar, wherever its corners are") {
    std::mt19937 luck(3);
    const auto between = [&](double a, double b) { return a + (b - a) * static_cast<double>(luck() % 100001) / 1e5; };
    for (int round = 0; round < 500; ++round) {
        bar::Centreline line;
        const int count = 3 + static_cast<int>(luck() % 5);
        Vector3d at(0, 0, 0), along = Vector3d(between(-1, 1), between(-1, 1), between(-1, 1)).normalized();
        line.points.push_back(at);
        for (int i = 1; i < count; ++i) {
            at += along * between(0.2, 0.6);
            line.points.push_back(at);
            const Vector3d axis = along.cross(Vector3d(between(-1, 1), between(-1, 1), between(-1, 1))).normalized();
            along = Eigen::AngleAxisd(luck() % 6 ? between(0.1, 2) : 0, axis) * along; // now and then straight on
        }
        line.bend_radius.assign(line.points.size(), 0);
        for (int i = 1; i + 1 < count; ++i) line.bend_radius[static_cast<std::size_t>(i)] = between(0.01, 0.05);
        line.sections.assign(line.points.size() - 1, bar::Round{0.02});
        const bar::BendTable table = bar::bend_table(line);
        double whole = 0;
        for (const bar::Stretch& s : bar::cut(line).stretches) whole += s.length;
        CHECK(table.cut_length == Approx(whole).epsilon(1e-9));
        // A bender's way: push the straight through, turn the bar about itself, bend; the first bend's plane is given.
        Vector3d place = line.points.front(), heading = (line.points[1] - line.points[0]).normalized(),
                 normal = Vector3d::Zero();
        for (std::size_t i = 1; i + 1 < line.points.size() && normal.isZero(); ++i) {
            const Vector3d n = (line.points[i] - line.points[i - 1]).cross(line.points[i + 1] - line.points[i]);
            if (n.norm() > 1e-7) normal = n.normalized();
        }
        for (const bar::Bend& b : table.bends) {
            place += heading * b.straight;
            normal = Eigen::AngleAxisd(b.turn, heading) * normal;
            const Vector3d centre = place + normal.cross(heading) * b.radius;
            place = centre + Eigen::AngleAxisd(b.angle, normal) * (place - centre);
            heading = Eigen::AngleAxisd(b.angle, normal) * heading;
        }
        place += heading * table.last_straight;
        CHECK((place - line.points.back()).norm() < 1e-9);
    }
    bar::Centreline tight;
    tight.points = {{0, 0, 0}, {0, 0.1, 0}, {0.1, 0.1, 0}};
    tight.bend_radius = {0, 0.2, 0};
    tight.sections.assign(2, bar::Round{0.02});
    CHECK_THROWS_AS(bar::bend_table(tight), BadInput);
}

} // namespace tests::of_bend_table
