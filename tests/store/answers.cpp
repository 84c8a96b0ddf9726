/// Everything that a person can read of six unlike cars, as it was last looked at and found right: a change of the
/// program that alters one of them by more than rounding shows here, line by line. It says nothing of what is right;
/// the tests of each room do. After a change that is meant: DERVISH_KEEP_ANSWERS=1 store-tests "[answers]", and read
/// the difference that version control then shows.
#include "answers.h"

#include <catch2/catch.hpp>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <sstream>

using namespace dervish;

namespace {
using Texts = std::vector<std::pair<std::string, std::string>>;

/// The job with numbers typed in and choices made, in that order of what is listed.
job::Job with(job::Job j, const Texts& changes) {
    for (const auto& [path, text] : changes) {
        CAPTURE(path, text);
        if (const auto field = job::field(j, path)) {
            field->value->value = job::parse(text, field->spec, units::System::Metric, path);
            continue;
        }
        int made = -1;
        for (const char* prefix : {"vehicle", "trial"})
            for (const job::ChoiceRef& c : job::choices(j, prefix))
                for (std::size_t w = 0; c.path == path && w < c.words.size(); ++w)
                    if (c.words[w] == text) made = static_cast<int>(w);
        REQUIRE(made >= 0);
        edit::choose(j, path, made);
    }
    return j;
}

job::Job demo(const std::string& name) {
    job::Job j = store::load(std::string(DEMO) + "/" + name + ".dervish").job;
    // Readings of the bench and of setting up, so that there is something to judge.
    job::RigCheck& rig = job::rig_for(j, j.trial.front);
    rig.readings = {{2, 0.6e-3}, {4, 1.22e-3}, {6, 1.85e-3}, {8, 2.41e-3}};
    for (const job::AxleSetup* a : {&j.trial.front, &j.trial.rear}) {
        job::SetupChecks& c = job::checks_for(j, *a);
        c.table_gap = 1.5e-3;
        c.droop = 0.08;
        c.bump = 0.06;
        c.left_stub = 0.118;
        c.right_stub = 0.1235;
        c.falls_free = true;
        c.mount_height = 0.49;
        c.eye_height = 0.478;
        c.left_link = 0.1502;
        c.right_link = 0.152;
        c.lift_zero = 0.01;
        c.rounds = {{0.0225, 0.0261}, {0.0235, 0.0266}};
        c.hang_bend = 0.9;
    }
    return j;
}

job::Job unlike_van() {
    job::Job j = with(demo("hut-van"), {{"vehicle/chassis_torsion", "2900"},
                                        {"vehicle/front_left_load", "575"},
                                        {"vehicle/rear_right_load", "561"},
                                        {"vehicle/front/travel/left_bump", "6"},
                                        {"vehicle/front/travel/left_droop", "-9"},
                                        {"vehicle/front/travel/strap", "104"},
                                        {"vehicle/front/travel/body", "92"},
                                        {"vehicle/rear/travel/left_bump", "-7"},
                                        {"vehicle/rear/travel/left_droop", "8"},
                                        {"vehicle/rear/bump_k3", "0.05"},
                                        {"vehicle/front/wheels/roll_centre_moves", "1.4"},
                                        {"vehicle/front/wheels/camber_moves", "1.1"},
                                        {"vehicle/rear/wheels/trail_steer", "0.02"},
                                        {"vehicle/handling/yaw_inertia", "3300"},
                                        {"vehicle/handling/roll_inertia", "720"},
                                        {"vehicle/handling/person", "95"},
                                        {"vehicle/handling/person_out", "905"},
                                        {"vehicle/handling/side_area", "8.5"},
                                        {"vehicle/handling/front_braking", "71"},
                                        {"vehicle/handling/propshaft", "clockwise"},
                                        {"trial/front/links/right_longer", "4"},
                                        {"trial/front/links/play", "0.6"},
                                        {"trial/front/links/capacity", "9000"},
                                        {"trial/front/links/thickness", "14"},
                                        {"trial/front/links/tilt", "32"},
                                        {"trial/front/mounts/rate_left", "0.7"},
                                        {"trial/front/mounts/bore_friction", "0.3"},
                                        {"trial/front/mounts/out_of_line", "2.5"},
                                        {"trial/front/mounts/torsional", "25"},
                                        {"trial/front/mounts/capacity", "14000"},
                                        {"trial/front/bar/wall", "4.5"},
                                        {"trial/front/bar/bent", "3"},
                                        {"trial/front/stand/lift", "30"},
                                        {"trial/front/plan/preload", "120"},
                                        {"trial/rear/mounts/on", "axle"},
                                        {"trial/rear/links/right_longer", "-3"},
                                        {"trial/rear/stand/lift", "-20"},
                                        {"trial/rear/stand/lift_by", "spacers"},
                                        {"trial/front/tyres/nominal_load", "6100"},
                                        {"trial/front/stand/pressure", "0.88"},
                                        {"trial/rear/stand/left_grip", "0.9"},
                                        {"trial/rear/stand/left_pressure", "1.12"},
                                        {"trial/rear/stand/camber", "-0.8"},
                                        {"trial/brace/torsion", "900"}});
    j.trial.front.left_eye = 2;
    for (int i = 0; i < 4; ++i) edit::add_spring_point(j.trial.rear, j.vehicle.rear);
    for (std::size_t i = 0; i < j.trial.rear.springs.points.size(); ++i)
        j.trial.rear.springs.points[i].force.value *= 1 + 0.04 * double(i);
    edit::add_obstacle(j, End::Rear);
    return j;
}

job::Job small_front_driver() {
    job::Job j = with(demo("hill-sprint"), {{"vehicle/front_left_load", "262"},
                                            {"vehicle/front_right_load", "255"},
                                            {"vehicle/cg_height", "520"},
                                            {"vehicle/handling/driven", "front"},
                                            {"vehicle/handling/front_braking", "78"},
                                            {"vehicle/front/linkage/path", "points"},
                                            {"trial/front/stand/differential", "limited"},
                                            {"trial/rear/stand/differential", "open"},
                                            {"trial/front/bar/arms", "blade"},
                                            {"trial/front/bar/blade_rotation", "25"},
                                            {"trial/front/pickups/rule", "under_eyes"},
                                            {"trial/front/pickups/end", "above"},
                                            {"trial/rear/held", "clamped"},
                                            {"trial/rear/trailing_arms/to_bar", "260"},
                                            {"trial/rear/trailing_arms/to_wheel", "405"},
                                            {"trial/rear/stand/camber", "-1.1"}});
    j.trial.aboard = {"load-1", "load-2"};
    j.trial.front.stand.pressure.source = job::Source::Measured; // of one end alone
    j.trial.rear.stand.pressure.source = job::Source::Assumed;
    j.trial.front.dampers.droop_gap.source = job::Source::Assumed;
    job::checks_for(j, j.trial.front).bump.reset(); // half a step
    job::checks_for(j, j.trial.front).right_stub.reset();
    job::checks_for(j, j.trial.front).left_link.reset();
    job::checks_for(j, j.trial.front).eye_height.reset();
    return j;
}

job::Job driven_solid_axle() {
    job::Job j = with(demo("hill-sprint"), {{"vehicle/rear/kind", "solid"},
                                            {"vehicle/rear/spring_base", "1010"},
                                            {"vehicle/rear/roll_centre_height", "290"},
                                            {"vehicle/rear/unsprung_mass", "92"},
                                            {"vehicle/rear/wheels/camber_kept", "1"},
                                            {"trial/rear/bar/form", "walk"},
                                            {"trial/front/bar/form", "points"},
                                            {"trial/front/links/adjust", "one_end"},
                                            {"trial/rear/stand/differential", "locked"},
                                            {"trial/front/connected", "no"}});
    return j;
}

job::Job tall_and_light() {
    return with(demo("hut-van"), {{"vehicle/front_left_load", "210"},
                                  {"vehicle/front_right_load", "204"},
                                  {"vehicle/rear_left_load", "240"},
                                  {"vehicle/rear_right_load", "249"},
                                  {"vehicle/cg_height", "930"},
                                  {"vehicle/front/track", "1180"},
                                  {"vehicle/rear/track", "1160"},
                                  {"trial/front/fitted", "no"},
                                  {"trial/rear/bar/outer_diameter", "16"}});
}

/// The numbers of a line, and the line with each in its place as "#".
std::pair<std::vector<double>, std::string> parted(const std::string& line) {
    const std::size_t at = line.find('\t');
    if (at == std::string::npos) return {{}, line};
    std::vector<double> numbers;
    for (const char *from = line.data() + at + 1, *end = line.data() + line.size(); from < end; ++from) {
        double number = NAN;
        from = std::from_chars(from, end, number).ptr;
        numbers.push_back(number);
    }
    return {numbers, line.substr(0, at)};
}

bool alike(const std::string& now, const std::string& kept) {
    const auto [a, a_words] = parted(now);
    const auto [b, b_words] = parted(kept);
    if (a_words != b_words || a.size() != b.size()) return false;
    for (std::size_t i = 0; i < a.size(); ++i)
        if (a[i] != b[i] && !(std::abs(a[i] - b[i]) <= 1e-5 * std::abs(b[i]) + 1e-6)) return false;
    return true;
}

void check_answers(const std::string& name, const std::string& now) {
    const std::string file = std::string(DATA) + "/answers/" + name + ".txt";
    if (std::getenv("DERVISH_KEEP_ANSWERS")) {
        std::ofstream(file) << now;
        return;
    }
    std::ifstream in(file);
    REQUIRE(in);
    std::istringstream lines(now);
    std::string kept, line, different;
    int count = 0;
    while (true) {
        const bool more = bool(std::getline(lines, line)), expected = bool(std::getline(in, kept));
        if (!more && !expected) break;
        if (more && expected && alike(line, kept)) continue;
        if (++count <= 12) different += (expected ? "\n  was  " + kept : "") + (more ? "\n  now  " + line : "");
        if (more != expected) break;
    }
    INFO(count << " lines of " << name << " differ, the first of them:" << different);
    CHECK(count == 0);
}
} // namespace

TEST_CASE("every answer of a laden van is as it was last looked at", "[answers]") {
    check_answers("hut-van", store::answers(demo("hut-van")));
}
TEST_CASE("every answer of a light rear-driven car is as it was last looked at", "[answers]") {
    check_answers("hill-sprint", store::answers(demo("hill-sprint")));
}
TEST_CASE("every answer of a car with unlike sides, slack and a tube is as it was last looked at", "[answers]") {
    check_answers("unlike-van", store::answers(unlike_van()));
}
TEST_CASE("every answer of a front-driven car with a twist beam is as it was last looked at", "[answers]") {
    check_answers("front-driver", store::answers(small_front_driver()));
}
TEST_CASE("every answer of a driven solid axle and a walked bar is as it was last looked at", "[answers]") {
    check_answers("solid-axle", store::answers(driven_solid_axle()));
}
TEST_CASE("every answer of a car that tips is as it was last looked at", "[answers]") {
    check_answers("tall", store::answers(tall_and_light()));
}
TEST_CASE("what is typed reads as it was last looked at", "[answers]") {
    check_answers("typed", store::typed_answers());
}
