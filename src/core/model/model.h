#pragma once
#include "core/bar/frame.h"
#include "core/bar/textbook.h"
#include "core/bar/travel.h"
#include "core/bar/walk.h"
#include "core/car/car.h"
#include "core/job/job.h"
#include "core/linkage/law.h"

/// From what was measured to what is computed: the job's parts as values of bar:: and car::.
namespace dervish::model {
using namespace job;

/// The bar's centreline with its mounts and eyes, however it was measured. Throws BadInput with the path inside the
/// assembly ("bar/walk/2/radius").
bar::Laid to_laid(const Assembly& assembly);

/// The bar of an assembly as the steps of a walk, and as points: what is laid now, with sizes of the usual spread of
/// their source, to go on from. Throw BadInput as to_laid().
std::vector<StepData> walk_of(const Assembly& assembly);
std::vector<PointData> points_of(const Assembly& assembly);

/// Pick-ups that lie under the eyes at places of their own, guesses to 10 mm: they stay there whatever is tried. Throws
/// BadInput as to_laid().
void place_pickups(Assembly& assembly);

/// The bar of an assembly with links in their direction at ride height. Throws BadInput with the path inside the
/// assembly ("bar/wall").
bar::Bar to_bar(const Assembly& assembly);
/// The same where the car stands, lifted or not; "stand/lift" where its linkage does not go that far.
bar::Bar to_bar(const AxleSetup& assembly, const AxleData& axle);

/// The bar of an assembly solved; throws BadInput as to_bar().
bar::Solution solve(const Assembly& assembly);
bar::Solution solve(const AxleSetup& assembly, const AxleData& axle, double longest = 1e9);

/// The links, or the trailing arms of a clamped bar, as large travel takes them.
bar::Pull to_pull(const AxleSetup& assembly, const AxleData& axle, const bar::Bar& bar);

/// The bar as the hand formulas see it, with the left eye's arm: a plain U of the same width and arm.
bar::PlainU to_plain_u(const Assembly& assembly, const bar::Laid& laid);

/// From the mounts' axis to an eye, square to it, m. For clamped bars the trailing arm to the wheel.
double arm_to(const Assembly& assembly, const bar::Laid& laid, bool left, int eye);

/// The two ends of the bar, left and right, with their links and the paths of their pick-ups, from the bar's axis at
/// the car's middle. Throws BadInput with the path inside the assembly.
PerSide<linkage::BarEnd> to_ends(const AxleSetup& assembly, const AxleData& axle);

/// The bar through its links as the axle feels it; `scale` is of the bar's stiffness. Its small travel is the
/// solution's K along the links. Throws BadInput inside the assembly ("links/length") where a link does not reach.
linkage::Law to_law(const AxleSetup& assembly, const AxleData& axle, const bar::Solution& solution, double scale = 1);
/// The same of ends that are known: to_ends(assembly, axle).
linkage::Law to_law(const Assembly& assembly, const PerSide<linkage::BarEnd>& ends, const bar::Solution& solution,
                    double scale = 1);

/// What acts on an axle: a bar through its links, or a plain stiffness (car::Axle::bar). Neither: no bar.
struct Acting {
    Eigen::Matrix2d plain = Eigen::Matrix2d::Zero();
    double base = 0; ///< that the plain one has between its ends, m
    std::optional<linkage::Law> linkage;
    double in_bushes = 0; ///< of its energy
};

/// The car with what a setup has on it, its tyres at their pressures (an axle's two share one vertical rate, that of
/// their mean pressure) and its loads aboard; of its bars what is given.
car::Car to_car(const Vehicle& vehicle, const Setup& setup, const PerAxle<Acting>& bars = {});

/// Travel along the links per wheel travel at ride height, wheels opposite: of a clamped bar's arms 1. The quoted
/// motion ratio; on a solid axle the links' lever over half the track, which is where the links are.
double link_per_wheel(const AxleSetup& assembly, const AxleData& axle);
/// Between the ends of a bar clamped to its arms, m.
double clamped_base(const Assembly& assembly);
double gear(const PerSide<linkage::BarEnd>& ends);

/// From the bar's rate at the links to roll stiffness of the body on the axle, m²: K_φ = k × this = k (t/2)² 2 ratio².
double roll_lever(const AxleSetup& assembly, const AxleData& axle);

/// Travel along the links (left, right) when the body leans by `roll`, right side down, m.
Eigen::Vector2d link_travel(const AxleSetup& assembly, const AxleData& axle, double roll);

} // namespace dervish::model
