#pragma once
#include <array>
#include <cstddef>
#include <functional>

/// The words and shapes that the document and the solvers share.
namespace dervish {

/// The ends of a car.
enum class End { Front, Rear };
inline constexpr std::array both_ends{End::Front, End::Rear};
constexpr std::size_t index(End end) { return static_cast<std::size_t>(end); }
constexpr End other(End end) { return end == End::Front ? End::Rear : End::Front; }
constexpr const char* name_of(End end) { return end == End::Front ? "front" : "rear"; }
/// One thing for each side of an axle or bar: left, right.
template <class T> using PerSide = std::array<T, 2>;
/// One thing for each wheel: front left, front right, rear left, rear right.
template <class T> using PerWheel = std::array<T, 4>;
/// A wheel's place among the four. `side`: 0 left, 1 right.
constexpr std::size_t wheel_at(End end, std::size_t side) { return 2 * index(end) + side; }
constexpr End end_of(std::size_t wheel) { return wheel < 2 ? End::Front : End::Rear; }

/// One thing for each axle. Example: vehicle[End::Rear].track is vehicle.rear.track.
template <class T> struct PerAxle {
    T front, rear;
    T& operator[](End end) { return end == End::Front ? front : rear; }
    const T& operator[](End end) const { return end == End::Front ? front : rear; }
    T& operator[](std::size_t end) { return end == 0 ? front : rear; } ///< by the place in both_ends
    const T& operator[](std::size_t end) const { return end == 0 ? front : rear; }
    /// To go through: for (Axle& axle : vehicle.both()).
    std::array<std::reference_wrapper<T>, 2> both() { return {front, rear}; }
    std::array<std::reference_wrapper<const T>, 2> both() const { return {front, rear}; }
    bool operator==(const PerAxle&) const = default;
};

enum class AxleKind { Independent, Solid };
enum class Differential { Open, Limited, Locked };

/// What a step of a walk along a bar ends at, or what sits on a point of it.
enum class Mark { Bend, Eye, End };

/// How a joint's stud lies: along the bar, or along the arm (at the pick-up: along the car).
enum class Stud { Sideways, Lengthways };

/// The kinds of ground that a car is judged on, in the order in which they are told.
enum class Ground { Dry, DryPatched, Wet, WetPatched, Gravel, Washboard, Mud, Snow, Kerbs };
inline constexpr std::array all_grounds{Ground::Dry,        Ground::DryPatched, Ground::Wet,
                                        Ground::WetPatched, Ground::Gravel,     Ground::Washboard,
                                        Ground::Mud,        Ground::Snow,       Ground::Kerbs};
constexpr std::size_t index(Ground ground) { return static_cast<std::size_t>(ground); }
constexpr const char* name_of(Ground ground) {
    constexpr const char* names[] = {"dry",       "dry patched", "wet",  "wet patched", "gravel",
                                     "washboard", "mud",         "snow", "race kerbs"};
    return names[index(ground)];
}
/// One thing for each. Example: vehicle.grounds[Ground::Wet].grip.
template <class T> struct PerGround : std::array<T, all_grounds.size()> {
    using std::array<T, all_grounds.size()>::operator[];
    T& operator[](Ground ground) { return (*this)[index(ground)]; }
    const T& operator[](Ground ground) const { return (*this)[index(ground)]; }
};

/// The wheels of a diagonal that rise, or sink.
enum class Diagonal { FrontLeftRearRight, FrontRightRearLeft };

} // namespace dervish
