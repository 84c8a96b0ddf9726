#pragma once
#include <array>

/// The words and shapes that the document and the solvers share.
namespace dervish {

enum class AxleKind { Independent, Solid };
enum class Differential { Open, Limited, Locked };

/// What a step of a walk along a bar ends at, or what sits on a point of it.
enum class Mark { Bend, Eye, End };

/// How a joint's stud lies: along the bar, or along the arm (at the pick-up: along the car).
enum class Stud { Sideways, Lengthways };

/// The wheels of a diagonal that rise, or sink.
enum class Diagonal { FrontLeftRearRight, FrontRightRearLeft };

} // namespace dervish
