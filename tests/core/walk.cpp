#include "core/bar/walk.h"
#include "core/model/acting.h"
#include "core/model/check.h"

#include "core/job/fields.h"
#include "core/model/model.h"
#include "core/num/bad_input.h"
#include "core/study/assess.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_walk {
using namespace dervish;
using namespace dervish::bar;
using examples::mm;
using units::deg;

namespace {
const Round bar24{24 * mm};

/// A plain U with 60 mm bends: half 500, arm 250.
std::vector<Step> u_walk() {
    return {{.length = 0.5, .bend = 90 * deg, .radius = 60 * mm, .section = bar24},
            {.length = 0.25, .section = bar24, .mark = Mark::Eye}};
}

Bar of(const Laid& laid) {
    Bar b;
    b.line = laid.line;
    for (std::size_t point : laid.mounts) b.mounts.push_back({point, 2.5e6, 2.1e6, 3e5});
    b.eyes = {laid.left_eye[0], laid.right_eye[0]};
    return b;
}

std::string told(auto&& f) {
    try {
        f();
    } catch (const BadInput& e) {
        return e.what();
    }
    return "nothing";
}
} // namespace

TEST_CASE("one bar by sizes, by walk and by points has one rate") {
    Shape shape = examples::plain_u();
    shape.bend_radius = 60 * mm;
    const Laid sizes = lay(shape), walked = walk(u_walk(), 0.8);
    std::vector<Spot> spots;
    for (const Eigen::Vector3d& p : {Eigen::Vector3d(-0.25, 0.5, 0), {0, 0.5, 0}, {0, -0.5, 0}, {-0.25, -0.5, 0}})
        spots.push_back({p, p.x() == 0 ? 60 * mm : 0, bar24, p.x() == 0 ? Mark::Bend : Mark::Eye});
    const Laid points = through(spots, 0.8);
    const Eigen::Matrix2d k = solve(of(sizes)).at_eyes;
    for (const Laid& other : {walked, points}) {
        CHECK((solve(of(other)).at_eyes - k).norm() < 1e-9 * k.norm());
        CHECK(mass(of(other)) == Approx(mass(of(sizes))).epsilon(1e-12));
    }
}

TEST_CASE("the same holds for splayed and dropped arms, walked with a bend's angle and direction") {
    // An arm splayed by s and dropped by d: from the axis it goes (-1, tan s, -tan d).
    const double splay = 12 * deg, drop = 7 * deg;
    Shape shape = examples::plain_u();
    shape.splay = splay;
    shape.drop = drop;
    const Eigen::Vector3d arm = Eigen::Vector3d(-1, std::tan(splay), -std::tan(drop)).normalized();
    const double bend = std::acos(arm.y()), plane = std::atan2(arm.z(), -arm.x());
    const Laid walked = walk({{.length = 0.5, .bend = bend, .plane = plane, .section = bar24},
                              {.length = 0.25 / -arm.x(), .section = bar24, .mark = Mark::Eye}},
                             0.8);
    const Eigen::Matrix2d k = solve(of(lay(shape))).at_eyes;
    CHECK((solve(of(walked)).at_eyes - k).norm() < 1e-9 * k.norm());
}

TEST_CASE("a walk goes where a person would: rear, up, forward, and on from there") {
    const auto end_of = [](double plane) {
        const Laid l = walk({{.length = 0.5, .bend = 90 * deg, .plane = plane, .section = bar24},
                             {.length = 0.2, .section = bar24, .mark = Mark::Eye}},
                            0.6);
        return Eigen::Vector3d(l.line.points.front() - Eigen::Vector3d(0, 0.5, 0));
    };
    CHECK((end_of(0) - Eigen::Vector3d(-0.2, 0, 0)).norm() < 1e-12);
    CHECK((end_of(90 * deg) - Eigen::Vector3d(0, 0, 0.2)).norm() < 1e-12);
    CHECK((end_of(180 * deg) - Eigen::Vector3d(0.2, 0, 0)).norm() < 1e-12);
    CHECK((end_of(-90 * deg) - Eigen::Vector3d(0, 0, -0.2)).norm() < 1e-12);
    // Back, then outwards again by the opposite bend: a joggled arm.
    const Laid joggle = walk({{.length = 0.5, .bend = 90 * deg, .section = bar24},
                              {.length = 0.1, .bend = -30 * deg, .section = bar24},
                              {.length = 0.2, .section = bar24, .mark = Mark::Eye}},
                             0.8);
    const Eigen::Vector3d eye = joggle.line.points.front();
    CHECK(eye.x() == Approx(-0.1 - 0.2 * std::cos(30 * deg)));
    CHECK(eye.y() == Approx(0.5 + 0.2 * std::sin(30 * deg)));
}

