#pragma once
#include "core/linkage/limits.h"
#include "core/model/model.h"
#include "core/num/once.h"

/// The car with its bars at work.
namespace dervish::model {
using namespace job;

/// What the outcomes of one axle's bar follow from.
struct BarSums {
    Eigen::Matrix2d eyes = Eigen::Matrix2d::Zero(), links = Eigen::Matrix2d::Zero(); ///< N/m
    double stress = 0;    ///< worst, for the links' far ends moved a metre each way from rest, Pa/m
    double gear = 0;      ///< link_per_wheel()
    double in_bushes = 0; ///< of the energy of opposite travel, the share in mounts and links' joints
    // Of a bar that is held by links:
    std::optional<linkage::Law> law;
    linkage::Room room;                    ///< how far its links go
    std::optional<linkage::Margin> margin; ///< tightest of its links' angles
};
BarSums bar_sums(const bar::Solution& solution, const AxleSetup& assembly, const AxleData& axle);

/// What of a bar acts on its axle, its stiffness times `scale`; nothing while it is not connected.
Acting acting(const Assembly& assembly, const BarSums& sums, double scale = 1);

/// The car with each roll centre where the body stands by what it carries: it moves with the body's rise. As it is
/// where the car does not stand.
car::Car seated(car::Car car, const Vehicle& vehicle);

/// The car alone, for protocols: with `setup`'s bars where they are connected, but those of the ends `left_out`.
/// `bar_scale` multiplies both bars' K.
car::Car car_with(const Vehicle& vehicle, const Setup& setup, double bar_scale = 1,
                  const PerAxle<bool>& left_out = {false, false});

/// Cars again and again, each slightly different from the first: what of a bar and its links did not change is not
/// worked out again.
class Cars {
public:
    DERVISH_COMPILED_ONCE(Cars);
    /// `near`: for a derivative, so that of the links' angles only the first car's tightest is looked at.
    car::Car with(const Vehicle& vehicle, const Setup& setup, double bar_scale = 1, bool near = false);
    const BarSums& sums(End end) const; ///< of the last car

private:
    const BarSums& sums(End end, const AxleSetup& assembly, const AxleData& axle, bool near);
    struct Known {
        AxleSetup setup;
        AxleData axle;
        bar::Solution solution;
        BarSums sums;
        bool near; ///< its margin is that
    };
    PerAxle<std::optional<Known>> first_, last_; ///< the last one where it is not as the first
    PerAxle<bool> as_first_{};
};

} // namespace dervish::model
