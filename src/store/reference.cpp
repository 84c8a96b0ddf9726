#include "store/reference.h"

#include "core/balance/ride.h"
#include "core/bar/rate.h"
#include "core/bar/travel.h"
#include "core/car/handling.h"
#include "core/flex/protocol.h"
#include "core/num/bad_input.h"
#include "core/units/units.h"

#include <algorithm>
#include <cmath>
#include <concepts>
#include <set>
#include <span>

namespace dervish::store {
namespace {
using units::mm, units::N_per_mm;

/// A place in the file: reads with errors that say where.
struct Place {
    const nlohmann::json& at;
    std::string path;

    [[noreturn]] void wrong(const std::string& accepted) const {
        throw BadInput(path, at.dump().substr(0, 60) + " is not usable", accepted);
    }
    bool has(const char* key) const { return at.contains(key) && !at.at(key).is_null(); }
    Place operator[](const char* key) const {
        if (!at.is_object() || !at.contains(key))
            throw BadInput(path + "/" + key, "missing", "a case of this format has it");
        return {at.at(key), path + "/" + key};
    }
    template <std::integral I> Place operator[](I place) const { // a template, so that a literal 0 is no key
        const auto i = static_cast<std::size_t>(place);
        if (!at.is_array() || i >= at.size())
            throw BadInput(path + "/" + std::to_string(i), "missing", "the list is too short");
        return {at[i], path + "/" + std::to_string(i)};
    }
    std::size_t size() const {
        if (!at.is_array()) wrong("give a list");
        return at.size();
    }
    double number() const {
        if (!at.is_number() || !std::isfinite(at.get<double>())) wrong("give a number");
        return at.get<double>();
    }
    double number_or(const char* key, double otherwise) const { return has(key) ? (*this)[key].number() : otherwise; }
    std::size_t index() const {
        if (!at.is_number_integer() || at < 0) wrong("give a point's number from 0");
        return at.get<std::size_t>();
    }
    std::string text() const {
        if (!at.is_string()) wrong("give a text");
        return at.get<std::string>();
    }
    void only(const std::set<std::string>& known) const {
        if (!at.is_object()) wrong("give an object");
        for (const auto& [key, value] : at.items())
            if (!known.contains(key))
                throw BadInput(path + "/" + key, "not known in this format", "take it out or correct its spelling");
    }
};

Eigen::Vector3d read_point(const Place& p) { return Eigen::Vector3d(p[0].number(), p[1].number(), p[2].number()) * mm; }

bar::Round read_round(const Place& c) { return {c["outer_diameter_mm"].number() * mm, c.number_or("wall_mm", 0) * mm}; }

bar::Bar read_bar(const Place& c) {
    c.only({"name", "E_GPa", "G_GPa", "density_kg_m3", "points_mm", "bend_radius_mm", "segments", "mounts", "eyes",
            "link_stiffness_N_per_mm", "tolerance_percent", "expected"});
    bar::Bar b;
    b.material.youngs_modulus = c["E_GPa"].number() * units::GPa;
    b.material.shear_modulus = c["G_GPa"].number() * units::GPa;
    b.material.density = c.number_or("density_kg_m3", b.material.density);
    const Place points = c["points_mm"];
    for (std::size_t i = 0; i < points.size(); ++i) b.line.points.push_back(read_point(points[i]));
    if (c.has("bend_radius_mm")) {
        const Place radii = c["bend_radius_mm"];
        for (std::size_t i = 0; i < radii.size(); ++i)
            b.line.bend_radius.push_back(radii[i].at.is_null() ? 0 : radii[i].number() * mm);
    }
    const Place segments = c["segments"];
    for (std::size_t i = 0; i < segments.size(); ++i) {
        segments[i].only({"outer_diameter_mm", "wall_mm"});
        b.line.sections.push_back(read_round(segments[i]));
    }
    const Place mounts = c["mounts"];
    for (std::size_t i = 0; i < mounts.size(); ++i) {
        const Place m = mounts[i];
        m.only({"point", "radial_N_per_mm", "axial_N_per_mm", "torsional_N_mm_per_rad"});
        const double radial = m["radial_N_per_mm"].number() * N_per_mm;
        b.mounts.push_back({m["point"].index(), radial, radial, m.number_or("axial_N_per_mm", 0) * N_per_mm,
                            m.number_or("torsional_N_mm_per_rad", 0) * units::N_mm});
    }
    b.eyes = {c["eyes"][0].index(), c["eyes"][1].index()};
    if (c.has("link_stiffness_N_per_mm"))
        for (bar::Link& link : b.links) link.body = c["link_stiffness_N_per_mm"].number() * N_per_mm;
    return b;
}

std::vector<Compared> check_bar(const Place& c) {
    const bar::Solution s = bar::solve(read_bar(c));
    const double share = c.number_or("tolerance_percent", 0.05) / 100;
    const Place expected = c["expected"];
    expected.only({"end_stiffness_matrix_N_per_mm", "antiphase_rate_N_per_mm", "mass_kg"});
    std::vector<Compared> out;
    const auto add = [&](const std::string& figure, const char* unit, double computed, double wanted) {
        // As the file says, or 0.05 %; no finer than its last printed digit.
        out.push_back({figure, unit, computed, wanted, std::max(share * std::abs(wanted), 1e-5)});
    };
    if (expected.has("end_stiffness_matrix_N_per_mm"))
        for (std::size_t i = 0; i < 2; ++i)
            for (std::size_t j = 0; j < 2; ++j)
                add("K" + std::to_string(i + 1) + std::to_string(j + 1), "N/mm",
                    s.at_links(static_cast<int>(i), static_cast<int>(j)) / N_per_mm,
                    expected["end_stiffness_matrix_N_per_mm"][i][j].number());
    if (expected.has("antiphase_rate_N_per_mm"))
        add("roll-mode rate", "N/mm", bar::roll_rate(s.at_links) / N_per_mm,
            expected["antiphase_rate_N_per_mm"].number());
    if (expected.has("mass_kg")) add("mass", "kg", bar::mass(s.bar), expected["mass_kg"].number());
    return out;
}

/// Elements at most this long follow large travel to a small part of the tolerance.
constexpr double longest_element = 0.1;

/// Error and expectation of an eye's place, 0.3 % of how far it went and no finer than the file's digits.
void add_eye(std::vector<Compared>& out, const std::string& figure, const Eigen::Vector3d& moved,
             const Eigen::Vector3d& wanted) {
    for (int i = 0; i < 3; ++i)
        out.push_back(
            {figure + " d" + "xyz"[i], "mm", moved[i] / mm, wanted[i], std::max(0.003 * wanted.norm(), 1e-4)});
}

/// A U on two mounts under dead vertical loads, down at the left eye and up at the right.
std::vector<Compared> check_large(const Place& c) {
    c.only({"name", "half_length_mm", "arm_mm", "splay_rad", "outer_diameter_mm", "wall_mm", "mount_y_mm",
            "mount_radial_N_per_mm", "mount_axial_N_per_mm", "E_GPa", "G_GPa", "right_eye"});
    const double arm = c["arm_mm"].number() * mm, half = c["half_length_mm"].number() * mm,
                 mount = c["mount_y_mm"].number() * mm, out = half + arm * std::sin(c.number_or("splay_rad", 0)),
                 back = arm * std::cos(c.number_or("splay_rad", 0));
    bar::Bar b;
    b.material.youngs_modulus = c["E_GPa"].number() * units::GPa;
    b.material.shear_modulus = c["G_GPa"].number() * units::GPa;
    b.line.points = {{-back, -out, 0}, {0, -half, 0}, {0, -mount, 0}, {0, mount, 0}, {0, half, 0}, {-back, out, 0}};
    b.line.sections.assign(5, read_round(c));
    const double radial = c["mount_radial_N_per_mm"].number() * N_per_mm;
    for (std::size_t point : {2u, 3u})
        b.mounts.push_back({point, radial, radial, c["mount_axial_N_per_mm"].number() * N_per_mm});
    b.eyes = {0, 5};
    const bar::Solution solution = bar::solve(b, longest_element);
    const bar::Mesh mesh = bar::mesh(solution);
    std::vector<Compared> figures;
    const Place loads = c["right_eye"];
    bar::Pull pull;
    bar::Posture at;
    for (std::size_t i = 0; i < loads.size(); ++i) {
        loads[i].only({"load_N", "eye_dx_mm", "eye_dy_mm", "eye_dz_mm"});
        const double load = loads[i]["load_N"].number();
        pull.force = {Eigen::Vector3d(0, 0, -load), Eigen::Vector3d(0, 0, load)};
        at = bar::settle(mesh, pull, {0, 0}, 1, i == 0 ? nullptr : &at);
        if (!at.converged) throw BadInput(loads[i].path, "no equilibrium was found", "the load is beyond the bar");
        add_eye(figures, "at " + units::trimmed(load, 1) + " N:", at.place[mesh.eyes[1]] - mesh.nodes[mesh.eyes[1]],
                {loads[i]["eye_dx_mm"].number(), loads[i]["eye_dy_mm"].number(), loads[i]["eye_dz_mm"].number()});
    }
    return figures;
}

/// A bar on ball-jointed links whose pick-ups travel up and down.
std::vector<Compared> check_links(const Place& c) {
    c.only({"name", "E_GPa", "G_GPa", "points_mm", "bend_radius_mm", "outer_diameter_mm", "wall_mm", "mounts", "links",
            "expected"});
    // The bar's own format, one section throughout, the eyes at its ends.
    nlohmann::json plain = c.at;
    for (const char* key : {"outer_diameter_mm", "wall_mm", "links", "expected"}) plain.erase(key);
    plain["segments"] = nlohmann::json::array();
    for (std::size_t i = 0; i + 1 < c["points_mm"].size(); ++i)
        plain["segments"].push_back(
            {{"outer_diameter_mm", c["outer_diameter_mm"].at}, {"wall_mm", c.at.value("wall_mm", nlohmann::json())}});
    plain["eyes"] = {0, c["points_mm"].size() - 1};
    const bar::Solution solution = bar::solve(read_bar({plain, c.path}), longest_element);
    const bar::Mesh mesh = bar::mesh(solution);
    const Place links = c["links"];
    links.only({"left_pickup_mm", "right_pickup_mm", "length_mm", "stiffness_N_per_mm"});
    bar::Pull pull;
    for (std::size_t e = 0; e < 2; ++e)
        pull.rods[e] = bar::Rod{bar::upward(read_point(links[e == 0 ? "left_pickup_mm" : "right_pickup_mm"])),
                                links["length_mm"].number() * mm, links["stiffness_N_per_mm"].number() * N_per_mm};
    const Place expected = c["expected"];
    std::vector<Compared> figures;
    for (std::size_t i = 0; i < expected.size(); ++i) {
        const Place x = expected[i];
        x.only({"pickup_travel_mm", "link_force_N", "left_eye_mm", "right_eye_mm"});
        const Eigen::Vector2d travel(x["pickup_travel_mm"][0].number() * mm, x["pickup_travel_mm"][1].number() * mm);
        const bar::Posture at = bar::reach(mesh, pull, travel);
        if (!at.converged) throw BadInput(x.path, "no equilibrium was found", "the travel is beyond the links");
        const std::string where = "at " + units::trimmed(travel[0] / mm, 1) + ", " + units::trimmed(travel[1] / mm, 1);
        for (std::size_t e = 0; e < 2; ++e) {
            const double wanted = x["link_force_N"][e].number();
            figures.push_back({where + (e == 0 ? ": left" : ": right"), "N", at.link_force[e], wanted,
                               std::max(0.003 * std::abs(wanted), 0.01)});
            add_eye(figures, e == 0 ? "  left eye" : "  right eye", at.place[mesh.eyes[e]] - mesh.nodes[mesh.eyes[e]],
                    read_point(x[e == 0 ? "left_eye_mm" : "right_eye_mm"]) / mm);
        }
    }
    return figures;
}

car::Axle read_axle(const Place& a) {
    a.only({"kind", "track", "unsprung_mass", "unsprung_height", "tyre_rate", "spring_rate", "spring_base", "bar_base",
            "bump_gap", "bump_k1", "bump_k3", "droop_gap", "droop_k", "roll_centre_height", "bar",
            "parasitic_roll_stiffness", "damping", "roll_inertia", "tyre"});
    car::Axle out;
    const std::string kind = a["kind"].text();
    if (kind != "independent" && kind != "solid") a["kind"].wrong("give independent or solid");
    out.kind = kind == "solid" ? AxleKind::Solid : AxleKind::Independent;
    const std::pair<const char*, double*> needed[] = {{"track", &out.track},
                                                      {"unsprung_mass", &out.unsprung_mass},
                                                      {"unsprung_height", &out.unsprung_height},
                                                      {"tyre_rate", &out.tyre_rate},
                                                      {"spring_rate", &out.spring_rate},
                                                      {"bump_gap", &out.bump_gap},
                                                      {"bump_k1", &out.bump_k1},
                                                      {"bump_k3", &out.bump_k3},
                                                      {"droop_gap", &out.droop_gap},
                                                      {"droop_k", &out.droop_k},
                                                      {"roll_centre_height", &out.roll_centre_height}};
    for (const auto& [key, value] : needed) *value = a[key].number();
    out.spring_base = a.number_or("spring_base", 0);
    out.bar_base = a.number_or("bar_base", 0);
    out.parasitic_roll_stiffness = a.number_or("parasitic_roll_stiffness", 0);
    if (a.has("bar"))
        for (std::size_t i = 0; i < 2; ++i)
            for (std::size_t j = 0; j < 2; ++j)
                out.bar(static_cast<int>(i), static_cast<int>(j)) = a["bar"][i][j].number();
    return out;
}

car::Car read_car(const Place& c) {
    c.only({"wheelbase", "sprung_mass", "sprung_cg_behind_front_axle", "sprung_cg_height", "front", "rear",
            "chassis_torsion", "roll_inertia", "pitch_inertia"});
    car::Car out;
    out.wheelbase = c["wheelbase"].number();
    out.sprung_mass = c["sprung_mass"].number();
    out.cg_behind_front_axle = c["sprung_cg_behind_front_axle"].number();
    out.cg_height = c["sprung_cg_height"].number();
    out.front = read_axle(c["front"]);
    out.rear = read_axle(c["rear"]);
    if (c.has("chassis_torsion")) out.chassis_torsion = c["chassis_torsion"].number();
    try {
        car::check(out);
    } catch (const BadInput& e) {
        throw e.within(c.path);
    }
    return out;
}

balance::AxleGrip read_grip(const Place& axle) {
    const Place t = axle["tyre"];
    const bool solid = axle["kind"].text() == "solid";
    t.only({"nominal_load", "grip", "grip_fall", "stiffness", "stiffness_load", "camber_thrust", "camber_loss",
            "best_camber", "camber", "camber_kept"});
    balance::Tyre tyre;
    const std::pair<const char*, double*> needed[] = {
        {"nominal_load", &tyre.nominal_load},     {"grip", &tyre.grip},
        {"grip_fall", &tyre.grip_fall},           {"stiffness", &tyre.stiffness},
        {"stiffness_load", &tyre.stiffness_load}, {"camber_thrust", &tyre.camber_thrust},
        {"camber_loss", &tyre.camber_loss},       {"best_camber", &tyre.best_camber}};
    for (const auto& [key, value] : needed) *value = t[key].number();
    balance::AxleGrip out;
    out.tyre = {tyre, tyre};
    out.camber = t["camber"].number();
    out.camber_kept = solid ? 1 : t["camber_kept"].number();
    return out;
}

/// Steady corners to either side, with the tyres said.
std::vector<Compared> check_corner(const Place& c) {
    c.only({"name", "car", "expected"});
    balance::Model m;
    m.car = read_car(c["car"]);
    m.axle = {read_grip(c["car"]["front"]), read_grip(c["car"]["rear"])};
    const Place expected = c["expected"];
    expected.only({"at_3", "at_minus_3", "understeer_deg_per_g", "limit_left", "limit_right"});
    std::vector<Compared> out;
    for (const bool left : {true, false}) {
        const char* key = left ? "at_3" : "at_minus_3";
        if (expected.has(key)) {
            const balance::Corner at = balance::corner(m, left ? 3 : -3);
            if (!at.holds)
                throw BadInput(c.path + "/expected/" + key, "the car does not hold it", "give a lesser turn");
            const Place x = expected[key];
            x.only({"slip_deg", "front_load_N", "rear_load_N"});
            const std::string where = left ? "at 3 m/s²: " : "at -3 m/s²: ";
            for (std::size_t e = 0; e < 2; ++e) {
                out.push_back({where + (e == 0 ? "front slip" : "rear slip"), "°", at.slip[e] / units::deg,
                               x["slip_deg"][e].number(), 0.003});
                for (std::size_t side = 0; side < 2; ++side)
                    out.push_back({where + "load, " + car::wheel_names[2 * e + side], "N",
                                   at.state.wheels[2 * e + side].load,
                                   x[e == 0 ? "front_load_N" : "rear_load_N"][side].number(), 5});
            }
        }
        const char* end = left ? "limit_left" : "limit_right";
        if (!expected.has(end)) continue;
        const balance::Limit l =
            balance::limit(m, balance::Phase::Middle, left ? balance::Turn::Left : balance::Turn::Right);
        const Place x = expected[end];
        x.only({"lateral_acceleration", "first", "left_at_the_other"});
        const std::string where = left ? "limit, left: " : "limit, right: ", first = x["first"].text();
        if (first != "front" && first != "rear") x["first"].wrong("give front or rear");
        out.push_back({where + "lateral", "m/s²", l.lateral, x["lateral_acceleration"].number(), 0.01});
        out.push_back(
            {where + "front first", "", l.first == balance::Gives::Front ? 1.0 : 0.0, first == "front" ? 1.0 : 0.0, 0});
        out.push_back({where + "left at the other", "", l.left, x["left_at_the_other"].number(), 0.003});
    }
    if (expected.has("understeer_deg_per_g")) {
        const auto u = balance::understeer(m);
        if (!u) throw BadInput(c.path + "/expected/understeer_deg_per_g", "none", "the car does not hold 0.3 g");
        out.push_back(
            {"understeer", "°/g", u->whole * units::g / units::deg, expected["understeer_deg_per_g"].number(), 0.01});
    }
    return out;
}

double above_none(const Place& p) {
    if (!(p.number() > 0)) p.wrong("give more than 0");
    return p.number();
}

/// A rough road under a car that stands or turns.
std::vector<Compared> check_ride(const Place& c) {
    c.only({"name", "car", "road", "speed", "lateral_acceleration", "expected", "standard_error", "without_stops"});
    balance::Model m;
    m.car = read_car(c["car"]);
    m.pitch_inertia = above_none(c["car"]["pitch_inertia"]);
    const car::Loaded l = car::loaded(m.car);
    const double arm = l.z - (m.car.front.roll_centre_height + m.car.rear.roll_centre_height) / 2;
    m.roll_inertia = above_none(c["car"]["roll_inertia"]) + l.mass * arm * arm; // the model's is about the roll axis
    for (const End end : both_ends) {
        const Place axle = c["car"][name_of(end)];
        m.axle[end].bump_damping = m.axle[end].rebound_damping = axle["damping"].number();
        m.axle_inertia[end] = axle.number_or("roll_inertia", 0);
    }
    const std::string letter = c["road"].text();
    if (letter.size() != 1 || letter[0] < 'A' || letter[0] > 'H') c["road"].wrong("give a class from A to H");
    const car::Situation situation{.lateral_acceleration = c.number_or("lateral_acceleration", 0)};
    const car::State settled = car::settle(m.car, situation);
    if (!settled.converged)
        throw BadInput(c.path, "no equilibrium was found", "the car tips over or its data contradict");
    const double speed = c["speed"].number();
    if (!(speed >= 0.1 && speed <= 150)) c["speed"].wrong("give 0.1 to 150 m/s");
    const balance::Shaken shaken(m, situation, settled);
    const balance::Ride ride = shaken.on({balance::roughness_of(letter[0]), speed});
    const Place expected = c["expected"];
    expected.only({"load_spread_N", "heave_acceleration", "pitch_acceleration", "roll_acceleration",
                   "natural_frequency_Hz", "damping_ratio", "share_on_stops"});
    std::vector<Compared> out;
    const auto add = [&](const std::string& figure, const char* unit, double computed, const Place& wanted,
                         double share, double least = 0) {
        out.push_back({figure, unit, computed, wanted.number(), std::max(share * std::abs(wanted.number()), least)});
    };
    // An equivalent linear sum of stops is nearer than 6 %; shares of the time than 0.06.
    const bool stops = expected.has("share_on_stops");
    const double within = stops ? 0.06 : 0.005;
    for (std::size_t w = 0; w < 4 && stops; ++w)
        add(std::string("share of the time on stops, ") + car::wheel_names[w], "", ride.on_stops[w],
            expected["share_on_stops"][w], 0, 0.06);
    for (std::size_t w = 0; w < 4 && expected.has("load_spread_N"); ++w)
        add(std::string("spread of load, ") + car::wheel_names[w], "N", ride.load[w], expected["load_spread_N"][w],
            within);
    for (const auto& [key, unit, value] : {std::tuple{"heave_acceleration", "m/s²", ride.heave},
                                           {"pitch_acceleration", "rad/s²", ride.pitch},
                                           {"roll_acceleration", "rad/s²", ride.roll}})
        if (expected.has(key)) add(key, unit, value, expected[key], within);
    const std::vector<balance::Shake> shakes = shaken.shakes();
    for (std::size_t i = 0; i < shakes.size(); ++i) {
        const std::string which = "motion " + std::to_string(i + 1);
        if (expected.has("natural_frequency_Hz"))
            add(which + ", frequency", "Hz", shakes[i].frequency, expected["natural_frequency_Hz"][i], 0.001);
        if (expected.has("damping_ratio"))
            add(which + ", damping", "", shakes[i].damping, expected["damping_ratio"][i], 0, 0.002);
    }
    return out;
}

/// A tyre whose load swings about its mean, by one frequency or by several.
std::vector<Compared> check_rough(const Place& c) {
    c.only({"name", "tyre", "narrow", "two_bands"});
    balance::Tyre tyre;
    tyre.camber_loss = 0;
    c["tyre"].only({"nominal_load", "grip", "grip_fall", "stiffness", "stiffness_load", "relaxation"});
    for (const auto& [key, value] : {std::pair{"nominal_load", &tyre.nominal_load},
                                     {"grip", &tyre.grip},
                                     {"grip_fall", &tyre.grip_fall},
                                     {"stiffness", &tyre.stiffness},
                                     {"stiffness_load", &tyre.stiffness_load},
                                     {"relaxation", &tyre.relaxation}})
        *value = above_none(c["tyre"][key]);
    std::vector<Compared> out;
    const auto compare = [&](const Place& swings, std::span<const Place> parts, const std::string& which) {
        const double mean = above_none(swings["load_N"]), speed = above_none(swings["speed_m_per_s"]);
        const double lags = balance::relaxation_at(tyre, {}, mean);
        double variance = 0, followed = 0;
        for (const Place& part : parts) {
            const double of_it = std::pow(above_none(part["load_spread_N"]), 2),
                         behind = 2 * units::pi * above_none(part["frequency_hz"]) * lags / speed;
            variance += of_it;
            followed += of_it / (1 + behind * behind);
        }
        const balance::WheelLoad load{mean, balance::load_swing(variance, followed, lags)};
        const Place slips = swings["slip_deg"];
        for (std::size_t i = 0; i < slips.size(); ++i) {
            const double slip = slips[i].number() * units::deg,
                         steady = balance::lateral_force(tyre, {}, mean, slip, 0);
            const std::string where = which + ", slip " + units::fixed(slips[i].number(), 1) + "°: ";
            if (swings.has("steady_N"))
                out.push_back({where + "steady", "N", steady, swings["steady_N"][i].number(), 0.0002 * steady});
            out.push_back({where + "mean", "N", balance::lateral_force(tyre, {}, load, slip, 0),
                           swings["mean_N"][i].number(), 0.02 * steady});
        }
    };
    for (std::size_t i = 0; i < c["narrow"].size(); ++i) {
        const Place one = c["narrow"][i];
        one.only({"load_N", "load_spread_N", "frequency_hz", "speed_m_per_s", "slip_deg", "steady_N", "mean_N"});
        compare(one, std::span(&one, 1), "swing " + std::to_string(i + 1));
    }
    if (c.has("two_bands")) {
        const Place both = c["two_bands"];
        both.only({"load_N", "parts", "speed_m_per_s", "slip_deg", "mean_N", "standard_error_N"});
        std::vector<Place> parts;
        for (std::size_t i = 0; i < both["parts"].size(); ++i) parts.push_back(both["parts"][i]);
        compare(both, parts, "two bands");
    }
    return out;
}

Diagonal read_raised(const Place& raised) {
    std::set<std::string> wheels;
    for (std::size_t i = 0; i < raised.size(); ++i) wheels.insert(raised[i].text());
    if (wheels == std::set<std::string>{"front_left", "rear_right"}) return Diagonal::FrontLeftRearRight;
    if (wheels == std::set<std::string>{"front_right", "rear_left"}) return Diagonal::FrontRightRearLeft;
    raised.wrong("give the two wheels of a diagonal");
}

std::vector<Compared> check_car(const Place& c) {
    c.only({"name", "car", "lateral_acceleration", "wheel_heights", "raised", "expected"});
    const car::Car car = read_car(c["car"]);
    const Place expected = c["expected"];
    std::vector<Compared> out;
    car::State s;
    if (c.has("raised")) {
        const flex::Ascent ascent = flex::climb(car, {.raised = read_raised(c["raised"]), .highest = 3});
        s = ascent.state;
        if (expected.has("lift_height_mm"))
            out.push_back({"lift height", "mm", ascent.height / mm, expected["lift_height_mm"].number(), 0.2});
    } else {
        car::Situation situation;
        situation.lateral_acceleration = c.number_or("lateral_acceleration", 0);
        if (c.has("wheel_heights"))
            for (std::size_t w = 0; w < 4; ++w) situation.wheel_height[w] = c["wheel_heights"][w].number();
        s = settle(car, situation);
    }
    if (!s.converged) throw BadInput(c.path, "no equilibrium was found", "the car tips over or its data contradict");
    expected.only({"roll_front_deg", "roll_rear_deg", "pitch_deg", "heave_mm", "front_load_N", "rear_load_N",
                   "front_gap_mm", "rear_gap_mm", "front_travel_mm", "rear_travel_mm", "front_share_of_load_transfer",
                   "lift_height_mm"});
    const auto add = [&](const char* key, const char* figure, const char* unit, double computed, double tolerance) {
        if (expected.has(key)) out.push_back({figure, unit, computed, expected[key].number(), tolerance});
    };
    add("roll_front_deg", "roll, front", "°", s.roll[0] / units::deg, 0.01);
    add("roll_rear_deg", "roll, rear", "°", s.roll[1] / units::deg, 0.01);
    add("pitch_deg", "pitch", "°", s.pitch / units::deg, 0.01);
    add("heave_mm", "heave", "mm", s.heave / mm, 0.1);
    add("front_share_of_load_transfer", "front share", "", car::front_share_of_load_transfer(car, s), 0.001);
    const auto pair = [&](const char* key, std::size_t first, const char* what, const char* unit, double tolerance,
                          auto&& value) {
        if (!expected.has(key)) return;
        for (std::size_t side = 0; side < 2; ++side)
            out.push_back({std::string(what) + ", " + car::wheel_names[first + side], unit,
                           value(s.wheels[first + side]), expected[key][side].number(), tolerance});
    };
    const auto load = [](const car::Wheel& w) { return w.load; };
    const auto gap = [](const car::Wheel& w) { return w.gap / mm; };
    const auto travel = [](const car::Wheel& w) { return w.travel / mm; };
    pair("front_load_N", 0, "load", "N", 5, load);
    pair("rear_load_N", 2, "load", "N", 5, load);
    pair("front_gap_mm", 0, "gap", "mm", 0.1, gap);
    pair("rear_gap_mm", 2, "gap", "mm", 0.1, gap);
    pair("front_travel_mm", 0, "travel", "mm", 0.1, travel);
    pair("rear_travel_mm", 2, "travel", "mm", 0.1, travel);
    return out;
}
} // namespace

double Compared::deviation() const {
    const double d = std::abs(computed - expected);
    return std::isnan(d) ? std::numeric_limits<double>::infinity() : d;
}

std::vector<CheckedCase> check_reference(const nlohmann::json& file) {
    const Place root{file, ""};
    if (!file.is_object() || !file.contains("cases"))
        throw BadInput("cases", "missing", "a reference file holds a list of cases");
    const Place cases{file.at("cases"), "cases"};
    if (cases.size() == 0) throw BadInput("cases", "an empty list", "give at least one case");
    std::vector<CheckedCase> out;
    for (std::size_t i = 0; i < cases.size(); ++i) {
        const Place c = cases[i];
        std::vector<Compared> figures;
        try {
            if (c.has("narrow"))
                figures = check_rough(c);
            else if (c.has("road"))
                figures = check_ride(c);
            else if (c.has("car") && c["car"].has("front") && c["car"]["front"].has("tyre"))
                figures = check_corner(c);
            else if (c.has("car"))
                figures = check_car(c);
            else if (c.has("segments"))
                figures = check_bar(c);
            else if (c.has("right_eye"))
                figures = check_large(c);
            else if (c.has("links"))
                figures = check_links(c);
            else
                throw BadInput(
                    c.path, "a format this version cannot compute",
                    "give bars with segments, with right_eye or with links, cars, cars on a road, or tyres on one");
        } catch (const BadInput& e) {
            throw e.where().starts_with(c.path) ? e : e.within(c.path);
        }
        if (figures.empty())
            throw BadInput(c.path + "/expected", "nothing to compare with", "give at least one expected figure");
        out.push_back({c.has("name") ? c["name"].text() : c.path, std::move(figures)});
    }
    return out;
}

} // namespace dervish::store