TEST_CASE("steps of other diameters and tapers count where they are") {
    std::vector<Step> steps = u_walk();
    const double even = roll_rate(solve(of(walk(steps, 0.8))).at_eyes);
    steps[1].section = Round{20 * mm};
    const double thin_arms = roll_rate(solve(of(walk(steps, 0.8))).at_eyes);
    CHECK(thin_arms < even);
    steps[1].section = bar24;
    steps[1].taper_to = 20 * mm;
    const double tapered = roll_rate(solve(of(walk(steps, 0.8))).at_eyes);
    CHECK(tapered < even);
    CHECK(tapered > thin_arms);
    steps[1].taper_to = 24 * mm; // no taper at all
    CHECK(roll_rate(solve(of(walk(steps, 0.8))).at_eyes) == Approx(even).epsilon(1e-9));
    // Eight even pieces against the integral: a cantilever tapered from D to d bends by F a³/3EI D/d³... (thin end
    // loaded)
    Material m;
    const double big = 24 * mm, small = 20 * mm, a = 0.25, ei = m.youngs_modulus * units::pi / 64 * std::pow(big, 4);
    const double exact = a * a * a / (3 * ei) * big / small; // Roark: linear taper, load at the small end
    std::vector<Step> slim = {{.length = 0.5, .bend = 90 * deg, .section = Round{80 * mm}},
                              {.length = a, .section = bar24, .taper_to = small, .mark = Mark::Eye}};
    Bar b = of(walk(slim, 0.9));
    for (Mount& mount : b.mounts) mount = {mount.point, 1e12, 1e12, 1e12};
    const Solution s = solve(b);
    const double arms = ledger(s).bend_arms / roll_rate(s.at_eyes);
    CHECK(arms == Approx(exact).epsilon(0.01));
}

TEST_CASE("eyes are listed outermost first on both sides") {
    std::vector<Step> steps = {{.length = 0.5, .bend = 90 * deg, .section = bar24},
                               {.length = 0.2, .section = bar24, .mark = Mark::Eye},
                               {.length = 0.03, .section = bar24, .mark = Mark::Eye},
                               {.length = 0.02, .section = bar24, .mark = Mark::End}};
    const Laid l = walk(steps, 0.8);
    REQUIRE(l.left_eye.size() == 2);
    CHECK(l.line.points[l.left_eye[0]].x() == Approx(-0.23));
    CHECK(l.line.points[l.left_eye[1]].x() == Approx(-0.2));
    CHECK(l.line.points[l.right_eye[0]].x() == Approx(-0.23));
    CHECK(l.line.points[l.right_eye[0]].y() == Approx(-0.5));
}

