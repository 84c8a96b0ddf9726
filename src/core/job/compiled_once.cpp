#include "core/job/job.h"

#define DERVISH_VALUE_COMPILED_HERE(T)                                                                                 \
    DERVISH_COMPILED_HERE(T);                                                                                          \
    bool T::operator==(const T&) const = default

namespace dervish::job {
DERVISH_VALUE_COMPILED_HERE(BarData);
DERVISH_VALUE_COMPILED_HERE(Assembly);
DERVISH_VALUE_COMPILED_HERE(AxleSetup);
DERVISH_VALUE_COMPILED_HERE(Setup);
DERVISH_VALUE_COMPILED_HERE(Spares);
DERVISH_VALUE_COMPILED_HERE(AxleData);
DERVISH_VALUE_COMPILED_HERE(Vehicle);
DERVISH_VALUE_COMPILED_HERE(Run);
DERVISH_VALUE_COMPILED_HERE(PlannedTest);
DERVISH_VALUE_COMPILED_HERE(Job);
} // namespace dervish::job
