#pragma once
#include "core/balance/transient.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/proof/protocol.h"

/// What the protocols' answers are made of. docs/model.md, "Tests".
namespace dervish::proof {

/// The answers of a resolved car: f(asked, car, state), `state` a copy of `begin` that lives as long as the answers:
/// where the first car's solution is kept for those near it.
template <class State, class F> Answers of_car(State begin, F f) {
    return [cars = Cars(), state = std::move(begin), f](const Asked& asked) mutable {
        return f(asked, stuck(cars.with(asked.vehicle, asked.setup, asked.bar_scale), asked.stuck), state);
    };
}
template <class F> Answers of_car(F f) {
    return of_car(0, [f](const Asked& asked, const car::Car& car, int&) { return f(asked, car); });
}

inline constexpr const char* end_words[] = {"front", "rear"};
inline constexpr const char* wheel_words[] = {"front left", "front right", "rear left", "rear right"};
inline Setting end_setting() {
    return {{"end", "Axle", units::Quantity::Number, Tool::Test, 0, 1}, 0, {end_words[0], end_words[1]}};
}
inline Setting wheel_setting(const char* label, double usual) {
    return {{"wheel", label, units::Quantity::Number, Tool::Test, 0, 3},
            usual,
            {wheel_words[0], wheel_words[1], wheel_words[2], wheel_words[3]}};
}
inline Setting raised_setting(const char* label) {
    return {{"raised", label, units::Quantity::Number, Tool::Test, 0, 1},
            0,
            {"front left + rear right", "front right + rear left"}};
}
Setting ground_setting();
inline End end_of_setting(const Settings& s) { return s.at("end") < 0.5 ? End::Front : End::Rear; }
inline Ground ground_of(const Settings& s) { return static_cast<Ground>(static_cast<int>(s.at("ground"))); }
inline Diagonal raised_of(const Settings& s) { return static_cast<Diagonal>(static_cast<int>(s.at("raised"))); }
inline int wheel_of(const Settings& s) { return static_cast<int>(s.at("wheel")); }

/// Each wheel's travel from ride height as a channel, read by a tape.
std::vector<Channel> with_travels(std::vector<Channel> first);
/// Gone on from `first` by each wheel's travel.
std::vector<double> with_travels(std::vector<double> first, const car::State& at);

/// The body's lean, rad, right side down; NaN where the car does not stand.
double lean_of(const car::State& state);
/// Less what it has at rest.
double more_lean(const car::Car& car, const car::State& at);
/// The most of a run; NaN where the car did not stay on its wheels and tyres.
double most_lean(const balance::Run& run);

/// Inputs of tyres, dampers, inertias and the ground that is set, beside those of the tally.
bool bears_on_drives(const Settings& settings, const std::string& path);

/// Up to the height at which a wheel goes light, of a car and of others near it.
struct Climbs {
    flex::Protocol protocol;
    std::optional<flex::Ascent> first{};
    flex::Ascent of(const car::Car& car);
};

/// The reach at which a wheel goes light, then each wheel's travel there; and that wheel.
Answers reach_and_travels(const flex::Protocol& protocol);
std::function<int(const Snapshot&, const Settings&)>
light_wheel_of(std::function<flex::Protocol(const Settings&)> protocol);

inline constexpr const char* ramp_caution =
    "Firm level ground, ramps that cannot slip, low gear, one person guiding. Nobody under or beside the car while it "
    "is up. Stop when a tyre, hose or link touches. A disconnected link must be tied up or taken off.";
inline constexpr const char* course_caution =
    "A closed course, within the driver's skill, never a public road for this. A tall or loaded car may tip before it "
    "slides: see Balance first.";

/// A course between cones that fixes how long each wave of steering is and how far the car goes aside: what it asks
/// sideways grows with the square of the speed.
struct Course {
    balance::Manoeuvre manoeuvre;
    double length; ///< of the whole wave, of two gates of a slalom, of each bend, m
    double aside;  ///< of the lane, of a slalom's line to each side; of an S-bend its radius, m
    balance::Drive at(double speed) const;
};
/// Clean: the course asks no more sideways than the car holds in a steady bend, neither axle uses more than this share
/// of its grip on the way (its wheels' by their loads), and the car stays on its wheels. Beyond it a driver has nothing
/// left to hold the line with.
inline constexpr double clean_use = 0.97;
/// The highest entry speed at which the course is still clean, m/s, from walking pace to 70 m/s; NaN where not even
/// that is. Of a car and of others near it.
class CleanSpeeds {
public:
    explicit CleanSpeeds(const Course& course) : course_(course) {}
    /// `part` below 1: to first order from the first car's; nothing where that says nothing of the whole.
    std::optional<double> of(const balance::Model& model, double part);

private:
    struct Tried {
        double spare; ///< of grip, the less of both
        bool kept;    ///< it stayed on its wheels and tyres
        double whole() const { return kept ? spare : std::min(spare, -0.03); }
    };
    Tried at(double speed, double limit, const std::function<balance::Run(const balance::Drive&)>& drive) const;
    double search(const balance::Model& model);
    Course course_;
    balance::DriveNear near_;                  ///< a little slower than the first car's speed
    std::optional<balance::Limit> limit_;      ///< of the first car in a steady bend
    double first_ = 0, spare_ = 0, slope_ = 0; ///< of the first car: speed, to spare there, and its change with speed
};

/// A course's highest clean speed, and the lean at one that is set.
struct CleanAndLean {
    CleanSpeeds clean;
    balance::DriveNear lean{};
};

} // namespace dervish::proof