TEST_CASE("a walk that cannot be says at which step, what is wrong and what would be right") {
    using Catch::Contains;
    using Catch::StartsWith;
    std::vector<Step> steps = u_walk();
    steps[0].radius = 9 * mm;
    CHECK_THAT(told([&] { walk(steps, 0.8); }), StartsWith("walk/0/radius: a bend of 9 mm is tighter"));
    steps = u_walk();
    steps[1].length = 0;
    CHECK_THAT(told([&] { walk(steps, 0.8); }), StartsWith("walk/1/length"));
    steps = u_walk();
    steps[1].mark = Mark::End;
    CHECK_THAT(told([&] { walk(steps, 0.8); }), Contains("no eye on each arm"));
    CHECK_THAT(told([&] { walk({}, 0.8); }), Contains("no step"));
    CHECK_THAT(told([&] { walk(u_walk(), 1.2); }), StartsWith("mount_spacing") && Contains("does not reach that far"));
    steps = {{.length = 0.3, .bend = 80 * deg, .section = bar24}, {.length = 0.3, .section = bar24, .mark = Mark::Eye}};
    CHECK_THAT(told([&] { walk(steps, 0.64); }), StartsWith("mount_spacing") && Contains("on the arm"));
    // Round and round: the arm comes back through the centre.
    steps = {{.length = 0.4, .bend = 90 * deg, .section = bar24},
             {.length = 0.2, .bend = 90 * deg, .section = bar24},
             {.length = 0.3, .bend = 90 * deg, .section = bar24},
             {.length = 0.4, .section = bar24, .mark = Mark::Eye}};
    CHECK_THAT(told([&] { walk(steps, 0.15); }), Contains("crosses itself"));
    // The arm ends on the other side of the car.
    steps = {{.length = 0.2, .bend = 90 * deg, .section = bar24},
             {.length = 0.2, .bend = 90 * deg, .section = bar24},
             {.length = 0.35, .section = bar24, .mark = Mark::Eye}};
    CHECK_THAT(told([&] { walk(steps, 0.3); }), Contains("crosses itself") || Contains("wrong side"));
}

TEST_CASE("a bar clamped between trailing arms meets its closed form") {
    // Arms of reach R swing apart: the bar twists by Δ/L and, clamped a behind the pivots, bends by a Δ with its ends
    // held straight: K = GJ/L + 12 EI a²/(L³ (1 + Φ)), Φ = 12 EI/(κ G A L²).
    job::AxleSetup a = job::blank().fitted.rear;
    a.held = job::Held::Clamped;
    a.bar.centre_length.value = 1.1;
    a.bar.outer_diameter.value = 22 * mm;
    a.trailing_arms.to_bar.value = 0.3;
    a.trailing_arms.to_wheel.value = 0.5;
    const Material m{a.bar.youngs_modulus.value, a.bar.shear_modulus.value, 7850, 1e9};
    const SectionConstants c = constants(Round{22 * mm}, m);
    const double L = 1.1, ei = m.youngs_modulus * c.bend_y, phi = 12 * ei / (c.shear_area_y * m.shear_modulus * L * L);
    const double per_turn = m.shear_modulus * c.torsion / L + 12 * ei * 0.3 * 0.3 / (L * L * L * (1 + phi));
    const Solution s = model::solve(a);
    // Wheels moved apart by ± s turn the arms apart by 2 s/R: roll-mode rate 2 K/R².
    CHECK(roll_rate(s.at_links) == Approx(2 * per_turn / (0.5 * 0.5)).epsilon(1e-6));
    CHECK((s.at_links * Eigen::Vector2d(1, 1)).norm() < 1e-6 * s.at_links.norm()); // both alike: it only rides along
    const Ledger l = ledger(s);
    CHECK(l.twist_centre == Approx(m.shear_modulus * c.torsion / L / per_turn).epsilon(1e-4));
    CHECK(l.mounts == 0);
    const Moved at = moved(s, {-0.03, 0.03});
    const auto nodes = shape(s, at);
    CHECK(nodes.front()[2] == Approx(-0.03 * 0.3 / 0.5).epsilon(1e-6));
    CHECK(nodes.back()[4] == Approx(0.03 / 0.5).epsilon(1e-6));
    // On the car it acts at the wheels as it is: no motion ratio of links.
    job::Job j = job::blank();
    j.trial.rear = a;
    CHECK(model::car_with(j.vehicle, j.trial).rear.bar(0, 0) == Approx(s.at_links(0, 0)));
    CHECK(study::assess(j.vehicle, j.trial).rear->wheel_rate == Approx(roll_rate(s.at_links)));
}

