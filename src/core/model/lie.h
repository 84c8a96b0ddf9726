#pragma once
#include "core/model/model.h"

/// How a bar of the job lies on its car; what model.cpp and ends.cpp share, not for their users.
namespace dervish::model {
using namespace job;

/// The core's names for what may be wrong, as paths in an assembly.
BadInput in_assembly(const Assembly& a, const BadInput& e);

template <class F> auto told_in_assembly(const Assembly& a, F&& f) {
    try {
        return f();
    } catch (const BadInput& e) {
        throw in_assembly(a, e);
    }
}

/// The bar as measured. Throws BadInput in the core's names, as all below do.
bar::Laid lay_out(const Assembly& a);

/// The point of an eye; throws BadInput at `which` when the arm has no such eye.
std::size_t eye_at(const std::vector<std::size_t>& eyes, int eye, const char* which);

/// From an eye to the link's other end at ride height, where that follows from the bar as it lies.
Eigen::Vector3d under_eye(const Assembly& a, bool left);

/// The bar's axis, eyes and pick-ups, left and right. Turns about the axis, which runs to the left, carry the arms'
/// ends of both sides alike.
struct Lie {
    PerSide<Eigen::Vector3d> axis, eye, pickup;
    Eigen::Vector3d middle; ///< where the axis crosses the car's middle
    bool moved = false;     ///< the pick-ups are not where the bar was laid out to meet them
};
Lie lie_of(const Assembly& a, const bar::Laid& laid);
/// With the pick-ups where they are on the car as it stands, lifted or not.
Lie lie_where_it_stands(const AxleSetup& a, const AxleData& axle, const bar::Laid& laid);

/// A place measured from the bar's axis at the car's middle.
Eigen::Vector3d placed(const Eigen::Vector3d& middle, const Spot& s, bool left);

/// One end at ride height, its pick-up's path not yet known.
linkage::BarEnd still_end(const Assembly& a, const Lie& lie, std::size_t end);

/// How the whole bar lies turned from its layout at ride height: the mean of its two arms.
double turn_at_rest(const Assembly& a, const Lie& lie);

/// Of a link, along it, N/m.
double rod_rate(const bar::Link& link);

} // namespace dervish::model