TEST_CASE("separate arms: a blade set flat is softer, and the job takes it") {
    job::Job j = job::blank();
    job::AxleSetup& a = j.trial.front;
    a.bar.bend_radius.value = 0;
    a.bar.arms = job::Arms::Blade;
    double last = 1e12;
    for (const double rotation : {0.0, 30.0, 60.0, 90.0}) {
        a.bar.blade_rotation.value = rotation * deg;
        const double k = study::assess(j.vehicle, j.trial).outcomes[study::FrontRate];
        CHECK(k < last);
        last = k;
    }
    CHECK(job::field(j, "trial/front/bar/blade_rotation"));
    CHECK_FALSE(job::field(j, "trial/rear/bar/blade_rotation"));
    a.bar.arms = job::Arms::Round;
    a.bar.arm_diameter.value = 22 * mm;
    const double round = study::assess(j.vehicle, j.trial).outcomes[study::FrontRate];
    a.bar.arms = job::Arms::OfTheBar;
    CHECK(round == Approx(study::assess(j.vehicle, j.trial).outcomes[study::FrontRate]));
}

TEST_CASE("complaints about a walked bar name the step's field in the job") {
    job::Job j = job::blank();
    job::BarData& b = j.trial.front.bar;
    b.form = job::Form::Walk;
    const auto fails = [&] {
        try {
            model::check(j);
        } catch (const BadInput& e) {
            return e.where();
        }
        return std::string("nowhere");
    };
    CHECK(fails() == "trial/front/bar/walk");
    b.walk = {{{0.475}, {90 * deg}, {}, {0.05}, {}, {}, {}, Mark::Bend}, {{0.24}, {}, {}, {}, {}, {}, {}, Mark::Eye}};
    CHECK(fails() == "nowhere");
    b.walk[0].radius.value = 5 * mm;
    CHECK(fails() == "trial/front/bar/walk/0/radius");
    b.walk[0].radius.value = 0.45; // fits the bar, not the steps
    CHECK(fails() == "trial/front/bar/walk");
    b.walk[0].radius.value = 0.05;
    j.trial.front.mounts.spacing.value = 2;
    CHECK(fails() == "trial/front/mounts/spacing");
    j.trial.front.mounts.spacing.value = 0.7;
    j.trial.front.pickups.forward.value = 0.3;
    CHECK(fails() == "trial/front/links/length");
    j.trial.front.pickups.forward.value = 0.05; // a leaning link is softer in effect than an upright one
    const double lean = study::assess(j.vehicle, j.trial).outcomes[study::FrontRate];
    j.trial.front.pickups.forward.value = 0;
    CHECK(lean != Approx(study::assess(j.vehicle, j.trial).outcomes[study::FrontRate]).epsilon(1e-4));
    for (const char* path : {"trial/front/bar/walk/1/length", "trial/front/bar/walk/0/bend"})
        CHECK(job::field(j, path));
    CHECK_FALSE(job::field(j, "trial/front/bar/splay"));
}

TEST_CASE("any symmetric bar is walked again as it was laid") {
    examples::Random r;
    for (int i = 0; i < 40; ++i) {
        Shape shape = r.shape();
        shape.arm_section = shape.section;
        const Laid laid = lay(shape), again = walk(to_walk(laid), shape.mount_spacing);
        REQUIRE(again.left_eye.size() == laid.left_eye.size());
        const Eigen::Matrix2d k = solve(of(laid)).at_eyes;
        CHECK((solve(of(again)).at_eyes - k).norm() < 1e-8 * k.norm());
        const auto ends = corners(to_walk(laid));
        const Eigen::Vector3d middle(laid.line.points[laid.line.points.size() / 2].x(), 0,
                                     laid.line.points[laid.line.points.size() / 2].z());
        CHECK((ends.back() + middle - laid.line.points.front()).norm() < 1e-9);
    }
}

} // namespace tests::of_walk
